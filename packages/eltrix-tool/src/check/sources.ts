/** Checks the sources of elements without running them. */

import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { join, posix } from 'node:path';
import type { ElementDescription } from '../describe/description.ts';
import type { Finding } from '../project/finding.ts';
import { importedBy, RememberedReading } from '../project/passed-names.ts';
import { Remembered } from '../project/remembered.ts';
import { textOf } from '../project/seen.ts';
import { type Vocabulary, vocabularyOf } from './pages/vocabulary.ts';
import { checkSheetFile, checkSource, type SourceFacts, sourceFacts } from './source.ts';
import { undefinedTags } from './undefined-tags.ts';

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
  const users = new Map<string, ElementDescription[]>();
  /** Sheets of elements that contain themselves. */
  const recursive = new Set<string>();
  for (const [file, own] of byFile) {
    const facts = factsOf(root, file, own);
    yield checkedBefore.get(join(root, file), facts.code + all, () => checkSource(file, facts, vocabulary));
    yield undefinedTags(root, file, facts, described);
    for (const address of facts.sheetFiles) {
      const sheet = posix.join(posix.dirname(file), address);
      users.set(sheet, [...(users.get(sheet) ?? []), ...own]);
      if (
        own.some(({ tag }) =>
          facts.classes.some(({ templates }) => templates.some(({ text }) => text.includes(`<${tag}`))),
        )
      )
        recursive.add(sheet);
    }
  }
  for (const [file, [first, ...others]] of users) {
    const path = join(root, file);
    if (!existsSync(path)) continue;
    const text = textOf(path);
    // Only of a file with one class it is known that the sheet is for its tree.
    const element = others.length === 0 && !recursive.has(file) ? first : undefined;
    yield checkedBefore.get(path, text + all, () => checkSheetFile(file, text, vocabulary, element));
  }
}

const factsBefore = new RememberedReading<SourceFacts>();

/**
 * The facts needed to check a source.
 * @param own the elements that it defines.
 */
export function factsOf(root: string, file: string, own: readonly ElementDescription[]): SourceFacts {
  const path = join(root, file);
  const code = textOf(path);
  return factsBefore.get(path, code + own.map(digestOf).join(), read =>
    sourceFacts(file, code, own, importedBy(path, read)),
  );
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
