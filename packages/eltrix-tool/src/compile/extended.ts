/** Which classes of a project others are made from, as far as its text tells: a name too many does no harm. */
import { existsSync, readFileSync, statSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { globSync } from 'tinyglobby';

/** The names in one file, and whether it extends what it imports as a default. */
interface Found {
  readonly time: number;
  readonly names: readonly string[];
}

/** What was found in a file, until it changes. */
const known = new Map<string, Found>();

/** Stands for classes that a module exports as its default: what they are called elsewhere does not tell which. */
const anyDefault = 'default';

/**
 * @param known the names in the project, if somebody has looked for them.
 * @returns a function that looks through the package of a module, and the project, when it is first asked about one.
 */
export function extendedIn(root: string, known?: ReadonlySet<string>): (name: string, module: string) => boolean {
  const folders = new Map<string, ReadonlySet<string>>(known && [[root, known]]);
  const within = (folder: string) => {
    let names = folders.get(folder);
    if (!names) folders.set(folder, (names = extendedBelow(folder)));
    return names;
  };
  return (name, module) => {
    if (within(root).has(name)) return true;
    return relative(root, module).startsWith('..') && within(packageOf(module)).has(name);
  };
}

/** The folder of the nearest package.json above a module, or its own. */
function packageOf(module: string): string {
  for (let folder = dirname(module); folder !== dirname(folder); folder = dirname(folder))
    if (existsSync(join(folder, 'package.json'))) return folder;
  return dirname(module);
}

/** The names of classes that others are made from in a folder. */
export function extendedBelow(folder: string): Set<string> {
  const files = globSync(['**/*.{ts,js,mts,mjs,cts,cjs,tsx,jsx}'], {
    cwd: folder,
    ignore: ['**/node_modules/**', '**/dist/**', '**/*.d.ts'],
  });
  return new Set(files.flatMap(file => namesIn(join(folder, file))));
}

function namesIn(path: string): readonly string[] {
  const { mtimeMs, size } = statSync(path);
  // No person writes that much.
  if (size > 1_000_000) return [];
  let found = known.get(path);
  if (found?.time !== mtimeMs)
    known.set(path, (found = { time: mtimeMs, names: extendedBy(readFileSync(path, 'utf8')) }));
  return found.names;
}

/** `class Y extends X`, `contract('y-y', {…}, X)`, and what X is called where it comes from. */
export function extendedBy(code: string): string[] {
  const names = new Set<string>();
  for (const pattern of [
    /\bextends\s+([\w$.]+)/g,
    /\}\s*,\s*([\w$.]+)\s*,?\s*\)/g,
    /\bcontract\s*\([^,]+,\s*[\w$.]+\s*,\s*([\w$.]+)/g,
  ])
    for (const [, name] of code.matchAll(pattern)) names.add(name!.split('.').at(-1)!);
  names.delete('contract');
  if (names.size === 0) return [];
  for (const [, imported, local] of code.matchAll(/\b([\w$]+) +as +([\w$]+)/g))
    if (names.has(local!)) names.add(imported!);
  for (const [, local] of code.matchAll(/\bimport\s+([\w$]+)\s*(?:,[^'"]*)?\bfrom\b/g))
    if (names.has(local!)) names.add(anyDefault);
  return [...names];
}
