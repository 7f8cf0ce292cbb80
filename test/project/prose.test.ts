/** Pages use the field's own words. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { checkProse, proseFindings } from '../../scripts/prose.js';
import { repository } from '../support/project.ts';

it('pages use plain words', () => {
  assert.deepEqual(checkProse(repository), []);
});

it('would notice a word that is not plain, with its line, and not in code', () => {
  assert.deepEqual(
    proseFindings('a.md', '# Expressions\n\nThe expression is mended.\n`expression`\n```ts\nexpression\n```\n'),
    ['a.md:3  "mended": write fix', 'a.md:3  "expression": write expression'],
  );
});
