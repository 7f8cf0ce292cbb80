/** Sizes of output files, and their causes. */

import { createHash } from 'node:crypto';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { brotliCompress, constants } from 'node:zlib';
import { libraryFolder, toolFile } from '../project/library.ts';
import { nearest } from '../project/nearest.ts';
import { ToolError } from '../project/tool-error.ts';
import type { Bundled } from './bundled.ts';

/** `shared` is loaded with elements; `extra` is only loaded on request. */
export type Role = 'element' | 'shared' | 'asset' | 'all' | 'on-demand' | 'classic' | 'server';

export interface BuiltFile {
  readonly file: string;
  readonly role: Role;
  /** Bytes, raw and compressed (brotli, best quality). */
  readonly raw: number;
  readonly brotli: number;
  /** The shared files that it loads, directly and indirectly. */
  readonly loads: readonly string[];
}

/** A bundled npm package. */
export interface BundledPackage {
  readonly name: string;
  readonly bytes: number;
}

const compress = promisify(brotliCompress);
/** Compressed sizes by digest: compressing takes longer than the rest of the build. */
const packedBefore = new Map<string, number | Promise<number>>();

/** Texts of the last build, which a watched build needs again. */
let digests = new Map<string | Uint8Array, string>();
let digestsBefore = digests;

/** Subresource integrity (W3C SRI §3.1). */
export function digestOf(content: string | Uint8Array): string {
  let digest = digests.get(content) ?? digestsBefore.get(content);
  digest ??= `sha384-${createHash('sha384').update(content).digest('base64')}`;
  digests.set(content, digest);
  return digest;
}

/** Forgets sizes that were not used since the last call. */
export function forgetDigests(): void {
  digestsBefore = digests;
  digests = new Map();
}

/** Adds the sizes from an earlier build. */
export function rememberPacked(digest: string, brotli: number): void {
  packedBefore.set(digest, brotli);
}

function packed(code: string | Uint8Array): number | Promise<number> {
  const key = digestOf(code);
  let size = packedBefore.get(key);
  if (size === undefined) packedBefore.set(key, (size = pack(code)));
  return size;
}

/** Starts compressing files whose sizes will be needed. */
export function packAll(files: readonly Bundled[]): void {
  for (const { file, code } of files) if (!file.endsWith('.map')) packed(code);
}

async function pack(code: string | Uint8Array): Promise<number> {
  const raw = Buffer.byteLength(code);
  const { length } = await compress(code, {
    params: {
      [constants.BROTLI_PARAM_QUALITY]: 11,
      [constants.BROTLI_PARAM_SIZE_HINT]: raw,
      // A window no larger than the file compresses as well, and is much faster to allocate.
      [constants.BROTLI_PARAM_LGWIN]: Math.min(22, Math.max(16, Math.ceil(Math.log2(raw + 16)))),
    },
  });
  return length;
}

export async function measure(files: readonly Bundled[], tags: ReadonlySet<string>): Promise<BuiltFile[]> {
  const scripts = files.filter(({ file }) => !file.endsWith('.map'));
  const byName = new Map(scripts.map(file => [file.file, file]));
  const loads = (file: Bundled, found = new Set<string>()): Set<string> => {
    for (const name of file.imports) {
      if (found.has(name)) continue;
      found.add(name);
      const next = byName.get(name);
      if (next) loads(next, found);
    }
    return found;
  };
  const measured = await Promise.all(
    scripts.map(async file => {
      const raw = Buffer.byteLength(file.code);
      return {
        file: file.file,
        role: roleOf(file.file, tags),
        raw,
        brotli: await packed(file.code),
        loads: [...loads(file)].sort(),
      };
    }),
  );
  const order: Record<Role, number> = {
    element: 0,
    shared: 1,
    asset: 2,
    all: 3,
    'on-demand': 4,
    classic: 5,
    server: 6,
  };
  return measured.sort((a, b) => order[a.role] - order[b.role] || (a.file < b.file ? -1 : 1));
}

function roleOf(file: string, tags: ReadonlySet<string>): Role {
  // A file loaded by URL: an image, a font, a worker.
  if (!file.endsWith('.js') || file.includes('/')) return 'asset';
  const name = file.slice(0, -'.js'.length);
  if (tags.has(name)) return 'element';
  const known = ['all', 'on-demand', 'classic', 'server'] as const;
  return known.find(role => role === name) ?? 'shared';
}

/**
 * The npm packages in some files, largest first; without the library, and without classic.js, which repeats
 * everything.
 */
