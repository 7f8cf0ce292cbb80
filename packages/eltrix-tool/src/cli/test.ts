import { statSync } from 'node:fs';
import { join, relative, resolve } from 'node:path';
import { watch } from 'chokidar';
import { Command, InvalidArgumentError } from 'commander';
import { glob } from 'tinyglobby';
import { startGridSession } from '../engines/grid.ts';
import { engines, foundEngines } from '../engines/index.ts';
import { findDependences, planFor } from '../engines/run/isolate.ts';
import { mergedEvents, recorder } from '../engines/run/recorded.ts';
import { Report } from '../engines/run/report.ts';
import {
  type LoadedReporter,
  loadReporters,
  makeReporter,
  type ReporterChoice,
  reporterChoice,
} from '../engines/run/reporters.ts';
import { type Place, TestRuns } from '../engines/run/run.ts';
import type { TreeEvent } from '../engines/run/tree.ts';
import { begun, onChanges } from '../project/changes.ts';
import { readConfiguration } from '../project/config.ts';
import { needPackage } from '../project/optional-package.ts';
import { ToolError } from '../project/tool-error.ts';
import type { RunPlan } from '../testing/plan.ts';
import { enginesFor } from './engine-choice.ts';
import { complainOf, type Output, paint, table } from './output.ts';
import { whole } from './whole.ts';

interface Options {
  readonly in?: string;
  readonly report: readonly ReporterChoice[];
  readonly match?: readonly string[];
  readonly watch?: boolean;
  readonly coverage?: boolean;
  readonly bail?: boolean;
  readonly retry: number;
  readonly shard?: readonly [part: number, of: number];
  readonly require?: string;
  readonly list?: boolean;
  readonly merge?: readonly string[];
  readonly shuffle: boolean | number;
  readonly times: number;
  readonly timeout: number;
  readonly isolate?: boolean;
  readonly order?: readonly number[];
  readonly compiled?: boolean;
  readonly production?: boolean;
  readonly clean: boolean;
  readonly grid?: string;
  readonly capabilities?: Readonly<Record<string, unknown>>;
  readonly sessions: number;
}

/** `eltrix test`: the tests in real engines, reported by Node's runner. */
export function testCommand(output: Output): Command {
  return new Command('test')
    .argument('[files...]', 'test files or globs (default: every *.test.ts and *.test.js)')
    .option('--in <engines>', 'chromium, firefox, webkit, simulated; several with commas (default: all that are found)')
    .option(
      '--report <reporter[=file]>',
      'spec, tap, dot, junit, or a module as for node --test-reporter; may be given again (default: spec)',
      (text, before: readonly ReporterChoice[] = []) => [...before, reporterChoice(text)],
    )
    .option('--match <pattern>', 'only tests whose names match; may be given again', collect)
    .option('--bail', 'end at the first failure')
    .option(
      '--retry <times>',
      'run a test that fails again; one that passes then is reported as flaky',
      whole('--retry', 1),
      0,
    )
    .option('--shard <part>', 'only a part of the files, for example 2/5: the second of five', shard)
    .option('--require <engines>', 'fail if one of these engines is missing')
    .option('--list', 'print which tests there are, and run none')
    .option('--merge <files...>', 'report what --report events=… of other runs has written, as one run')
    .option('--watch', 'run the tests that a change concerns, whenever a source changes')
    .option('--coverage', 'line coverage of the sources (Chromium): a table, and coverage/lcov.info')
    .option('--shuffle <seed>', 'the order of an earlier run', whole('--shuffle'))
    .option('--no-shuffle', 'in the order in which they are written')
    .option('--times <count>', 'run each test so often', whole('--times', 1), 1)
    .option('--timeout <milliseconds>', 'how long a test may take', whole('--timeout', 1), 20_000)
    .option('--isolate', 'find tests whose outcome depends on what ran before them')
    .option(
      '--order <numbers>',
      'only these tests of a file, by number, in this order (as --isolate prints them)',
      numbers,
    )
    .option('--compiled', 'compile the elements first, as a build does it')
    .option('--production', 'as they are shipped: compiled, with codes in place of messages')
    .option('--no-clean', 'let tests leave things behind')
    .option('--grid <url>', 'a WebDriver server elsewhere')
    .option('--capabilities <json>', 'what to ask the grid for', json)
    .option('--sessions <count>', 'how many sessions of the grid at once', whole('--sessions', 1), 1)
    .action(async (patterns: string[], options: Options) => {
      try {
        process.exitCode = await test(process.cwd(), patterns, options, output);
      } catch (error) {
        process.exitCode = complainOf(error, output);
      }
    });
}

