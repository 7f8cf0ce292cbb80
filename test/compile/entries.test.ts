/** What elements pay for the entries for applications: each only for what it imports. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { entrySizes } from '../../bench/entry-sizes.ts';

/** Bytes of brotli beside the core; 400 where nothing is said. A mean of six still moves by ten with any change of the core, so 3 % more pass. */
const most: Readonly<Record<string, number>> = {
  'eltrix/behaviours request': 665,
  'eltrix/behaviours submission': 620,
  'eltrix/behaviours watchSize': 660,
  'eltrix/behaviours watchVisibilityOf': 505,
  'eltrix/store store': 485,
  'eltrix/store autosave': 810,
  'eltrix/context ask': 475,
  'eltrix/context offer': 310,
  'eltrix/context readConfiguration': 420,
  'eltrix/routes routes': 2920,
  'eltrix/views region': 1200,
  'eltrix/views eachInView': 2900,
  'eltrix/views fromTemplate': 660,
  'eltrix/language locale': 425,
  'eltrix/language formats': 600,
  'eltrix/language messages': 935,
};

it('entries stay within their documented sizes', async t => {
  const { added } = await entrySizes();
  for (const [name, bytes] of added) t.diagnostic(`${name}: ${bytes} B`);
  assert.deepEqual(
    [...added].filter(([name, bytes]) => bytes > (most[name] ?? 400) * 1.03),
    [],
  );
  assert.ok(added.size >= 16);
});
