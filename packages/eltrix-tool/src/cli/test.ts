import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { Command } from 'commander';
import { glob } from 'tinyglobby';
import { needDisplay } from '../engines/display.ts';
import type { Engine } from '../engines/engine.ts';
import type { CoverageRow } from '../engines/run/coverage.ts';
import { findDependences, planFor } from '../engines/run/isolate.ts';
import { mergedEvents } from '../engines/run/recorded.ts';
import { type Place, TestRuns } from '../engines/run/run.ts';
import { runnableLines } from '../engines/run/runnable-lines.ts';
import { readConfiguration } from '../project/config.ts';
import { fromProject } from '../project/place.ts';
import { textOf } from '../project/seen.ts';
import { ToolError } from '../project/tool-error.ts';
import type { RunPlan } from '../testing/plan.ts';
import { enginesFor } from './engine-choice.ts';
import { complainOf, type Output, paint, table } from './output.ts';
import { findTests, placesFor } from './test-files.ts';
import { open } from './test-open.ts';
import { type TestOptions, withTestOptions } from './test-options.ts';
import { TestReports } from './test-reports.ts';
import { type ChangedFiles, watchSources } from './test-watch.ts';

/** `eltrix test`: the tests in real engines, reported by Node's runner. */
export function testCommand(output: Output): Command {
  return withTestOptions(new Command('test')).action(async (patterns: string[], options: TestOptions) => {
    try {
      process.exitCode = await test(
        process.cwd(),
        patterns.map(pattern => fromProject(pattern)),
        options,
        output,
      );
    } catch (error) {
      process.exitCode = complainOf(error, output);
    }
  });
}

/** The options shared by all runs of a call. */
interface Call {
  readonly root: string;
  /** The output folder, relative to the root. */
  readonly out: string;
  /** The folder of the sources. */
  readonly source: string;
  readonly files: readonly string[];
  /** Finds the files again. */
  readonly find: () => Promise<readonly string[]>;
  readonly runs: TestRuns;
  readonly plan: RunPlan;
  readonly options: TestOptions;
  readonly reports: TestReports;
  readonly output: Output;
}

async function test(root: string, patterns: readonly string[], options: TestOptions, output: Output): Promise<number> {
  if (options.merge) return merge(root, options);
  const configuration = await readConfiguration(root);
  const { out } = configuration;
  const [part, of] = options.shard ?? [1, 1];
  const all = () => findTests(root, patterns, out);
  const find = async () => (await all()).filter((_, at) => at % of === part - 1);
  const files = await find();
  if (files.length === 0) {
    output.complain(`Part ${part} of ${of} has no test file: there are ${(await all()).length}.`);
    return 0;
  }
  // A missing engine stops the run.
  if (options.require !== undefined) enginesFor(options.require);
  const reports = await TestReports.load(root, options.report);
  const run = {
    root,
    form: { compiled: Boolean(options.compiled || options.production), production: options.production ?? false },
    policy: configuration.testPolicy,
    accept: options.accept ?? false,
    isTest: (file: string) => files.includes(file) || /\.test\.[cm]?[jt]s$/.test(file),
  };
  const attended = options.open !== undefined || options.debug === true;
  const plan: RunPlan = {
    seed: seedOf(options, attended),
    match: options.match ?? [],
    times: options.times,
    order: options.order ?? null,
    done: [],
    // A test may stop at a breakpoint for any time.
    timeout: attended ? longest : options.timeout,
    clean: options.clean,
  };
  if (options.open !== undefined) {
    return open({ root, out, run, plan, files: find, where: options.open, port: options.port, output });
  }
  if (options.debug) needDisplay('--debug');
  const runs = new TestRuns({
    ...run,
    places: options.debug ? [debugPlace(options, output)] : placesFor(options, output),
    coverage: options.coverage ?? false,
    atOnce: options.debug ? 1 : 2,
    endless: options.debug ?? false,
    watch: options.watch,
    retry: options.retry,
    failurePictures: reports.hasPictures,
  });
  process.once('exit', () => void runs.end());
  const call: Call = { root, out, source: configuration.source, files, find, runs, plan, options, reports, output };
  await runs.begin();
  try {
    if (options.list) return await list(call);
    if (options.isolate) return await isolate(call);
    const say = reports.forPeople ? output.print : output.complain;
    if (plan.seed !== null) say(`Random test order. Repeat it with --shuffle=${plan.seed}.`);
    let code = await once(call, files);
    if (runs.coverage) await printCoverage(call);
    if (options.watch) code = await again(call);
    return code;
  } finally {
    await runs.end();
  }
}

