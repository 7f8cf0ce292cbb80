/** A run of test files: engines in parallel, several files at a time in each. */
import { join } from 'node:path';
import { ToolError } from '../../project/tool-error.ts';
import type { Form } from '../../testing/host.ts';
import type { RegisteredTest, RunPlan } from '../../testing/plan.ts';
import type { Engine, Session } from '../engine.ts';
import { Sessions } from '../sessions.ts';
import { SimulatedEngine } from '../simulated.ts';
import { bundleTests, type TestBundles } from './bundle.ts';
import { Coverage } from './coverage.ts';
import { type FileOutcome, type FileRun, runFile } from './file-run.ts';
import { browserOpener, type Opener, simulatedOpener } from './opener.ts';
import { runWithRetries } from './retry.ts';
import { startTestServer, type TestServer } from './server.ts';
import { Sources } from './sources.ts';
import { Pictures } from './stored/pictures.ts';
import { Snapshots } from './stored/snapshots.ts';
import type { TreeError, TreeEvent } from './tree.ts';

/** The place where tests run: an engine that the tool starts, a session of a grid, or the simulated DOM. */
export type Place =
  | { readonly kind: 'engine'; readonly engine: Engine; readonly attended?: Attended }
  | { readonly kind: 'sessions'; readonly name: string; readonly start: () => Promise<Session>; readonly count: number }
  | { readonly kind: 'simulated' }
  /** A page that a user has open; `opener` shows test pages in it. */
  | { readonly kind: 'reader'; readonly name: string; opener(server: TestServer): Opener };

/** An engine with a visible window. */
export interface Attended {
  /** What its pages await before their first test, and before they are closed. */
  waits(when: 'begin' | 'end'): Promise<void>;
}

export interface RunOptions {
  readonly root: string;
  readonly places: readonly Place[];
  readonly form: Form;
  /** The content security policy of the pages. */
  readonly policy: string | undefined;
  readonly coverage: boolean;
  /** Whether pages have no time limits. */
  readonly endless?: boolean;
  /** How many files run at a time in an engine. */
  readonly atOnce: number;
  /** Whether other runs follow, after changes. */
  readonly watch?: boolean | undefined;
  /** How often a failed test is run again, in a separate page; a test that passes then is flaky. */
  readonly retry?: number;
  /** Whether different snapshots and pictures replace the stored ones. */
  readonly accept?: boolean;
  /** Whether to take a picture of the page when a test fails. */
  readonly failurePictures?: boolean;
  readonly isTest: (file: string) => boolean;
}

interface Started {
  readonly name: string;
  readonly title: string;
  readonly openers: readonly Opener[];
  /** How many files run at a time in each opener. */
  readonly atOnce: number;
  /** Opens blank pages ahead. */
  prepare?(): Promise<void>;
  close(): Promise<void>;
}

/** One file in one engine. */
export interface FileCall {
  readonly engine: { readonly name: string; readonly title: string; readonly opener: Opener };
  readonly file: string;
  readonly sources: Sources;
  readonly plan: RunPlan;
  readonly report: (event: TreeEvent) => void;
  /** Called with the tests of a file after it was loaded. */
  readonly registered?: ((file: string, tests: readonly RegisteredTest[]) => void) | undefined;
  /** The parent of the file's node in the tree. */
  readonly parent: string;
  readonly list?: boolean;
  /** Whether another file follows. */
  readonly isFollowed?: () => boolean;
}

const usualGrace = 3000;

/** Keeps engines, server and bundle between runs. */
export class TestRuns {
  readonly coverage: Coverage | undefined;
  readonly snapshots: Snapshots;
  readonly pictures: Pictures;
  #server: TestServer | undefined;
  #started: Promise<Started>[] = [];
  #simulated: SimulatedEngine | undefined;
  #bundle: TestBundles | undefined;
  /** The sources of each test file, as last bundled. */
  readonly #sources = new Map<string, ReadonlySet<string>>();
  /** The test files that could not be bundled. */
  readonly #failed = new Set<string>();
  #stopped = false;

  constructor(readonly options: RunOptions) {
    this.snapshots = new Snapshots(options.root, options.accept ?? false);
    this.pictures = new Pictures(options.root, options.accept ?? false);
    this.coverage = options.coverage ? new Coverage(options.isTest) : undefined;
  }

