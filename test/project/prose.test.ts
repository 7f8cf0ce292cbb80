/** Pages, comments and messages use the field's own words. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { checkProse, proseFindings, sourceFindings } from '../../scripts/prose.js';
import { repository } from '../support/project.ts';

it('pages, comments and messages use plain words', () => {
  assert.deepEqual(checkProse(repository), []);
});

it('reports a word in a page with its line, and not in code', () => {
  assert.deepEqual(proseFindings('a.md', '# Holes\n\nThe hole is mended.\n`hole`\n```ts\nhole\n```\n'), [
    'a.md:3  "mended": write fix',
    'a.md:3  "hole": write expression',
  ]);
});

it('reports a word in comments and messages of a source, and not in names and codes', () => {
  const code =
    "// Tells all.\nconst hole = 'hole-failed';\n/** Of `hole`. */\nthrow new Error(`it is mended ${hole}`);\n";
  assert.deepEqual(sourceFindings('a.ts', code), [
    'a.ts:1  "Tells": write reports, logs, notifies or returns',
    'a.ts:4  "mended": write fix',
  ]);
});
