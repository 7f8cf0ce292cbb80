/** What cards and libraries of elements weigh, in brotli's bytes, built by hand and with Eltrix. */
import { readdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { brotliCompressSync } from 'node:zlib';
import { bundle } from './bundle.ts';

const library = fileURLToPath(new URL('library/', import.meta.url));
const suites = fileURLToPath(new URL('suites/', import.meta.url));
const packed = (code: string) => brotliCompressSync(Buffer.from(code)).length;

export type Way = 'hand' | 'eltrix';

/** The elements that are written both ways. */
export const names = readdirSync(`${library}hand`).sort();

/** The first of them: each a file of its own, and what they share. */
export async function libraryWeight(way: Way, count: number): Promise<number> {
  const files = names.slice(0, count).map(name => `${way}/${name}`);
  const input = Object.fromEntries(files.map(file => [file, library + file]));
  const output = await bundle(library, input, {
    entryFileNames: '[name].js',
    // A hash that stays, since another one takes up to ten bytes more or less in each file.
    chunkFileNames: '[name]-DbxbX33u.js',
    codeSplitting: { groups: [{ name: 'shared', minShareCount: 2 }] },
  });
  return output.reduce((sum, { code }) => sum + packed(code), 0);
}

/** A card of three attributes, two slots, an event and a sheet, whole. */
export async function cardWeight(way: Way, lean = true): Promise<number> {
  const file = way === 'hand' ? 'cards-hand' : 'cards-plain';
  return packed((await bundle(suites, `${suites}${file}.ts`, {}, { lean }))[0]!.code);
}
