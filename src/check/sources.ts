/** What can be seen in the sources of elements. */
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ElementDescription } from '../describe/model.ts';
import type { Finding } from '../project/finding.ts';
import { Remembered } from '../project/remembered.ts';
import { type Vocabulary, vocabularyOf } from './pages/vocabulary.ts';
import { checkSource } from './source.ts';

const checkedBefore = new Remembered<Finding[]>();

export function checkSources(
  root: string,
  described: readonly ElementDescription[],
  vocabulary?: Vocabulary,
): Finding[] {
  return [...checkedSources(root, described, vocabulary)].flat();
}

/** The same, file by file. */
export function* checkedSources(
  root: string,
  described: readonly ElementDescription[],
  vocabulary: Vocabulary = vocabularyOf(described),
): Generator<Finding[]> {
  const byFile = new Map<string, ElementDescription[]>();
  for (const element of described) byFile.set(element.file, [...(byFile.get(element.file) ?? []), element]);
  const all = createHash('sha1').update(JSON.stringify(described)).digest('hex');
  for (const [file, own] of byFile) {
    const path = join(root, file);
    const code = readFileSync(path, 'utf8');
    yield checkedBefore.get(path, code + all, () => checkSource(file, code, own, vocabulary));
  }
}
