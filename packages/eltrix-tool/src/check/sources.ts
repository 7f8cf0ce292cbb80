/** Checks the sources of elements without running them. */
import { createHash } from 'node:crypto';
import { join } from 'node:path';
import type { ElementDescription } from '../describe/description.ts';
import type { Finding } from '../project/finding.ts';
import { Remembered } from '../project/remembered.ts';
import { textOf } from '../project/seen.ts';
import { type Vocabulary, vocabularyOf } from './pages/vocabulary.ts';
import { checkSource, type SourceFacts, sourceFacts } from './source.ts';

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
  const all = createHash('sha1').update(described.map(digestOf).join()).digest('hex');
  for (const [file, own] of byFile) {
    const facts = factsOf(root, file, own);
    yield checkedBefore.get(join(root, file), facts.code + all, () => checkSource(file, facts, vocabulary));
  }
}

const factsBefore = new Remembered<SourceFacts>();

/**
 * The facts needed to check a source.
 * @param own the elements that it defines.
 */
export function factsOf(root: string, file: string, own: readonly ElementDescription[]): SourceFacts {
  const path = join(root, file);
  const code = textOf(path);
  return factsBefore.get(path, code + own.map(digestOf).join(), () => sourceFacts(file, code, own));
}

const digests = new WeakMap<ElementDescription, string>();

function digestOf(description: ElementDescription): string {
  let digest = digests.get(description);
  if (digest === undefined) {
    digest = createHash('sha1').update(JSON.stringify(description)).digest('hex');
    digests.set(description, digest);
  }
  return digest;
}
