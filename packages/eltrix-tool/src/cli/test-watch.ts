import { relative } from 'node:path';
import { watch } from 'chokidar';
import { begun, onChanges } from '../project/changes.ts';

/** Calls a function with the absolute path of each saved source. Resolves when it has started. */
export async function watchSources(root: string, onChange: (path: string) => void): Promise<void> {
  const watcher = watch(root, {
    ignoreInitial: true,
    ignored: path =>
      /[\\/](?:node_modules|\.git|dist|coverage)(?:[\\/]|$)/.test(relative(root, path) && `/${relative(root, path)}`),
  });
  onChanges(watcher, root, (_, path) => onChange(path));
  await begun(watcher);
}
