/**
 * What was seen of a folder of sources, for as long as nobody says that it has changed: a watched build is told what has,
 * and need not look for the rest. Until `lookAgain` is called, and outside that folder, everything is looked at anew.
 */
import { readFileSync } from 'node:fs';
import { resolve, sep } from 'node:path';
import { globSync } from 'tinyglobby';

let folder: string | undefined;
const texts = new Map<string, string>();
const lists = new Map<string, readonly string[]>();

/**
 * @param source the folder, absolute.
 * @param changed all files that were changed since the last time, if none has come or gone.
 */
export function lookAgain(source: string, changed?: ReadonlySet<string>): void {
  if (!changed || folder !== source) {
    texts.clear();
    lists.clear();
  }
  for (const path of changed ?? []) texts.delete(path);
  folder = source;
}

const isInside = (path: string) => folder !== undefined && (path === folder || path.startsWith(folder + sep));

/** The text of a file, by its absolute path. */
export function textOf(path: string): string {
  let text = texts.get(path);
  if (text === undefined) {
    text = readFileSync(path, 'utf8');
    if (isInside(path)) texts.set(path, text);
  }
  return text;
}

/** The files below a folder, from a root, in the order of their names. */
export function filesBelow(root: string, below: string, pattern: string, ignore: readonly string[]): readonly string[] {
  const key = [root, below, pattern, ...ignore].join('\n');
  let list = lists.get(key);
  if (!list) {
    list = globSync([`${below}/${pattern}`], { cwd: root, ignore: [...ignore] }).sort();
    if (isInside(resolve(root, below))) lists.set(key, list);
  }
  return list;
}
