/** Reports each saved file once, also where the watcher reports it twice or not at all. */
import { createHash } from 'node:crypto';
import { readFileSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';

interface Watcher {
  on(event: 'all', listener: (event: string, path: string) => void): unknown;
  once(event: 'ready', listener: () => void): unknown;
}

/** Within this time of one change the watcher leaves out all others of a file, in milliseconds. */
const blind = 50;

/** For so long nothing stands in a file that is being written, in milliseconds. */
const writing = 20;

/** Resolves when the watcher notices changes. It ignores those that come soon after it found a file. */
export async function begun(watcher: Watcher): Promise<void> {
  await new Promise<void>(resolve => watcher.once('ready', resolve));
  await pause(blind + 10);
}

/** What editors put down for a moment beside what they save. */
const passing = /(?:^|[\\/])[^.\\/]*$|~$|\.(?:tmp|bak|sw[a-z])$/;

/**
 * Reports each file that is added, removed or changed; paths are absolute. A watcher (chokidar) leaves out what is saved
 * within 50 ms of what it reported, as by an editor that formats after it saved, so files are looked at again then; a
 * slow machine may report one save twice, so what stands in them is compared.
 */
export function onChanges(watcher: Watcher, root: string, report: (event: string, path: string) => void): void {
  /** The texts of files when they were last reported. */
  const contents = new Map<string, string>();
  const looks = new Map<string, ReturnType<typeof setTimeout>>();
  const later = (path: string, milliseconds: number, look: () => void) => {
    looks.set(path, setTimeout(look, milliseconds).unref());
  };
  const heard = (event: string, path: string, mayBeEmpty = false) => {
    clearTimeout(looks.get(path));
    looks.delete(path);
    if (event !== 'add' && event !== 'change') {
      contents.delete(path);
      report(event, path);
      return;
    }
    const content = contentOf(path);
    // Its removal is reported separately.
    if (content === undefined) return;
    if (content === '' && !mayBeEmpty) return later(path, writing, () => heard(event, path, true));
    later(path, blind + 10, () => {
      if (contentOf(path) !== contents.get(path)) heard('change', path);
    });
    if (event === 'change' && contents.get(path) === content) return;
    contents.set(path, content);
    report(event, path);
  };
  watcher.on('all', (event, path) => {
    if (event.endsWith('Dir') || !passing.test(path)) heard(event, resolve(root, path));
  });
}

/** A digest of what stands in a file, or its size and time if that is much; undefined if it has gone. */
function contentOf(path: string): string | undefined {
  try {
    const { size, mtimeMs } = statSync(path);
    if (size === 0) return '';
    return size > 1e6 ? `${size} ${mtimeMs}` : createHash('sha1').update(readFileSync(path)).digest('base64');
  } catch {
    return undefined;
  }
}
