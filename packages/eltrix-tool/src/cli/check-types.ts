import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { packageVocabulary } from '../check/pages/package-vocabulary.ts';
import { vocabularyOf } from '../check/pages/vocabulary.ts';
import { sarif } from '../check/report/sarif.ts';
import { checkTypes } from '../check/types/check-types.ts';
import { describeElement } from '../describe/model.ts';
import { discover } from '../project/discover.ts';
import { toolVersion } from '../project/library.ts';
import { counted, printFindings } from './findings.ts';
import type { Output } from './output.ts';

interface Options {
  readonly source: string;
  readonly out: string;
  readonly json?: boolean;
  readonly sarif?: boolean;
}

/** `eltrix check --types`. @returns the exit code. */
export async function checkMarkupTypes(root: string, options: Options, output: Output): Promise<number> {
  const elements = await discover(root, options.source);
  const vocabulary = new Map([
    ...packageVocabulary(root),
    ...vocabularyOf(elements.map(element => describeElement(root, element))),
  ]);
  const { findings, sources } = await checkTypes(root, options.out, elements, vocabulary);
  if (options.sarif) output.print(JSON.stringify(sarif(findings, toolVersion()), null, 2));
  else if (options.json) output.print(JSON.stringify({ sources, findings }, null, 2));
  else {
    const texts = new Map(findings.map(({ file }) => [file, readFileSync(join(root, file), 'utf8')]));
    printFindings(findings, texts, counted(sources, 'source'), output.print, output);
  }
  return findings.length > 0 ? 1 : 0;
}
