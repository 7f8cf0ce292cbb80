/**
 * What was seen of a folder of sources, until it changes: a watched build knows what has changed,
 * and need not look for the rest. Until `lookAgain` is called, and outside that folder, everything is read again.
 */
import { readFileSync } from 'node:fs';
import { relative, resolve, sep } from 'node:path';
import { globSync } from 'tinyglobby';
import { ToolError } from './tool-error.ts';

let folder: string | undefined;
const texts = new Map<string, string>();
const lists = new Map<string, readonly string[]>();

/** Texts that stand in an editor and are not saved. */
const typed = new Map<string, string>();

/** What an editor has of a file; undefined once it is closed. */
export function setTypedText(path: string, text: string | undefined): void {
  if (text === undefined) typed.delete(path);
  else typed.set(path, text);
}

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
  let text = typed.get(path) ?? texts.get(path);
  if (text === undefined) {
    text = decoded(path, readFileSync(path));
    if (isInside(path)) texts.set(path, text);
  }
  return text;
}

/** @throws ToolError for what is not UTF-8 text: parsers would see other letters, or nothing. */
function decoded(path: string, bytes: Buffer): string {
  const [a, b] = bytes;
  const isUtf16 = (a === 0xff && b === 0xfe) || (a === 0xfe && b === 0xff);
  if (!isUtf16 && !bytes.includes(0)) return bytes.toString('utf8').replace(/^\uFEFF/, '');
  const file = relative(process.cwd(), path).replaceAll('\\', '/');
  const what = isUtf16 ? 'is UTF-16' : 'has bytes that are no text';
  throw new ToolError('source-encoding', `This file ${what}, so it cannot be read as a source. Save it as UTF-8.`, {
    file,
  });
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
