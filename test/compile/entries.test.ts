/** What elements pay for the entries for applications: each only for what it imports. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { entrySizes } from '../../bench/entry-sizes.ts';

/** Bytes of brotli beside the core; 400 where nothing is said. A mean of six still moves by ten with any change of the core. */
const most: Readonly<Record<string, number>> = {
  'eltrix/behaviours request': 490,
  'eltrix/behaviours watchSize': 420,
  'eltrix/behaviours watchVisibilityOf': 460,
  'eltrix/store store': 420,
  'eltrix/store autosave': 790,
  'eltrix/context ask': 385,
  'eltrix/context offer': 310,
  'eltrix/routes routes': 1510,
};

it('an entry adds no more than it says', async t => {
  const { added } = await entrySizes();
  for (const [name, bytes] of added) {
    t.diagnostic(`${name}: ${bytes} B`);
    assert.ok(bytes <= (most[name] ?? 400), `${name} adds ${bytes} B`);
  }
  assert.ok(added.size >= 16);
});
