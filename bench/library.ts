/**
 * npm run bench:library: what a card weighs, by hand and with Eltrix, and what a library of one to ten elements weighs, the
 * same ten elements in both. By hand each is a file of its own; with Eltrix they share what they share. Brotli's bytes.
 */
import { cardWeight, libraryWeight, names } from './library-sizes.ts';

const [hand, lean, whole] = [await cardWeight('hand'), await cardWeight('eltrix'), await cardWeight('eltrix', false)];
console.log(`a card: by hand ${hand} B, with Eltrix ${lean} B, with all of the core ${whole} B\n`);

console.log('elements   by hand   with Eltrix   each further: by hand, with Eltrix');
let before = { hand: 0, eltrix: 0 };
for (let count = 1; count <= names.length; count++) {
  const now = { hand: await libraryWeight('hand', count), eltrix: await libraryWeight('eltrix', count) };
  const step = count === 1 ? '' : `   ${now.hand - before.hand}, ${now.eltrix - before.eltrix}`;
  console.log(`${String(count).padStart(8)}${String(now.hand).padStart(10)}${String(now.eltrix).padStart(14)}${step}`);
  before = now;
}
