/** What is said of sizes, with what it is made of: a card, and a library of ten elements, beside the same by hand. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { cardWeight, libraryWeight, names } from '../../bench/library-sizes.ts';

it('a card weighs less than 2 kB whole, and less than with the core', async t => {
  const [hand, lean, whole] = [await cardWeight('hand'), await cardWeight('eltrix'), await cardWeight('eltrix', false)];
  t.diagnostic(`by hand ${hand} B, with Eltrix ${lean} B, with all of the core ${whole} B`);
  assert.ok(lean > hand && lean < 2000, `${lean} B`);
  assert.ok(whole > 2000, 'the core is weighed as well');
});

it('ten elements weigh less than ten by hand', async t => {
  const [hand, eltrix] = [await libraryWeight('hand', names.length), await libraryWeight('eltrix', names.length)];
  t.diagnostic(`by hand ${hand} B, with Eltrix ${eltrix} B`);
  assert.equal(names.length, 10);
  assert.ok(eltrix > 2000 && eltrix < hand, `${eltrix} B, by hand ${hand} B`);
});