function collect(value: string, before: readonly string[] = []): string[] {
  try {
    new RegExp(value);
  } catch (error) {
    throw new InvalidArgumentError(
      `It takes a regular expression: ${(error as Error).message}. Put a backslash before signs that are meant as they are.`,
    );
  }
  return [...before, value];
}

function shard(value: string): readonly [number, number] {
  const [, part = 0, of = 0] = (/^(\d+)\/(\d+)$/.exec(value) ?? []).map(Number);
  if (part < 1 || part > of)
    throw new InvalidArgumentError('It takes a part and how many there are, for example --shard 2/5.');
  return [part, of];
}

function numbers(value: string): number[] {
  if (!/^\d+(?:,\d+)*$/.test(value))
    throw new InvalidArgumentError('It takes numbers with commas, for example --order 2,5.');
  return value.split(',').map(Number);
}

function json(value: string): Record<string, unknown> {
  try {
    return JSON.parse(value) as Record<string, unknown>;
  } catch (error) {
    throw new InvalidArgumentError(`It is no JSON: ${(error as Error).message}.`);
  }
}

async function test(root: string, patterns: readonly string[], options: Options, output: Output): Promise<number> {
  if (options.merge) return merge(root, options);
  const configuration = await readConfiguration(root);
  const all = await findTests(root, patterns, configuration.out);
  const [part, of] = options.shard ?? [1, 1];
  const files = all.filter((_, at) => at % of === part - 1);
  if (files.length === 0) {
    output.complain(`Part ${part} of ${of} has no test file: there are ${all.length}.`);
    return 0;
  }
  // It is not installed: that stops the run.
  if (options.require !== undefined) enginesFor(options.require);
  const places = placesFor(options, output);
  const runs = new TestRuns({
    root,
    places,
    form: { compiled: Boolean(options.compiled || options.production), production: options.production ?? false },
    policy: configuration.testPolicy,
    coverage: options.coverage ?? false,
    atOnce: 2,
    retry: options.retry,
    isTest: file => files.includes(file) || /\.test\.[cm]?[jt]s$/.test(file),
  });
  process.once('exit', () => void runs.end());
  const seed =
    options.shuffle === false || options.order
      ? null
      : typeof options.shuffle === 'number'
        ? options.shuffle
        : Math.floor(Math.random() * 1e6);
  const plan: RunPlan = {
    seed,
    match: options.match ?? [],
    times: options.times,
    order: options.order ?? null,
    done: [],
    timeout: options.timeout,
    clean: options.clean,
  };
  const reporters = await reportersFor(root, options);
  await runs.begin();
  try {
    if (options.list) return await list(runs, files, plan, output);
    if (options.isolate) return await isolate(runs, files, plan, output);
    const forPeople = !reports(options).some(
      ({ name, file }) => file === undefined && /^(?:tap|junit)$|[./]/.test(name),
    );
    const say = forPeople ? output.print : output.complain;
    if (seed !== null) say(`Order by chance, --shuffle=${seed} repeats it.`);
    let code = await once(root, runs, files, plan, options, reporters);
    if (runs.coverage) printCoverage(runs, root, output);
    if (options.watch) code = await again(root, runs, files, plan, options, reporters, output);
    return code;
  } finally {
    await runs.end();
  }
}

/** What is reported where; for people on the terminal unless something else is. */
function reports({ report = [] }: Options): readonly ReporterChoice[] {
  return report.some(({ file }) => file === undefined) ? report : [{ name: 'spec' }, ...report];
}

async function once(
  root: string,
  runs: TestRuns,
  files: readonly string[],
  plan: RunPlan,
  options: Options,
  reporters: readonly LoadedReporter[],
): Promise<number> {
  const [report, tell] = reportTo(root, options, reporters, runs.options.places.length > 1);
  let [tests, failures] = [0, 0];
  const sources = await runs.bundle(files);
  await runs.run(files, sources, plan, event => {
    if (event.type === 'start' && !event.suite) tests++;
    if (event.type === 'end' && event.outcome === 'failed') {
      failures++;
      if (options.bail) runs.stop();
    }
    tell(event);
  });
  const code = await report.end();
  if (tests > 0 || failures > 0 || code !== 0) return code;
  throw new ToolError(
    'no-tests',
    plan.match.length > 0
      ? `No test has a name that matches ${plan.match.map(pattern => `"${pattern}"`).join(' or ')}.`
      : 'No test ran.',
  );
}

