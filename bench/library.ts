/**
 * npm run bench:library: what a library of one to ten elements weighs, built by hand and with Eltrix, the same ten
 * elements in both. By hand each is a file of its own; with Eltrix they share what they share. Brotli's bytes.
 */
import { readdirSync } from 'node:fs';
import { brotliCompressSync } from 'node:zlib';
import { bundle } from './bundle.ts';

const folder = new URL('library/', import.meta.url).pathname;
const names = readdirSync(`${folder}hand`).sort();
const packed = (code: string) => brotliCompressSync(Buffer.from(code)).length;

async function weigh(files: readonly string[]): Promise<number> {
  const input = Object.fromEntries(files.map(file => [file, folder + file]));
  const codeSplitting = { groups: [{ name: 'shared', minShareCount: 2 }] };
  const output = await bundle(folder, input, { entryFileNames: '[name].js', codeSplitting });
  return output.reduce((sum, { code }) => sum + packed(code), 0);
}

console.log('elements   by hand   with Eltrix   each further: by hand, with Eltrix');
let before = { hand: 0, eltrix: 0 };
for (let count = 1; count <= names.length; count++) {
  const chosen = names.slice(0, count);
  const now = {
    hand: await weigh(chosen.map(name => `hand/${name}`)),
    eltrix: await weigh(chosen.map(name => `eltrix/${name}`)),
  };
  const step = count === 1 ? '' : `${now.hand - before.hand}, ${now.eltrix - before.eltrix}`;
  console.log(
    `${String(count).padStart(8)}${String(now.hand).padStart(10)}${String(now.eltrix).padStart(14)}   ${step}`,
  );
  before = now;
}
