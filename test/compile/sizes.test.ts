/** What is said of sizes, with what it is made of: a card, and a library of ten elements, beside the same by hand. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { rungWeight } from '../../bench/ladder-sizes.ts';
import { cardWeight, libraryWeight, names } from '../../bench/library-sizes.ts';

it('a card is smaller than 2 kB, and smaller than with the core', async t => {
  const [hand, lean, whole] = [await cardWeight('hand'), await cardWeight('eltrix'), await cardWeight('eltrix', false)];
  t.diagnostic(`by hand ${hand} B, with Eltrix ${lean} B, with all of the core ${whole} B`);
  assert.ok(lean > hand && lean < 2000, `${lean} B`);
  assert.ok(whole > 2000, 'the core is weighed as well');
});

it('each further element is no larger than hand-written, and ten are smaller than ten', async t => {
  assert.equal(names.length, 10);
  const [first, ...others] = names;
  let before = { hand: await libraryWeight('hand', 1), eltrix: await libraryWeight('eltrix', 1) };
  t.diagnostic(`${first}: by hand ${before.hand} B, with Eltrix ${before.eltrix} B`);
  for (const [at, name] of others.entries()) {
    const now = { hand: await libraryWeight('hand', at + 2), eltrix: await libraryWeight('eltrix', at + 2) };
    const [hand, eltrix] = [now.hand - before.hand, now.eltrix - before.eltrix];
    t.diagnostic(`${name}: by hand ${hand} B more, with Eltrix ${eltrix} B more`);
    // Brotli's result varies by some bytes with what stands before.
    assert.ok(eltrix > 100 && eltrix <= hand + 8, name);
    before = now;
  }
  assert.ok(before.eltrix > 2000 && before.eltrix < before.hand, `${before.eltrix} B, by hand ${before.hand} B`);
});

it('no feature adds more bytes than its limit', t => {
  // Bytes beyond the plain element, a twentieth above what they are.
  const most = {
    sheet: 130,
    'attribute-changed': 570,
    connected: 1290,
    form: 1800,
    data: 760,
    live: 2300,
    list: 3450,
  };
  const plain = rungWeight('plain');
  t.diagnostic(`plain: ${plain} B`);
  for (const [rung, limit] of Object.entries(most) as [keyof typeof most, number][]) {
    const more = rungWeight(rung) - plain;
    t.diagnostic(`${rung}: ${more} B more`);
    assert.ok(more < limit, `${rung}: ${more} B more than the plain element, and the limit is ${limit} B`);
  }
});
