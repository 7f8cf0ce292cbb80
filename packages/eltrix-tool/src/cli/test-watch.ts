import { relative } from 'node:path';
import { watch } from 'chokidar';
import { begun, onChanges } from '../project/changes.ts';

/** The absolute paths of files that were saved together, and whether each was added or removed. */
export type ChangedFiles = ReadonlyMap<string, boolean>;

/**
 * Calls a function with saved files. Resolves when it has started.
 * @param out the output folder, relative to the root.
 */
export async function watchSources(root: string, out: string, onSaved: (changed: ChangedFiles) => void): Promise<void> {
  const watcher = watch(root, {
    ignoreInitial: true,
    ignored: path =>
      relative(root, path) === out ||
      /[\\/](?:node_modules|\.git|dist|coverage)(?:[\\/]|$)/.test(relative(root, path) && `/${relative(root, path)}`),
  });
  let changed = new Map<string, boolean>();
  let timer: ReturnType<typeof setTimeout> | undefined;
  onChanges(watcher, root, (event, path) => {
    changed.set(path, event !== 'change' || changed.get(path) === true);
    clearTimeout(timer);
    timer = setTimeout(() => {
      const saved = changed;
      changed = new Map();
      onSaved(saved);
    }, 15);
  });
  await begun(watcher);
}