  /**
   * The test files that changes concern. One that is new, or could not be bundled, may need any file that was added.
   * @param paths the absolute paths of changed files, and whether each was added or removed.
   */
  concernedBy(paths: ReadonlyMap<string, boolean>, files: readonly string[]): string[] {
    const areOthers = [...paths.values()].includes(true);
    return files.filter(file => {
      const sources = this.#sources.get(file);
      if (!sources || (areOthers && this.#failed.has(file))) return true;
      return [...sources].some(path => paths.has(path));
    });
  }

  /** Starts the engines while the tests are bundled. */
  async begin(): Promise<void> {
    const { root, policy, places } = this.options;
    const server = startTestServer(root, policy);
    this.#server = server;
    this.#started = places.map(place => this.#start(place, server));
    // Reported when they are used.
    for (const started of this.#started) started.catch(() => {});
  }

  async #start(place: Place, server: TestServer): Promise<Started> {
    if (place.kind === 'simulated') {
      const engine = (this.#simulated ??= new SimulatedEngine());
      return {
        name: 'simulated',
        title: engine.version,
        openers: [simulatedOpener(engine)],
        atOnce: this.options.atOnce,
        close: async () => engine.close(),
      };
    }
    if (place.kind === 'reader')
      return { name: place.name, title: place.name, openers: [place.opener(server)], atOnce: 1, close: async () => {} };
    const attended = place.kind === 'engine' ? place.attended : undefined;
    const starts =
      place.kind === 'engine'
        ? [() => place.engine.start({ window: attended !== undefined, developerTools: attended !== undefined })]
        : Array.from({ length: place.count }, () => place.start);
    const started = starts.map(start => new Sessions(start));
    const sessions = await Promise.all(started.map(({ current }) => current));
    const takesPictures = place.kind !== 'engine' || place.engine.picturesApart !== true;
    return {
      name: sessions[0]!.name,
      title: sessions[0]!.version,
      openers: sessions.map((session, at) =>
        browserOpener(started[at]!, session, server, takesPictures, attended?.waits),
      ),
      atOnce: sessions.length > 1 || sessions[0]!.oneInFront ? 1 : this.options.atOnce,
      prepare: async () => {
        for (const { current } of started) (await current).prepare?.();
      },
      close: async () => void (await Promise.all(started.map(one => one.end()))),
    };
  }

  /** Makes the next run begin sooner, while nothing runs. */
  prepare(): void {
    for (const starting of this.#started) starting.then(started => started.prepare?.()).catch(() => {});
  }

  /** Stops the run: no further file starts. */
  stop(): void {
    this.#stopped = true;
  }

  /** Allows files to run after `stop`. */
  resume(): void {
    this.#stopped = false;
  }

  /** Bundles the files again. */
  async bundle(files: readonly string[]): Promise<Sources> {
    const { root, form } = this.options;
    this.#bundle = await bundleTests(root, files, form);
    for (const [file, sources] of this.#bundle.sources) {
      this.#sources.set(file, sources);
      this.#failed.delete(file);
    }
    for (const file of this.#bundle.failures.keys()) this.#failed.add(file);
    this.#server!.setFiles(this.#bundle);
    this.#simulated?.setFiles(this.#bundle.files);
    return new Sources(root, this.#bundle.files);
  }

  /** Runs files in all engines. @returns the outcome of each file, by engine and file. */
  async run(
    files: readonly string[],
    sources: Sources,
    plan: RunPlan,
    report: (event: TreeEvent) => void,
  ): Promise<Map<string, FileOutcome>> {
    const outcomes = new Map<string, FileOutcome>();
    this.#stopped = false;
    await Promise.all(
      this.#started.map(async (starting, i) => {
        const node = `${i}`;
        let started: Started;
        try {
          started = await starting;
        } catch (error) {
          report({
            type: 'start',
            id: node,
            parent: null,
            name: nameOf(this.options.places[i]!),
            suite: true,
            at: this.#at(),
          });
          // Messages of the tool need no stack.
          const { message, stack = '' } = error as Error;
          const shown =
            error instanceof ToolError
              ? { name: 'Error', message: `(${error.code}): ${message}`, stack: '' }
              : { name: 'Error', message, stack };
          report({ type: 'end', id: node, outcome: 'failed', diagnostics: [], error: shown });
          return;
        }
        this.#simulated?.setFiles(this.#bundle!.files);
        report({ type: 'start', id: node, parent: null, name: started.title, suite: true, at: this.#at() });
        const waiting = [...files];
        const lanes = started.openers.flatMap(opener => Array.from({ length: started.atOnce }, () => opener));
        await Promise.all(
          lanes.map(async opener => {
            const engine = { ...started, opener };
            for (let file = waiting.shift(); file !== undefined && !this.#stopped; file = waiting.shift()) {
              const isFollowed = () => waiting.length > 0 || this.options.watch === true;
              const call = { engine, file, sources, plan, report, parent: node, isFollowed };
              outcomes.set(`${started.name} ${file}`, await this.file(call));
            }
          }),
        );
        const problem = this.pictures.problemOf(started.name);
        if (problem !== undefined) {
          const id = `${node}/pictures`;
          report({ type: 'start', id, parent: node, name: 'pictures', suite: false, at: this.#at('pictures') });
          const error = { name: 'Error', message: problem, stack: '' };
          report({ type: 'end', id, outcome: 'failed', diagnostics: [], error });
        }
        report({ type: 'end', id: node, outcome: 'passed', diagnostics: [] });
      }),
    );
    return outcomes;
  }

  /** Runs one file in one engine. `list` only lists its tests. */
  async file({
    engine,
    file,
    sources,
    plan,
    report,
    registered,
    parent,
    list = false,
    isFollowed = () => false,
  }: FileCall): Promise<FileOutcome> {
    const { opener } = engine;
    const node = `${parent}/${file}`;
    report({ type: 'start', id: node, parent, name: file, suite: true, at: this.#at(file) });
    const failure = this.#bundle!.failures.get(file);
    if (failure) {
      report({ type: 'end', id: node, outcome: 'failed', diagnostics: [], error: shownFailure(failure) });
      return { tests: [], failed: new Set(), passed: new Set(), printed: [] };
    }
    const given: FileRun = {
      opener,
      sources,
      module: this.#bundle!.modules.get(file)!,
      plan,
      form: this.options.form,
      node,
      at: this.#at(file),
      coverage: this.coverage !== undefined && opener.name === 'chromium',
      stored: this.snapshots.forPage(file),
      failurePictures: this.options.failurePictures ?? false,
      isFollowed,
      picture: (request, shot) =>
        this.pictures.compare({ name: engine.name, version: engine.title }, file, request, shot),
      snapshot: message => {
        if (message.type === 'snapshot') return this.snapshots.hear(engine.title, file, message.key, message.text);
        const at = sources.site(message.site);
        if (at) this.snapshots.hearInline(file, { ...at, text: message.text });
      },
      // A breakpoint may stop it for any time.
      grace: this.options.endless ? Number.POSITIVE_INFINITY : usualGrace,
      report,
      covered: scripts => this.coverage?.add(scripts, sources),
      stopped: () => this.#stopped,
      registered: tests => registered?.(file, tests),
    };
    const { retry = 0 } = this.options;
    const outcome = retry > 0 && !list ? await runWithRetries(given, retry) : await runFile(given, list);
    // A file of a stopped run may not have reached its tests.
    if (!isWhole(outcome, plan) || this.#stopped) this.snapshots.partly(file);
    const empty = outcome.tests.length === 0 && outcome.failed.size === 0 && !this.#stopped;
    const error = {
      name: 'Error',
      message: `(no-tests): ${file} has no test in it. Write one: it('…', () => { … }).`,
      stack: '',
    };
    report({
      type: 'end',
      id: node,
      outcome: empty ? 'failed' : 'passed',
      diagnostics: outcome.printed,
      error: empty ? error : undefined,
    });
    return outcome;
  }

  /** The position of a file; engines have none. */
  #at(file = 'engines') {
    return { path: join(this.options.root, file), line: 1, column: 1 };
  }

  /**
   * Stores accepted snapshots and pictures at the end of a run.
   * @returns what was stored, and what could not be.
   */
  finishStored(
    files: readonly string[],
    outcomes: ReadonlyMap<string, FileOutcome>,
  ): { readonly notes: readonly string[]; readonly problems: readonly string[] } {
    const { notes, problems } = this.snapshots.finish();
    const whole = files.filter(file =>
      [...outcomes].every(
        ([key, { tests, passed }]) => !key.endsWith(` ${file}`) || tests.every(({ id }) => passed.has(id)),
      ),
    );
    return { notes: [...notes, ...this.pictures.notes(whole)], problems };
  }

  /** The first engine, for searching runs. */
  async first(): Promise<{ readonly name: string; readonly title: string; readonly opener: Opener }> {
    const { name, title, openers } = await this.#started[0]!;
    return { name, title, opener: openers[0]! };
  }

  async end(): Promise<void> {
    await Promise.all(this.#started.map(starting => starting.then(started => started.close()).catch(() => {})));
    this.#server?.close();
    this.#simulated?.close();
  }
}

/** Whether all tests of a file have run, so that unused snapshots are really unused. */
function isWhole({ tests, passed, failed }: FileOutcome, { match, order }: RunPlan): boolean {
  return match.length === 0 && order === null && tests.every(({ id }) => passed.has(id)) && failed.size === 0;
}

/** The reason why a file was not bundled, with the author's line. */
function shownFailure({ code, message, position, excerpt }: ToolError): TreeError {
  const where = position
    ? [position.file, position.line, position.column].filter(part => part !== undefined).join(':')
    : '';
  const lines = [
    `Error: (${code}): ${message}`,
    ...(excerpt ? ['', ...excerpt.split('\n')] : []),
    ...(where ? ['', `    at ${where}`] : []),
  ];
  return { name: 'Error', message: `(${code}): ${message}`, stack: lines.join('\n') };
}

function nameOf(place: Place): string {
  return place.kind === 'engine' ? place.engine.name : place.kind === 'simulated' ? 'simulated' : place.name;
}
