/** What was saved, also where the watcher does not tell of it. */
import { statSync } from 'node:fs';
import { resolve } from 'node:path';

interface Watcher {
  on(event: 'all', listener: (event: string, path: string) => void): unknown;
}

/** Within this time of one change the watcher leaves out all others of a file, in milliseconds. */
const blind = 50;

/** What editors put down for a moment beside what they save. */
const passing = /(?:^|[\\/])[^.\\/]*$|~$|\.(?:tmp|bak|sw[a-z])$/;

/**
 * Tells of each file that comes, goes or changes; paths are absolute. A watcher (chokidar) leaves out what is saved
 * within 50 ms of what it told of, as by an editor that formats after it saved, so files are looked at again then.
 */
export function onChanges(watcher: Watcher, root: string, tell: (event: string, path: string) => void): void {
  const looks = new Map<string, ReturnType<typeof setTimeout>>();
  const heard = (event: string, path: string) => {
    clearTimeout(looks.get(path));
    looks.delete(path);
    if (event === 'add' || event === 'change') {
      const state = stateOf(path);
      const look = () => {
        looks.delete(path);
        if (state !== undefined && stateOf(path) !== state) heard('change', path);
      };
      looks.set(path, setTimeout(look, blind + 10).unref());
    }
    tell(event, path);
  };
  watcher.on('all', (event, path) => {
    if (event.endsWith('Dir') || !passing.test(path)) heard(event, resolve(root, path));
  });
}

/** Undefined for a file that has gone. */
function stateOf(path: string): string | undefined {
  const found = statSync(path, { throwIfNoEntry: false, bigint: true });
  return found && `${found.mtimeNs} ${found.size} ${found.ino}`;
}
