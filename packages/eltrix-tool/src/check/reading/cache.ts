/**
 * What a build found out about sources, for the next one: in `node_modules/.cache/eltrix`. Everything is kept under a
 * digest of all that it was made from, so that nothing is ever used for something else; deleting the folder is safe.
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
import type { ReadElements } from './messages.ts';

interface Kept<T> {
  readonly digest: string;
  readonly value: T;
}

interface Contents {
  /** By file; only what stands in the project. */
  readonly modules: Record<string, Kept<CompiledModule | null>>;
  read?: Kept<ReadElements>;
  findings?: Kept<readonly Finding[]>;
  companions?: Kept<Record<string, string>>;
}

/** What is kept under a name. */
export type KeptValue<K extends 'read' | 'findings' | 'companions'> = NonNullable<Contents[K]>['value'];

export class ReadingCache {
  readonly #file: string;
  /** Whether nothing was kept. */
  readonly isEmpty: boolean;
  #contents: Contents = { modules: {} };
  #changed = false;

  constructor(readonly root: string) {
    this.#file = join(root, 'node_modules/.cache/eltrix', `reading-${toolDigest()}.json`);
    try {
      this.#contents = JSON.parse(readFileSync(this.#file, 'utf8')) as Contents;
    } catch {
      // There is none, or it was not written to its end.
    }
    this.isEmpty = this.#contents.read === undefined;
  }

  module(file: string, digest: string): CompiledModule | null | undefined {
    const kept = this.#contents.modules[file];
    return kept?.digest === digest ? kept.value : undefined;
  }

  keepModule(file: string, digest: string, value: CompiledModule | null): void {
    if (this.#contents.modules[file]?.digest === digest) return;
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

  /** Writes it for the next build, where there is a `node_modules`. */
  save(): void {
    if (!this.#changed || !existsSync(join(this.root, 'node_modules'))) return;
    const { modules } = this.#contents;
    for (const file of Object.keys(modules)) if (!existsSync(file)) delete modules[file];
    const unfinished = `${this.#file}.${process.pid}`;
    try {
      mkdirSync(dirname(this.#file), { recursive: true });
      writeFileSync(unfinished, JSON.stringify(this.#contents));
      renameSync(unfinished, this.#file);
      // Those of other versions of this tool are of no use any more.
      for (const other of readdirSync(dirname(this.#file)))
        if (/^reading-\w+\.json$/.test(other) && other !== basename(this.#file))
          rmSync(join(dirname(this.#file), other));
    } catch {
      // A folder that cannot be written costs time and nothing else.
    }
  }
}

export function digestOf(...parts: readonly string[]): string {
  const hash = createHash('sha1');
  for (const part of parts) hash.update(`${part.length} ${part}`);
  return hash.digest('base64');
}

/** The version of this tool, and its very files. */
function toolDigest(): string {
  const files = readdirSync(toolFile('dist/tool/parts'));
  const { mtimeMs } = statSync(toolFile('dist/tool/parts'));
  return digestOf(toolVersion(), String(mtimeMs), ...files)
    .replace(/\W/g, '')
    .slice(0, 10);
}

/**
 * A digest of all that elements can be made from: the project's code, and what is installed.
 * @returns undefined where code outside the project is part of it, since changes there are not noticed.
 */
export function projectDigest(root: string, source: string): string | undefined {
  const code = '**/*.{ts,js,mts,mjs,cts,cjs,tsx,jsx,json}';
  const ignore = ['**/node_modules/**'];
  // Folders of outputs do not count, but sources may stand in one of that name.
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

/** Packages that are links to folders where somebody may work on them, not into a store; this tool's own count by themselves. */
function linkedPackages(root: string): Set<string> {
  const folder = join(root, 'node_modules');
  const entries = (below: string) => (existsSync(below) ? readdirSync(below, { withFileTypes: true }) : []);
  const links = (below: string, scope = '') =>
    entries(below).flatMap(({ name }) => (isWorkedOn(join(below, name)) ? [scope + name] : []));
  const scopes = entries(folder).filter(entry => entry.name.startsWith('@') && entry.isDirectory());
  const all = [...links(folder), ...scopes.flatMap(({ name }) => links(join(folder, name), `${name}/`))];
  return new Set(all.filter(name => name !== 'eltrix' && name !== 'eltrix-tool'));
}