export function bundledPackages(files: readonly Bundled[]): BundledPackage[] {
  const bytes = new Map<string, number>();
  for (const { file, modules } of files) {
    if (file === 'classic.js') continue;
    for (const [id, length] of modules) {
      const name = packageOf(id);
      if (name && name !== 'eltrix') bytes.set(name, (bytes.get(name) ?? 0) + length);
    }
  }
  return [...bytes].map(([name, bytes]) => ({ name, bytes })).sort((a, b) => b.bytes - a.bytes);
}

const library = [join(libraryFolder(), 'dist/'), toolFile('dist/gallery/library/')];

export function packageOf(id: string): string | undefined {
  if (library.some(folder => id.startsWith(folder))) return 'eltrix';
  return /.*[\\/]node_modules[\\/]((?:@[^\\/]+[\\/])?[^\\/]+)/.exec(id)?.[1]?.replaceAll('\\', '/');
}

/** The compressed size of an element with everything that it loads, in bytes. */
export function wholeWeight(file: BuiltFile, files: readonly BuiltFile[]): number {
  return (
    file.brotli + files.filter(({ file: name }) => file.loads.includes(name)).reduce((sum, f) => sum + f.brotli, 0)
  );
}

/** `3 kB`, `812 B` or a number of bytes. */
export function readBytes(budget: string | number): number {
  if (typeof budget === 'number') return budget;
  const [, count, unit] = /^\s*(\d+(?:\.\d+)?)\s*(B|kB|MB)?\s*$/i.exec(budget) ?? [];
  if (count === undefined)
    throw new ToolError(
      'config-value',
      `"budget" takes bytes, for example 3000 or "3 kB", and ${JSON.stringify(budget)} is neither.`,
    );
  return Math.round(Number(count) * { b: 1, kb: 1000, mb: 1_000_000 }[(unit ?? 'B').toLowerCase() as 'b']!);
}

type Budget = string | number | Readonly<Record<string, string | number>>;

/** The maximum size of an element in bytes; undefined without a limit. */
export function budgetOf(budget: Budget, tag: string): number | undefined {
  const allowed = typeof budget === 'object' ? (budget[tag] ?? budget['*']) : budget;
  return allowed === undefined ? undefined : readBytes(allowed);
}

/** @throws ToolError for an element over its limit, with its largest modules. */
export function refuseOverBudget(
  budget: Budget,
  built: readonly BuiltFile[],
  files: readonly Bundled[],
  nameOf: (module: string) => string,
): void {
  const tags = built.filter(({ role }) => role === 'element').map(({ file }) => file.slice(0, -'.js'.length));
  const unknown = typeof budget === 'object' && Object.keys(budget).find(tag => tag !== '*' && !tags.includes(tag));
  if (unknown) {
    const near = nearest(unknown, tags);
    throw new ToolError(
      'config-value',
      `"budget" names <${unknown}>, and there is no such element.${near ? ` Did you mean <${near}>?` : ` There are ${tags.join(', ')}.`} "*" means all others.`,
    );
  }
  for (const element of built) {
    if (element.role !== 'element') continue;
    const tag = element.file.slice(0, -'.js'.length);
    const limit = budgetOf(budget, tag);
    if (limit === undefined) continue;
    const weight = wholeWeight(element, built);
    if (weight <= limit) continue;
    const modules = files
      .filter(({ file }) => file === element.file || element.loads.includes(file))
      .flatMap(({ modules }) => [...modules]);
    const largest = groups(modules, nameOf).slice(0, 3);
    const list = largest.map(([name, bytes]) => `${name} (${bytes} B uncompressed)`).join(', ');
    throw new ToolError(
      'over-budget',
      `<${tag}> has ${weight} B (brotli, shared files included), and its budget is ${limit} B. ` +
        `The largest modules: ${list}. Make one of them smaller, or raise "budget". Nothing was written.`,
    );
  }
}

/** Groups modules by source file or package. */
function groups(
  modules: readonly (readonly [string, number])[],
  nameOf: (module: string) => string,
): [string, number][] {
  const bytes = new Map<string, number>();
  for (const [id, length] of modules) {
    // The bundler's own helpers are in no file.
    const name = packageOf(id) ?? (id.startsWith('\0') ? 'generated code' : nameOf(id));
    bytes.set(name, (bytes.get(name) ?? 0) + length);
  }
  return [...bytes].sort((a, b) => b[1] - a[1]);
}
