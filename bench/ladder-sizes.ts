/**
 * What one element loads, as `eltrix build` writes it, in brotli's bytes: a plain one, the same with one thing more each,
 * and with all of it. The sources stand in `ladder/`, written as an ordinary author would.
 */
import { spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { brotliCompressSync } from 'node:zlib';
import { rolldown } from 'rolldown';

const root = fileURLToPath(new URL('..', import.meta.url));
const sources = join(root, 'bench/ladder');
const packed = (code: string | Buffer) => brotliCompressSync(code).length;

/** Each with what it has more than the plain one, and how many bytes more it may take; `all` and `plain` as a whole. */
export const rungs = [
  ['plain', 'three attributes, two slots, one event, one sheet', 1500],
  ['sheet', 'its CSS imported from another module', 50],
  ['data', 'a data property that is shown', 350],
  ['connected', 'connected(scope) with a listener and a timer', 350],
  ['attribute-changed', 'attributeChanged', 150],
  ['list', 'a keyed list', 1000 + 350],
  ['live', 'a live array', 500],
  ['form', 'form value and validity', 700],
  ['all', 'all of it in one element', 4300],
] as const;

export type Rung = (typeof rungs)[number][0];

/** By hand, bundled and minified as it would be for a page. */
export async function handWeight(): Promise<number> {
  const build = await rolldown({ input: join(sources, 'hand.ts'), transform: { target: 'es2022' } });
  const { output } = await build.generate({ format: 'esm', minify: true });
  await build.close();
  return packed(output[0].code);
}

/** All files that the element's module loads, itself among them. */
export function rungWeight(rung: Rung): number {
  const project = mkdtempSync(join(tmpdir(), 'eltrix-ladder-'));
  try {
    mkdirSync(join(project, 'src'));
    mkdirSync(join(project, 'node_modules'));
    for (const name of ['eltrix', 'eltrix-tool'])
      symlinkSync(join(root, 'packages', name), join(project, 'node_modules', name));
    writeFileSync(join(project, 'package.json'), '{ "type": "module" }');
    for (const file of [`${rung}.ts`, 'colours.ts']) cpSync(join(sources, file), join(project, 'src', file));
    const tool = join(root, 'packages/eltrix-tool/dist/tool/cli/main.js');
    const { status, stderr } = spawnSync(process.execPath, [tool, 'build', '--no-look'], {
      cwd: project,
      encoding: 'utf8',
    });
    if (status !== 0) throw new Error(stderr);
    const dist = join(project, 'dist');
    const [entry] = readdirSync(dist).filter(name => /^hive-.*\.js$/.test(name));
    return [...loaded(dist, entry!)].reduce((sum, file) => sum + packed(readFileSync(join(dist, file))), 0);
  } finally {
    rmSync(project, { recursive: true, force: true });
  }
}

/** A file of a build, and all that it imports. */
export function loaded(dist: string, file: string, all = new Set<string>()): Set<string> {
  if (all.has(file)) return all;
  all.add(file);
  for (const [, path] of readFileSync(join(dist, file), 'utf8').matchAll(/(?:from|import)\s*"\.\/([^"]+)"/g))
    loaded(dist, path!, all);
  return all;
}
