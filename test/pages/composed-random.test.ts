/** Random trees of all that a view can hold (`composed.ts`), changed at random, show what their present values say. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { defineAll, Program, shown, textOf, unexpected } from './composed.ts';
import { ComposedPart } from './composed-parts.ts';

defineAll();

const programs = 60;
const steps = 12;

it(`${programs} random trees, ${steps} changes each`, { timeout: 60_000 }, async () => {
  const odd = await unexpected(async () => {
    for (let number = 0; number < programs; number++) {
      const program = new Program(number);
      const element = new ComposedPart();
      element.tree = program.whole;
      const stage = document.createElement('main');
      document.body.append(stage);
      stage.append(element);
      for (let step = 0; step < steps; step++) {
        await shown();
        const { journey } = program;
        const text = program.text();
        if (text !== undefined)
          assert.deepEqual({ journey, shown: textOf(element) }, { journey, shown: `{[]${text}}` });
        await program.change(element);
      }
      stage.remove();
      await shown();
      assert.ok(!program.isFollowed, `follows what it no longer shows: ${program.journey}`);
    }
  });
  assert.deepEqual(odd, []);
});