/** The longest delay of a timer (HTML §8.6), in milliseconds. */
const longest = 2 ** 31 - 1;

/** With --open and --debug the tests run in source order. */
function seedOf({ shuffle, order }: TestOptions, attended: boolean): number | null {
  if (typeof shuffle === 'number') return shuffle;
  return shuffle === false || order || attended ? null : Math.floor(Math.random() * 1e6);
}

/** One engine with a window: its pages wait for Enter in the terminal. */
function debugPlace({ in: named, grid }: TestOptions, output: Output): Place {
  const [engine, ...others] = enginesFor(named) as Engine[];
  if (!engine || grid !== undefined || (named !== undefined && others.length > 0))
    throw new ToolError(
      'debug-engine',
      'Name one engine that is installed here: --debug --in chromium.',
      undefined,
      undefined,
      2,
    );
  const lines = createInterface({ input: process.stdin });
  const waits = async (when: 'begin' | 'end') => {
    output.complain(
      when === 'begin'
        ? 'Set breakpoints in the developer tools of the window, then press Enter here to run the tests.'
        : 'The tests have run; the page stays. Press Enter here to close it.',
    );
    lines.resume();
    // stdin has ended, so Enter cannot be pressed.
    if (!process.stdin.readableEnded) await new Promise(resolve => lines.once('line', resolve).once('close', resolve));
    lines.pause();
  };
  return { kind: 'engine', engine, attended: { waits } };
}

async function once({ runs, plan, options, reports, output }: Call, files: readonly string[]): Promise<number> {
  const report = reports.begin(runs.options.places.length > 1);
  let [tests, failures] = [0, 0];
  const sources = await runs.bundle(files);
  const outcomes = await runs.run(files, sources, plan, event => {
    if (event.type === 'start' && !event.suite) tests++;
    if (event.type === 'end' && event.outcome === 'failed') {
      failures++;
      if (options.bail) runs.stop();
    }
    report.take(event);
  });
  const code = await report.end();
  const { notes, problems } = runs.finishStored(files, outcomes);
  const say = reports.forPeople ? output.print : output.complain;
  for (const note of notes) say(note);
  for (const problem of problems)
    output.complain(`eltrix ${paint(output, 'red', 'error')} (snapshot-engines): ${problem}`);
  if (problems.length > 0) return 1;
  if (tests > 0 || failures > 0 || code !== 0) return code;
  throw new ToolError(
    'no-tests',
    plan.match.length > 0
      ? `No test has a name that matches ${plan.match.map(pattern => `"${pattern}"`).join(' or ')}.`
      : 'No test ran.',
  );
}

/** Reports recorded runs. */
async function merge(root: string, options: TestOptions): Promise<number> {
  const found = await glob([...options.merge!], { cwd: root, absolute: true });
  if (found.length === 0)
    throw new ToolError('merge-file', `No file matches ${options.merge!.join(', ')}.`, undefined, undefined, 2);
  const events = [...mergedEvents(found.sort())];
  const engines = events.filter(event => event.type === 'start' && event.parent === null).length;
  const report = (await TestReports.load(root, options.report)).begin(engines > 1);
  for (const event of events) report.take(event);
  return report.end();
}

/** Lists the tests. */
async function list({ runs, files, plan, output }: Call): Promise<number> {
  const sources = await runs.bundle(files);
  const engine = await runs.first();
  let count = 0;
  for (const file of files) {
    const { tests } = await runs.file({ engine, file, sources, plan, report: () => {}, parent: '', list: true });
    output.print(paint(output, 'bold', file));
    for (const { id, name } of tests) output.print(`  ${String(id).padStart(3)}  ${name}`);
    count += tests.length;
  }
  output.print(`${count} test${count === 1 ? '' : 's'} in ${files.length} file${files.length === 1 ? '' : 's'}.`);
  return count > 0 ? 0 : 1;
}