/** @throws ToolError before anything is started. */
async function reportersFor(root: string, options: Options): Promise<LoadedReporter[]> {
  const choices = reports(options);
  if (choices.some(({ name, file }) => name === 'events' && file === undefined))
    throw new ToolError(
      'report-unknown',
      'Name a file for the events: --report events=reports/1.jsonl.',
      undefined,
      undefined,
      2,
    );
  return loadReporters(
    root,
    choices.filter(({ name }) => name !== 'events'),
  );
}

/** The report, and what tells it: `--report events=…` keeps what it is told. */
function reportTo(
  root: string,
  options: Options,
  reporters: readonly LoadedReporter[],
  severalEngines: boolean,
): [Report, (event: TreeEvent) => void] {
  const keep = reports(options)
    .filter(({ name }) => name === 'events')
    .map(({ file }) => recorder(resolve(root, file!)));
  const report = new Report(
    reporters.map(reporter => makeReporter(root, reporter)),
    severalEngines,
  );
  return [
    report,
    event => {
      for (const one of keep) one(event);
      report.tell(event);
    },
  ];
}

/** Reports what other runs have kept. */
async function merge(root: string, options: Options): Promise<number> {
  const found = await glob([...options.merge!], { cwd: root, absolute: true });
  if (found.length === 0)
    throw new ToolError('merge-file', `No file matches ${options.merge!.join(', ')}.`, undefined, undefined, 2);
  const events = [...mergedEvents(found.sort())];
  const engines = events.filter(event => event.type === 'start' && event.parent === null).length;
  const [report, tell] = reportTo(root, options, await reportersFor(root, options), engines > 1);
  for (const event of events) tell(event);
  return report.end();
}

/** Prints which tests there are. */
async function list(runs: TestRuns, files: readonly string[], plan: RunPlan, output: Output): Promise<number> {
  const sources = await runs.bundle(files);
  const opener = await runs.opener();
  let count = 0;
  for (const file of files) {
    const { tests } = await runs.file(opener, file, sources, plan, () => {}, '', true);
    output.print(paint(output, 'bold', file));
    for (const { id, name } of tests) output.print(`  ${String(id).padStart(3)}  ${name}`);
    count += tests.length;
  }
  output.print(`${count} test${count === 1 ? '' : 's'} in ${files.length} file${files.length === 1 ? '' : 's'}.`);
  return count > 0 ? 0 : 1;
}

/** Runs what a change concerns; never resolves. */
async function again(
  root: string,
  runs: TestRuns,
  files: readonly string[],
  plan: RunPlan,
  options: Options,
  reporters: readonly LoadedReporter[],
  output: Output,
): Promise<never> {
  let changed = new Set<string>();
  let running = Promise.resolve();
  let timer: ReturnType<typeof setTimeout> | undefined;
  const go = async () => {
    const paths = changed;
    changed = new Set();
    const concerned = files.filter(file => [...(runs.sources.get(file) ?? [])].some(source => paths.has(source)));
    if (concerned.length === 0) return;
    try {
      await once(root, runs, concerned, plan, options, reporters);
    } catch (error) {
      complainOf(error, output);
    }
  };
  const watcher = watch(root, {
    ignoreInitial: true,
    ignored: path =>
      /[\\/](?:node_modules|\.git|dist|coverage)(?:[\\/]|$)/.test(relative(root, path) && `/${relative(root, path)}`),
  });
  onChanges(watcher, root, (_, path) => {
    changed.add(path);
    clearTimeout(timer);
    timer = setTimeout(() => {
      running = running.then(go);
    }, 15);
  });
  await begun(watcher);
  output.print('\nWatching. Press Ctrl+C to stop.');
  return new Promise(() => {});
}

