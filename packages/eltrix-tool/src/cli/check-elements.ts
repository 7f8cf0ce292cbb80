import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { type CheckedElement, type CheckResult, checkElements } from '../check/elements/check.ts';
import { checkForeign } from '../check/elements/foreign.ts';
import { folderOf } from '../check/elements/picture-check.ts';
import { reportPage } from '../check/report/page.ts';
import { ruleCodes } from '../check/report/rules.ts';
import { sarif } from '../check/report/sarif.ts';
import { failuresOf, verdict } from '../check/report/summary.ts';
import type { Engine } from '../engines/index.ts';
import { engines as allEngines } from '../engines/index.ts';
import { Pictures } from '../engines/run/stored/pictures.ts';
import { type ReadConfiguration, readPackage } from '../project/config.ts';
import { discover } from '../project/discover.ts';
import type { Finding } from '../project/finding.ts';
import { toolVersion } from '../project/library.ts';
import { nearest } from '../project/nearest.ts';
import { ToolError } from '../project/tool-error.ts';
import { chosenElements } from './chosen-elements.ts';
import { enginesFor } from './engine-choice.ts';
import { type Output, Progress, paint, table } from './output.ts';

export interface ElementOptions {
  readonly source: string;
  readonly in?: string;
  readonly element?: readonly string[];
  readonly without?: readonly string[];
  readonly timeout: number;
  readonly report?: string;
  readonly pictures?: boolean;
  readonly accept?: boolean;
  readonly json?: boolean;
  readonly sarif?: boolean;
  readonly manifest?: readonly string[];
  readonly module?: readonly string[];
}

/** Runs the conformance suite. @returns the exit code. */
export async function checkAll(
  root: string,
  configuration: ReadConfiguration,
  options: ElementOptions,
  output: Output,
): Promise<number> {
  const engines = enginesFor(options.in) as Engine[];
  if (engines.length === 0)
    throw new ToolError(
      'engine-missing',
      `The rules are tried in real engines, and none is installed. ${Object.values(allEngines)
        .map(({ install }) => install)
        .join(' ')}`,
    );
  const without = options.without ?? [];
  for (const rule of without) {
    if (ruleCodes.includes(rule)) continue;
    const near = nearest(rule, ruleCodes);
    throw new ToolError(
      'rule-unknown',
      `"${rule}" is not a rule.${near ? ` Did you mean "${near}"?` : ''} Rules are ${ruleCodes.join(', ')}.`,
      undefined,
      undefined,
      2,
    );
  }
  const progress = new Progress(output);
  const settings = {
    target: configuration.target,
    budget: configuration.budget,
    render: configuration.render,
    without,
    exempt: Object.fromEntries(
      Object.entries(configuration.conformance ?? {}).map(([tag, { exempt = {} }]) => [tag, exempt]),
    ),
    pictures: options.report !== undefined,
    accepted: accepted(root, options),
    timeout: options.timeout,
    progress: (step: string) => progress.show(step),
  };
  const start = performance.now();
  let result: CheckResult;
  try {
    result =
      options.manifest !== undefined
        ? await checkForeign(root, options.manifest, options.element, options.module ?? [], engines, settings)
        : await checkElements(
            root,
            chosenElements(await discover(root, options.source), options.element, options.source),
            engines,
            settings,
          );
  } finally {
    progress.end();
  }
  const took = (performance.now() - start) / 1000;
  const { accepted: pictures } = settings;
  if (options.report !== undefined) {
    const { name } = readPackage(root);
    mkdirSync(dirname(resolve(root, options.report)), { recursive: true });
    writeFileSync(resolve(root, options.report), reportPage(result, typeof name === 'string' ? name : 'Elements'));
  }
  if (options.sarif) output.print(JSON.stringify(sarif(asFindings(result), toolVersion()), null, 2));
  else if (options.json) output.print(JSON.stringify(plain(result), null, 2));
  else print(result, took, options, output);
  const problems = pictures ? engines.flatMap(({ name }) => pictures.problemOf(name) ?? []) : [];
  for (const problem of problems) output.complain(`eltrix ${paint(output, 'red', 'finding')} ${problem}`);
  for (const note of pictures?.notes(result.elements.map(({ tag }) => folderOf(tag))) ?? []) output.complain(note);
  const failing = problems.length > 0 || result.elements.some(element => failuresOf(element).length > 0);
  return failing || result.findings.length > 0 ? 1 : 0;
}

