/** Reports each saved file once, even if the watcher reports it twice or not at all. */
import { createHash } from 'node:crypto';
import { readFileSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';

interface Watcher {
  on(event: 'all', listener: (event: string, path: string) => void): unknown;
  once(event: 'ready', listener: () => void): unknown;
}

/** After a change the watcher ignores further changes of the file for this time, in milliseconds. */
const blind = 50;

/** How long a file may be empty while it is being written, in milliseconds. */
const writing = 20;

/** Resolves when the watcher is ready. It ignores changes shortly after it found a file. */
export async function begun(watcher: Watcher): Promise<void> {
  await new Promise<void>(resolve => watcher.once('ready', resolve));
  await pause(blind + 10);
}

/** Temporary files that editors write beside a saved file. */
const passing = /(?:^|[\\/])[^.\\/]*$|~$|\.(?:tmp|bak|sw[a-z])$/;

/**
 * Reports each file that is added, removed or changed, with its absolute path. The watcher (chokidar) ignores changes
 * within 50 ms of a reported one, such as those of a formatter, so files are checked again after that time. On a slow
 * machine it may report one change twice, so contents and times are compared: a file with its earlier content is
 * reported if it was saved again, since what it contained meanwhile may have been read.
 */
export function onChanges(watcher: Watcher, root: string, report: (event: string, path: string) => void): void {
  /** The files' states as last reported. */
  const states = new Map<string, string>();
  const looks = new Map<string, ReturnType<typeof setTimeout>>();
  const later = (path: string, milliseconds: number, look: () => void) => {
    looks.set(path, setTimeout(look, milliseconds).unref());
  };
  const heard = (event: string, path: string, mayBeEmpty = false) => {
    clearTimeout(looks.get(path));
    looks.delete(path);
    if (event !== 'add' && event !== 'change') {
      states.delete(path);
      report(event, path);
      return;
    }
    const state = stateOf(path);
    // A removal is reported separately.
    if (state === undefined) return;
    if (state === '' && !mayBeEmpty) return later(path, writing, () => heard(event, path, true));
    later(path, blind + 10, () => {
      if (stateOf(path) !== states.get(path)) heard('change', path);
    });
    if (event === 'change' && states.get(path) === state) return;
    states.set(path, state);
    report(event, path);
  };
  watcher.on('all', (event, path) => {
    if (event.endsWith('Dir') || !passing.test(path)) heard(event, resolve(root, path));
  });
}

/**
 * A file's size and time, with a digest of its content unless it is large, since times are a few milliseconds apart;
 * undefined if it does not exist.
 */
function stateOf(path: string): string | undefined {
  try {
    const { size, mtimeMs } = statSync(path);
    if (size === 0) return '';
    const state = `${size} ${mtimeMs}`;
    return size > 1e6 ? state : `${state} ${createHash('sha1').update(readFileSync(path)).digest('base64')}`;
  } catch {
    return undefined;
  }
}
