/**
 * Caches the files of a source folder, since a watched build knows what has changed. Before the first `lookAgain`, and
 * outside that folder, everything is read again.
 */
import { readFileSync } from 'node:fs';
import { relative, resolve, sep } from 'node:path';
import { globSync } from 'tinyglobby';
import { ToolError } from './tool-error.ts';

let folder: string | undefined;
const texts = new Map<string, string>();
const lists = new Map<string, readonly string[]>();

/** The texts of unsaved files in an editor. */
const typed = new Map<string, string>();

/** Sets the unsaved text of a file; undefined once it is closed. */
export function setTypedText(path: string, text: string | undefined): void {
  if (text === undefined) typed.delete(path);
  else typed.set(path, text);
}

/**
 * @param source the folder, absolute.
 * @param changed the files that changed since the last call; undefined if files were added or removed.
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

/** The text of a file, by absolute path. */
export function textOf(path: string): string {
  let text = typed.get(path) ?? texts.get(path);
  if (text === undefined) {
    text = decoded(path, readFileSync(path));
    if (isInside(path)) texts.set(path, text);
  }
  return text;
}

/** @throws ToolError for a file that is not UTF-8: parsers would read other characters. */
function decoded(path: string, bytes: Buffer): string {
  const [a, b] = bytes;
  const isUtf16 = (a === 0xff && b === 0xfe) || (a === 0xfe && b === 0xff);
  if (!isUtf16 && !bytes.includes(0)) return bytes.toString('utf8').replace(/^\uFEFF/, '');
  const file = relative(process.cwd(), path).replaceAll('\\', '/');
  const what = isUtf16 ? 'is UTF-16' : 'contains bytes that are not UTF-8 text';
  throw new ToolError('source-encoding', `This file ${what}, so it cannot be read as a source. Save it as UTF-8.`, {
    file,
  });
}

/** The files below a folder, relative to a root, sorted by name. */
export function filesBelow(root: string, below: string, pattern: string, ignore: readonly string[]): readonly string[] {
  const key = [root, below, pattern, ...ignore].join('\n');
  let list = lists.get(key);
  if (!list) {
    list = globSync([`${below}/${pattern}`], { cwd: root, ignore: [...ignore] }).sort();
    if (isInside(resolve(root, below))) lists.set(key, list);
  }
  return list;
}
