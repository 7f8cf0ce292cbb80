/** Follows exports of the library through modules that pass them on: `export { markup } from 'eltrix'`. */
import { createHash } from 'node:crypto';
import { createRequire } from 'node:module';
import { dirname, isAbsolute, join } from 'node:path';
import { exportsOf } from './exports.ts';
import { type Imported, LibraryNames, ofLibrary, type Passed } from './library-names.ts';
import { resolveSource } from './resolve-source.ts';
import { textOf } from './seen.ts';
import { type Node, parseModule } from './syntax.ts';

/** Modules that were read, by path, with the digests of their texts. */
export type ReadModules = Record<string, string>;

/** Whether modules are as they were when they were read. */
export function areAsRead(modules: Readonly<ReadModules>): boolean {
  return Object.entries(modules).every(([path, digest]) => digestOf(readSource(path)) === digest);
}

/** Caches the last result for each file, as long as the modules that it was made by are as they were. */
export class RememberedReading<T> {
  readonly #last = new Map<string, { readonly input: string; readonly read: ReadModules; readonly value: T }>();

  /**
   * @param input everything else that the value depends on.
   * @param make notes the modules that it reads.
   */
  get(file: string, input: string, make: (read: ReadModules) => T): T {
    const last = this.#last.get(file);
    if (last?.input === input && areAsRead(last.read)) return last.value;
    const read: ReadModules = {};
    const value = make(read);
    this.#last.set(file, { input, read, value });
    return value;
  }
}

const digestOf = (text: string) => createHash('sha1').update(text).digest('base64');

/**
 * What the imports of a module lead to. What cannot be found or read passes nothing on.
 * @param file the absolute path of the module.
 * @param read receives the modules that were read.
 */
export function importedBy(file: string, read: ReadModules = {}): Imported {
  return follow(file, read, []);
}

function follow(file: string, read: ReadModules, through: readonly string[]): Imported {
  const found = new Map<string, Passed | undefined>();
  return specifier => {
    if (!found.has(specifier)) {
      const path = /^eltrix(?:\/|$)/.test(specifier) ? undefined : resolve(specifier, file);
      const isNew = path !== undefined && !through.includes(path);
      found.set(specifier, isNew ? passedBy(path, read, [...through, path]) : ofLibrary(specifier));
    }
    return found.get(specifier);
  };
}

function passedBy(file: string, read: ReadModules, through: readonly string[]): Passed | undefined {
  const code = readNoted(file, read);
  // Without both words it cannot export anything of the library.
  if (!/\bexport\b/.test(code) || !/\bfrom\b/.test(code)) return undefined;
  const parsed = parseModule(file, code);
  if (!parsed) return undefined;
  const imported = follow(file, read, through);
  const names = new LibraryNames(parsed, imported);
  return exported => exportOf(exported, parsed.program, names, imported);
}

/** The library's name of what a module exports under a name. */
function exportOf(exported: string, program: Node, names: LibraryNames, imported: Imported): string | undefined {
  const all = exportsOf(program, exported).map(one =>
    'node' in one ? names.nameOf(one.node) : one.name === '*' ? undefined : imported(one.from)?.(one.name),
  );
  // Where another module may have the same name, nothing is known.
  const found = new Set(all);
  return found.size === 1 ? [...found][0] : undefined;
}

/** The text of a module, which is noted; empty for a file that cannot be read. */
export function readNoted(file: string, read: ReadModules): string {
  const code = readSource(file);
  read[file] = digestOf(code);
  return code;
}

function readSource(file: string): string {
  try {
    return textOf(file);
  } catch {
    return '';
  }
}

function resolve(specifier: string, file: string): string | undefined {
  try {
    const path = specifier.startsWith('.') ? join(dirname(file), specifier) : createRequire(file).resolve(specifier);
    const source = isAbsolute(path) ? resolveSource(path) : undefined;
    // Declarations do not say what the code does.
    return source && /\.d\.[cm]?ts$/.test(source) ? undefined : source;
  } catch {
    return undefined;
  }
}
