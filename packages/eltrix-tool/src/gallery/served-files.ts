/** Which files the bundler's server may give out: it follows links, and knows nothing of hidden files. */
import { existsSync, realpathSync } from 'node:fs';
import { join, relative, sep } from 'node:path';
import { isHidden } from '../serving/project-files.ts';

/**
 * @param path as it was asked for, decoded, without its first slash.
 * @param folders what may be served, absolute: the project's first.
 * @param isModule whether a file is a module that a module of the project imports, which may stand elsewhere.
 */
export function mayServe(path: string, folders: readonly string[], isModule: (file: string) => boolean): boolean {
  const [root] = folders;
  const isAbsolute = path.startsWith('@fs/');
  const given = isAbsolute ? [path.slice('@fs'.length)] : [join(root!, path), join(root!, 'public', path)];
  const found = given.filter(file => existsSync(file));
  // What is no file is made by the bundler, under its own name.
  if (found.length === 0) return !isAbsolute && !isHidden(path);
  return found.every(file => {
    const real = realpathSync(file);
    const folder = folders.map(realOr).find(folder => real === folder || real.startsWith(folder + sep));
    return folder === undefined ? isModule(real) : !isHidden(relative(folder, real));
  });
}

const realOr = (folder: string) => (existsSync(folder) ? realpathSync(folder) : folder);