/** Runs the tests affected by a change; never resolves. */
async function again(call: Call): Promise<never> {
  const { root, out, runs, find, output } = call;
  let running = Promise.resolve();
  const go = async (changed: ChangedFiles) => {
    try {
      const concerned = runs.concernedBy(changed, await find());
      if (concerned.length === 0) return;
      await once(call, concerned);
    } catch (error) {
      complainOf(error, output);
    }
    runs.prepare();
  };
  runs.prepare();
  await watchSources(root, out, changed => {
    running = running.then(() => go(changed));
  });
  output.print('\nWatching. Press Ctrl+C to stop.');
  return new Promise(() => {});
}

async function isolate({ runs, files, plan, output }: Call): Promise<number> {
  const sources = await runs.bundle(files);
  const engine = await runs.first();
  let found = 0;
  for (const file of files) {
    const run = (order: readonly number[] | null) =>
      runs.file({
        engine,
        file,
        sources,
        plan: planFor(plan, order),
        report: () => {},
        parent: '',
        list: order === null,
        isFollowed: () => true,
      });
    for (const { test, alone, after } of await findDependences(file, plan.seed ?? 1, run)) {
      found++;
      const names = after.map(({ name }) => `"${name}"`).join(' and ');
      output.print(
        `${file} ${paint(output, 'red', 'finding')} (order-dependent): "${test.name}" ${alone} alone, and ${alone === 'passes' ? 'fails' : 'passes'} after ${names}.`,
      );
      output.print(
        `  npx eltrix test ${file} --in ${engine.name} --order ${[...after, test].map(({ id }) => id).join(',')}`,
      );
    }
  }
  output.print(
    found === 0
      ? `No test of ${files.length} file${files.length === 1 ? '' : 's'} depends on what ran before it, in ${engine.name}.`
      : `${found} test${found === 1 ? ' depends' : 's depend'} on what ran before.`,
  );
  return found === 0 ? 0 : 1;
}

async function printCoverage({ runs, root, source, output }: Call): Promise<void> {
  const sources = await glob([`${source}/**/*.{ts,js,mts,mjs,tsx,jsx}`], {
    cwd: root,
    ignore: ['**/node_modules/**', '**/*.d.ts'],
  });
  for (const file of sources) runs.coverage!.addUnloaded(file, runnableLines(file, textOf(join(root, file))));
  const rows = runs.coverage!.rows();
  if (rows.length === 0) {
    output.print('No coverage: it is counted in Chromium, and no source of the project ran there.');
    return;
  }
  const percent = (covered: number, all: number) => (all === 0 ? '-' : `${((covered / all) * 100).toFixed(1)} %`);
  const sum = (of: (row: CoverageRow) => number) => rows.reduce((total, row) => total + of(row), 0);
  const line = (row: CoverageRow) => [
    row.file,
    percent(row.covered, row.all),
    percent(row.coveredBranches, row.allBranches),
  ];
  const all: CoverageRow = {
    file: 'all',
    covered: sum(row => row.covered),
    all: sum(row => row.all),
    coveredBranches: sum(row => row.coveredBranches),
    allBranches: sum(row => row.allBranches),
    missing: '',
  };
  const [head, ...lines] = table(['file', 'lines', 'branches'], [...rows, all].map(line));
  const missing = ({ covered, missing }: CoverageRow) =>
    covered === 0 ? 'none ran' : missing.length > 60 ? `${missing.slice(0, missing.lastIndexOf(',', 60))}, …` : missing;
  output.print(`\n${paint(output, 'bold', `${head}   lines not run`)}`);
  for (const [at, line] of lines.entries()) output.print(`${line}   ${rows[at] ? missing(rows[at]) : ''}`.trimEnd());
  const path = 'coverage/lcov.info';
  runs.coverage!.writeLcov(root, path);
  output.print(`\n${join('.', path)}`);
}
