/**
 * Caches the results of builds in `node_modules/.cache/eltrix`. Each entry has a digest of all its inputs as its name,
 * so an entry is never used for other inputs; deleting the folder is safe.
 */
import { createHash } from 'node:crypto';
import {
  existsSync,
  lstatSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  realpathSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { basename, dirname, join, relative } from 'node:path';
import { globSync } from 'tinyglobby';
import type { CompiledModule } from '../../compile/compiled-module.ts';
import type { Finding } from '../../project/finding.ts';
import { toolFile, toolVersion } from '../../project/library.ts';
import { areAsRead } from '../../project/passed-names.ts';
import type { ReadElements } from './messages.ts';

interface Kept<T> {
  readonly digest: string;
  readonly value: T;
}

interface Contents {
  /** By file; only files in the project. */
  readonly modules: Record<string, Kept<CompiledModule | null>>;
  read?: Kept<ReadElements>;
  findings?: Kept<readonly Finding[]>;
  companions?: Kept<Record<string, string>>;
}

/** The entries under a name. */
export type KeptValue<K extends 'read' | 'findings' | 'companions'> = NonNullable<Contents[K]>['value'];

export class ReadingCache {
  readonly #file: string;
  /** Whether the cache is empty. */
  readonly isEmpty: boolean;
  #contents: Contents = { modules: {} };
  #changed = false;

  constructor(readonly root: string) {
    this.#file = join(root, 'node_modules/.cache/eltrix', `reading-${toolDigest()}.json`);
    try {
      this.#contents = JSON.parse(readFileSync(this.#file, 'utf8')) as Contents;
    } catch {
      // The entry does not exist, or was not written completely.
    }
    this.isEmpty = this.#contents.read === undefined;
  }

  module(file: string, digest: string): CompiledModule | null | undefined {
    const kept = this.#contents.modules[file];
    return kept?.digest === digest && areAsRead(kept.value?.read ?? {}) ? kept.value : undefined;
  }

  keepModule(file: string, digest: string, value: CompiledModule | null): void {
    const kept = this.#contents.modules[file];
    if (kept?.digest === digest && !value?.read) return;
    this.#contents.modules[file] = { digest, value };
    this.#changed = true;
  }

  get<K extends 'read' | 'findings' | 'companions'>(what: K, digest: string): KeptValue<K> | undefined {
    const kept = this.#contents[what];
    return kept?.digest === digest ? kept.value : undefined;
  }

  keep<K extends 'read' | 'findings' | 'companions'>(what: K, digest: string, value: KeptValue<K>): void {
    this.#contents[what] = { digest, value } as Contents[K];
    this.#changed = true;
  }

  /** Writes the cache, if there is a `node_modules` folder. */
  save(): void {
    if (!this.#changed || !existsSync(join(this.root, 'node_modules'))) return;
    const { modules } = this.#contents;
    for (const file of Object.keys(modules)) if (!existsSync(file)) delete modules[file];
    const unfinished = `${this.#file}.${process.pid}`;
    try {
      mkdirSync(dirname(this.#file), { recursive: true });
      writeFileSync(unfinished, JSON.stringify(this.#contents));
      renameSync(unfinished, this.#file);
      // Entries of other versions of this tool are removed.
      for (const other of readdirSync(dirname(this.#file)))
        if (/^reading-\w+\.json$/.test(other) && other !== basename(this.#file))
          rmSync(join(dirname(this.#file), other));
    } catch {
      // Without a writable folder builds are slower, but correct.
    }
  }
}

export function digestOf(...parts: readonly string[]): string {
  const hash = createHash('sha1');
  for (const part of parts) hash.update(`${part.length} ${part}`);
  return hash.digest('base64');
}

/** A digest of this tool's version and files. */
function toolDigest(): string {
  const files = readdirSync(toolFile('dist/tool/parts'));
  const { mtimeMs } = statSync(toolFile('dist/tool/parts'));
  return digestOf(toolVersion(), String(mtimeMs), ...files)
    .replace(/\W/g, '')
    .slice(0, 10);
}

/**
 * A digest of everything that elements may depend on: the project's code, and installed packages.
 * @returns undefined if code outside the project belongs to it, since changes there go unnoticed.
 */
export function projectDigest(root: string, source: string): string | undefined {
  const code = '**/*.{ts,js,mts,mjs,cts,cjs,tsx,jsx,json}';
  const ignore = ['**/node_modules/**'];
  // Output folders are skipped, unless sources are in a folder of that name.
  const files = new Set([
    ...globSync([code], { cwd: root, ignore: [...ignore, '**/dist/**'] }),
    ...globSync([`${source}/${code}`], { cwd: root, ignore }),
  ]);
  const installed = join(root, 'node_modules/.package-lock.json');
  const parts = [existsSync(installed) ? String(statSync(installed).mtimeMs) : ''];
  const linked = linkedPackages(root);
  for (const file of [...files].sort()) {
    const text = readFileSync(join(root, file), 'utf8');
    for (const [, name] of text.matchAll(/\b(?:from|import)\s*\(?\s*['"](\.\.\/[^'"]*)['"]/g))
      if (relative(root, join(root, dirname(file), name!)).startsWith('..')) return undefined;
    for (const [, name] of linked.size > 0
      ? text.matchAll(/\b(?:from|import)\s*\(?\s*['"]((?:@[^'"/]+\/)?[^'"./][^'"/]*)/g)
      : [])
      if (linked.has(name!)) return undefined;
    parts.push(file, text);
  }
  return digestOf(...parts);
}

const isWorkedOn = (path: string) =>
  lstatSync(path).isSymbolicLink() && existsSync(path) && !/[\\/]node_modules[\\/]/.test(realpathSync(path));

/**
 * Packages linked to a folder where they may be edited, rather than to a package manager's store. The tool's own
 * digest covers its packages.
 */
function linkedPackages(root: string): Set<string> {
  const folder = join(root, 'node_modules');
  const entries = (below: string) => (existsSync(below) ? readdirSync(below, { withFileTypes: true }) : []);
  const links = (below: string, scope = '') =>
    entries(below).flatMap(({ name }) => (isWorkedOn(join(below, name)) ? [scope + name] : []));
  const scopes = entries(folder).filter(entry => entry.name.startsWith('@') && entry.isDirectory());
  const all = [...links(folder), ...scopes.flatMap(({ name }) => links(join(folder, name), `${name}/`))];
  return new Set(all.filter(name => name !== 'eltrix' && name !== 'eltrix-tool'));
}
