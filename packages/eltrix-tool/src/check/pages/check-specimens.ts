import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Finding } from '../../project/finding.ts';
import { checkPage } from './check-page.ts';
import type { Vocabulary } from './vocabulary.ts';

/** Checks specimens like pages: the gallery loads the elements, and each specimen is alone in its page. */
export function checkSpecimens(root: string, file: string, vocabulary: Vocabulary): Finding[] {
  return checkPage(file, readFileSync(join(root, file), 'utf8'), vocabulary).filter(
    ({ code }) => code !== 'script-missing' && code !== 'id-twice',
  );
}