/** @throws ToolError for `--accept` without pictures. */
function accepted(root: string, { pictures, accept = false }: ElementOptions): Pictures | undefined {
  if (pictures) return new Pictures(root, accept, 'npx eltrix check --pictures');
  if (!accept) return undefined;
  throw new ToolError(
    'option-alone',
    '--accept needs --pictures: npx eltrix check --pictures --accept.',
    undefined,
    undefined,
    2,
  );
}

/** The failures, as findings in the elements' files. */
function asFindings({ elements, findings }: CheckResult): Finding[] {
  const failures = elements.flatMap(element =>
    failuresOf(element).map(({ rule, engines, failure: { did, expected, seen, fix } }) => ({
      code: rule,
      message: `<${element.tag}> in ${engines.join(', ')}: ${did}. Expected: ${expected}. Seen: ${seen}. Fix: ${fix}`,
      file: element.file,
      line: 1,
      column: 1,
    })),
  );
  return [...failures, ...findings];
}

/** Without the pictures. */
function plain({ elements, findings, engines }: CheckResult): object {
  return {
    engines,
    findings,
    elements: elements.map(({ pictures: _, ...element }) => ({ ...element, engines: withoutPictures(element) })),
  };
}

function withoutPictures({ engines }: Pick<CheckedElement, 'engines'>): CheckedElement['engines'] {
  return Object.fromEntries(
    Object.entries(engines).map(([name, results]) => [
      name,
      results.map(({ failures, ...result }) => ({
        ...result,
        ...(failures && { failures: failures.map(({ pictures: _, ...failure }) => failure) }),
      })),
    ]),
  );
}

function print(
  { elements, findings, engines }: CheckResult,
  took: number,
  options: ElementOptions,
  output: Output,
): void {
  const names = Object.keys(elements[0]?.engines ?? {});
  const count = (element: CheckedElement, engine: string) => {
    const results = element.engines[engine] ?? [];
    if (results.length === 0) return 'not there';
    const of = (outcome: string) => results.filter(result => result.outcome === outcome).length;
    const fails = of('fails');
    return `${of('passes')} passed${fails > 0 ? `, ${fails} failed` : ''}`;
  };
  const [head, ...rows] = table(
    ['', ...names],
    elements.map(element => [element.tag, ...names.map(name => count(element, name))]),
  );
  output.print(paint(output, 'bold', head!));
  for (const [at, row] of rows.entries())
    output.print(failuresOf(elements[at]!).length > 0 ? paint(output, 'red', row) : row);
  for (const element of elements) {
    for (const { rule, engines: where, failure } of failuresOf(element)) {
      const everywhere = where.length === names.length && names.length > 1 ? '' : ` in ${where.join(', ')}`;
      output.print(`\n${element.file} ${paint(output, 'red', 'finding')} (${rule}): <${element.tag}>${everywhere}`);
      output.print(`  did       ${failure.did}`);
      output.print(`  expected  ${failure.expected}`);
      output.print(`  seen      ${failure.seen}`);
      output.print(`  fix       ${failure.fix}`);
    }
  }
  for (const { file, line, column, code, message } of findings)
    output.print(`\n${file}:${line}:${column} ${paint(output, 'red', 'finding')} (${code}): ${message}`);
  output.print(
    `\n${elements.length} element${elements.length === 1 ? '' : 's'} in ${engines.join(', ')}: ${verdict({ elements })}. ${took.toFixed(1)} s.`,
  );
  if (options.report !== undefined) output.print(`The report: ${options.report}`);
}
