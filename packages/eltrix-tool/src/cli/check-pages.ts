import { readFileSync, statSync } from 'node:fs';
import { join, relative, resolve } from 'node:path';
import { glob } from 'tinyglobby';
import { checkPage } from '../check/pages/check-page.ts';
import { packageVocabulary } from '../check/pages/package-vocabulary.ts';
import { readPage, writePage } from '../check/pages/page-bytes.ts';
import { type Vocabulary, vocabularyOf, vocabularyOfManifest } from '../check/pages/vocabulary.ts';
import { sarif } from '../check/report/sarif.ts';
import { describeElement } from '../describe/model.ts';
import { discover } from '../project/discover.ts';
import { byPlace, edited, type Finding } from '../project/finding.ts';
import { toolVersion } from '../project/library.ts';
import { noElements, ToolError } from '../project/tool-error.ts';
import { counted, printFindings } from './findings.ts';
import type { Output } from './output.ts';

export interface PageOptions {
  readonly source: string;
  readonly out: string;
  readonly manifest?: readonly string[];
  readonly fix?: boolean;
  readonly json?: boolean;
  readonly sarif?: boolean;
}

/** How often a page is fixed at most: a fix may show another mistake. */
const mostPasses = 10;

/** The name in findings of a page from stdin. */
const stdin = 'stdin';

/** Checks pages, given by globs, or `-` for stdin. @returns the exit code. */
export async function checkPages(
  root: string,
  patterns: readonly string[],
  options: PageOptions,
  output: Output,
): Promise<number> {
  const vocabulary = await readVocabulary(root, options);
  const isPiped = patterns.length === 1 && patterns[0] === '-';
  const pages = isPiped ? [stdin] : await findPages(root, patterns, options.out);
  const findings: Finding[] = [];
  const texts = new Map<string, string>();
  let fixed = 0;
  for (const page of pages) {
    const read = readPage(isPiped ? 0 : join(root, page));
    let { text } = read;
    let found = checkPage(page, text, vocabulary);
    // What was hidden by a mistake may need a fix as well.
    for (let pass = 0; options.fix && pass < mostPasses; pass++) {
      const edits = found.flatMap(({ edits = [] }) => edits);
      if (edits.length === 0) break;
      const kept = read.whyKept(edits);
      if (kept !== undefined) {
        found.push({
          code: 'page-kept',
          message: `${pass === 0 ? 'Nothing was fixed' : 'The rest was not fixed'}: ${kept}`,
          file: page,
          line: 1,
          column: 1,
        });
        break;
      }
      fixed += found.filter(({ edits }) => edits).length;
      text = edited(text, edits);
      found = checkPage(page, text, vocabulary);
    }
    if (!isPiped && text !== read.text) writePage(join(root, page), read.bytesOf(text));
    if (isPiped && options.fix) output.print(text.trimEnd());
    if (found.length > 0) texts.set(page, text);
    findings.push(...found);
  }
  findings.sort(byPlace);
  // The fixed page goes to stdout, so findings go to stderr.
  const print = isPiped && options.fix ? output.complain : output.print;
  if (options.sarif) print(JSON.stringify(sarif(findings, toolVersion()), null, 2));
  else if (options.json) print(JSON.stringify({ pages: pages.length, fixed, findings }, null, 2));
  else printFindings(findings, texts, counted(pages.length, 'page'), print, output, fixed);
  return findings.length > 0 ? 1 : 0;
}

async function readVocabulary(root: string, { manifest, source }: PageOptions): Promise<Vocabulary> {
  const packages = packageVocabulary(root);
  if (manifest !== undefined)
    return new Map([
      ...packages,
      ...manifest.flatMap(file => [...vocabularyOfManifest(readManifest(root, file), file)]),
    ]);
  const elements = await discover(root, source);
  if (elements.length === 0)
    throw noElements(
      source,
      ", so there is nothing to check pages against. Go to the project's folder, or name a manifest: --manifest custom-elements.json.",
    );
  return new Map([...packages, ...vocabularyOf(elements.map(element => describeElement(root, element)))]);
}

function readManifest(root: string, manifest: string): string {
  const file = resolve(root, manifest);
  if (statSync(file, { throwIfNoEntry: false })?.isFile()) return readFileSync(file, 'utf8');
  throw new ToolError(
    'manifest-unreadable',
    `There is no file ${manifest}. Name the elements' custom-elements.json.`,
    undefined,
    undefined,
    2,
  );
}

async function findPages(root: string, patterns: readonly string[], out: string): Promise<string[]> {
  const wanted = patterns.map(pattern => {
    const path = relative(root, resolve(root, pattern)).replaceAll('\\', '/');
    return statSync(join(root, path), { throwIfNoEntry: false })?.isDirectory()
      ? `${path ? `${path}/` : ''}**/*.{html,htm,css}`
      : path;
  });
  const found = await glob(wanted, {
    cwd: root,
    ignore: ['**/node_modules/**', `${out}/**`],
    expandDirectories: false,
  });
  if (found.length > 0) return found.sort();
  throw new ToolError(
    'no-pages',
    `No file matches ${patterns.map(pattern => `"${pattern}"`).join(', ')}. Name HTML or CSS files, a folder of them, or a glob in quotes: "site/**/*.html".`,
    undefined,
    undefined,
    2,
  );
}