async function findTests(root: string, patterns: readonly string[], out: string): Promise<string[]> {
  const tests = '*.test.{ts,js,mts,mjs}';
  const wanted = patterns.map(pattern => {
    const path = relative(root, resolve(root, pattern)).replaceAll('\\', '/');
    return statSync(join(root, path), { throwIfNoEntry: false })?.isDirectory()
      ? `${path ? `${path}/` : ''}**/${tests}`
      : path;
  });
  const found = await glob(wanted.length > 0 ? wanted : [`**/${tests}`], {
    cwd: root,
    ignore: ['**/node_modules/**', `${out}/**`],
  });
  const files = found.filter(file => /\.[cm]?[jt]s$/.test(file)).sort();
  if (files.length > 0) return files;
  throw new ToolError(
    'no-test-files',
    patterns.length > 0
      ? `No file matches ${patterns.map(pattern => `"${pattern}"`).join(', ')}. Name a test file, or a glob in quotes: "src/**/*.test.ts".`
      : 'There is no test file here. Write one beside its element, for example src/hive-card.test.ts.',
    undefined,
    undefined,
    2,
  );
}

function placesFor(options: Options, output: Output): Place[] {
  if (options.grid) {
    needPackage('selenium-webdriver', 'A WebDriver server');
    const { grid, capabilities = { browserName: 'chrome' }, sessions } = options;
    if (!URL.canParse(grid) || !/^https?:$/.test(new URL(grid).protocol))
      throw new ToolError(
        'grid-session',
        `--grid ${grid} is no address. Write that of a WebDriver server, for example --grid http://grid.example:4444.`,
        undefined,
        undefined,
        2,
      );
    return [
      { kind: 'sessions', name: grid, start: () => startGridSession(grid, capabilities), count: Math.max(1, sessions) },
    ];
  }
  if (options.in === undefined) {
    const found = foundEngines();
    if (found.length > 0) {
      // To stderr: the report may be for machines.
      for (const { name, install } of Object.values(engines).filter(engine => !found.includes(engine)))
        output.complain(`${name} is not installed, so the tests do not run there. ${install}`);
      return found.map(engine => ({ kind: 'engine', engine }));
    }
    output.print(
      'No browser engine was found, so the tests run in the simulated DOM (jsdom): no layout, no trusted input.',
    );
    for (const { install } of Object.values(engines)) output.print(`  ${install}`);
    needPackage('jsdom', 'The simulated DOM');
    return [{ kind: 'simulated' }];
  }
  return enginesFor(options.in, ['simulated']).map(engine => {
    if (typeof engine !== 'string') return { kind: 'engine', engine };
    needPackage('jsdom', 'The simulated DOM');
    return { kind: 'simulated' };
  });
}

async function isolate(runs: TestRuns, files: readonly string[], plan: RunPlan, output: Output): Promise<number> {
  const sources = await runs.bundle(files);
  const opener = await runs.opener();
  let found = 0;
  for (const file of files) {
    const run = (order: readonly number[] | null) =>
      runs.file(opener, file, sources, planFor(plan, order), () => {}, '', order === null);
    for (const { test, alone, after } of await findDependences(file, plan.seed ?? 1, run)) {
      found++;
      const names = after.map(({ name }) => `"${name}"`).join(' and ');
      output.print(
        `${file} ${paint(output, 'red', 'finding')} (order-dependent): "${test.name}" ${alone} alone, and ${alone === 'passes' ? 'fails' : 'passes'} after ${names}.`,
      );
      output.print(
        `  npx eltrix test ${file} --in ${opener.name} --order ${[...after, test].map(({ id }) => id).join(',')}`,
      );
    }
  }
  output.print(
    found === 0
      ? `No test of ${files.length} file${files.length === 1 ? '' : 's'} depends on what ran before it, in ${opener.name}.`
      : `${found} test${found === 1 ? ' depends' : 's depend'} on what ran before.`,
  );
  return found === 0 ? 0 : 1;
}

function printCoverage(runs: TestRuns, root: string, output: Output): void {
  const rows = runs.coverage!.rows();
  if (rows.length === 0) {
    output.print('No coverage: it is counted in Chromium, and no source of the project ran there.');
    return;
  }
  const percent = (covered: number, all: number) => `${((covered / all) * 100).toFixed(1)} %`;
  const [covered, all] = [rows.reduce((sum, row) => sum + row.covered, 0), rows.reduce((sum, row) => sum + row.all, 0)];
  const [head, ...lines] = table(
    ['lines', 'covered', 'not run'],
    [...rows.map(row => [row.file, percent(row.covered, row.all), row.missing]), ['all', percent(covered, all), '']],
  );
  output.print(`\n${paint(output, 'bold', head!)}`);
  for (const line of lines) output.print(line);
  const path = 'coverage/lcov.info';
  runs.coverage!.writeLcov(root, path);
  output.print(`\n${join('.', path)}`);
}
