/** Runs one test file in one engine, even if its page is lost. */
import type { Form } from '../../testing/host.ts';
import type { PageMessage } from '../../testing/page.ts';
import type { PictureOutcome, PictureRequest } from '../../testing/picture.ts';
import type { RegisteredTest, RunPlan, SnapshotMessage, StoredSnapshots } from '../../testing/plan.ts';
import { type ReportedError, serialize } from '../../testing/serialize.ts';
import type { ScriptCoverage } from '../engine.ts';
import type { Opener } from './opener.ts';
import type { Sources } from './sources.ts';
import type { Attachment } from './stored/pictures.ts';
import type { TreeError, TreeEvent } from './tree.ts';

export interface FileRun {
  readonly opener: Opener;
  readonly sources: Sources;
  /** The test file's module among the bundled files. */
  readonly module: string;
  readonly plan: RunPlan;
  readonly form: Form;
  /** The file's node in the tree. */
  readonly node: string;
  readonly at: NonNullable<Extract<TreeEvent, { type: 'start' }>['at']>;
  readonly coverage: boolean;
  readonly stored: StoredSnapshots;
  /** Whether to take a picture of the page when a test fails. */
  readonly failurePictures: boolean;
  /** Whether another file follows. */
  readonly isFollowed: () => boolean;
  /** A test requests a picture; the PNG shows the window. */
  picture(request: PictureRequest, shot: Uint8Array): PictureOutcome & { readonly attachments: readonly Attachment[] };
  /** The file was loaded, with these tests. */
  registered?(tests: readonly RegisteredTest[]): void;
  /** A test has compared a snapshot. */
  snapshot(message: SnapshotMessage): void;
  /** How long a page may be silent beyond the time limit of its test, in milliseconds. */
  readonly grace: number;
  report(event: TreeEvent): void;
  covered?(scripts: readonly ScriptCoverage[]): void;
  /** Whether the run is stopped: no further test of the file is awaited. */
  stopped?(): boolean;
}

export interface FileOutcome {
  tests: readonly RegisteredTest[];
  readonly failed: Set<number>;
  readonly passed: Set<number>;
  /** Output outside suites and tests. */
  readonly printed: string[];
}

/** A running test or suite. */
interface Open {
  readonly id: number;
  readonly name: string;
  readonly suite: boolean;
  /** The latest time at which it ends, as in `performance.now()`: the clock of the machine may be set meanwhile. */
  readonly until: number;
}

type Ended =
  | {
      readonly kind: 'finished';
      /** Whether another page may be shown in its tab. */
      readonly unchanged: boolean;
    }
  | {
      readonly kind: 'lost';
      readonly reason: string;
      /** Whether it has stopped answering. */
      readonly silent?: boolean;
      /** Whether any code of the file may have run in it. */
      readonly begun: boolean;
      readonly open: readonly Open[];
    };

const openTime = 20_000;
const loadTime = 30_000;
/** How often a page is opened again in which no test has begun. */
const mostOpenings = 3;
/** The number of lost pages after which a file is given up. */
const mostPages = 50;

/** @returns the tests of the file, with their outcomes. */
export async function runFile(run: FileRun, list = false): Promise<FileOutcome> {
  const outcome: FileOutcome = { tests: [], failed: new Set(), passed: new Set(), printed: [] };
  const visits = new Visits(run, list, outcome);
  let unopened = 0;
  for (let pages = 1; ; pages++) {
    const ended = await visits.next();
    if (ended.kind === 'finished') return outcome;
    // Not the file's fault: a busy browser may lose a page before it has loaded.
    if (!ended.begun && ++unopened < mostOpenings) continue;
    // Its last messages may have been lost.
    if (ended.silent && !run.opener.deliversWhileBusy && !visits.careful) {
      visits.careful = true;
      continue;
    }
    const running = ended.open.filter(({ suite }) => !suite);
    for (const { id } of running.reverse()) visits.fail(id, ended.reason);
    if (running.length > 0 && pages < mostPages) continue;
    for (const { id } of ended.open.filter(({ suite }) => suite).reverse()) visits.end(id, ended.reason);
    visits.failOutside('the page', lostError(ended.reason));
    return outcome;
  }
}

const lostError = (message: string): TreeError => ({ name: 'Error', message, stack: '', code: 'page-lost' });

class Visits {
  /** Whether tests wait until the tool knows that they run. */
  careful = false;
  readonly #done: number[] = [];
  /** Nodes that were reported to begin, and not to end. */
  readonly #begun = new Set<number>();
  /** Pictures of the running test. */
  #attachments: Attachment[] = [];

  constructor(
    readonly run: FileRun,
    readonly list: boolean,
    readonly outcome: FileOutcome,
  ) {}

  /** The page of a test was lost: the test has failed, and is not run again. */
  fail(id: number, reason: string): void {
    this.#done.push(id);
    this.outcome.failed.add(id);
    this.end(id, reason);
  }

  end(id: number, reason: string): void {
    this.#begun.delete(id);
    this.run.report({ type: 'end', id: this.node(id), outcome: 'failed', diagnostics: [], error: lostError(reason) });
  }

  /** A failure outside the file's tests. */
  failOutside(name: string, error: TreeError): void {
    const { run } = this;
    const id = `${run.node}/${name}`;
    run.report({ type: 'start', id, parent: run.node, name, suite: false, at: run.at });
    run.report({ type: 'end', id, outcome: 'failed', diagnostics: [], error });
    this.outcome.failed.add(-1);
  }

  node(id: number | null): string {
    return id === null ? this.run.node : `${this.run.node}/${id}`;
  }

  /** Opens the file in a new page and runs the remaining tests. */
  async next(): Promise<Ended> {
    const { run, list } = this;
    const open: Open[] = [];
    let last = performance.now();
    let begun = false;
    let finish!: (ended: Ended) => void;
    const finished = new Promise<Ended>(resolve => {
      finish = resolve;
    });
    const page = run.opener.open({
      module: run.module,
      plan: { ...run.plan, done: [...this.#done] },
      list,
      form: run.form,
      coverage: run.coverage,
      stored: run.stored,
      failurePictures: run.failurePictures,
      isFollowed: run.isFollowed,
      careful: this.careful,
      picture: (request, shot) => {
        const { attachments, ...outcome } = run.picture(request, shot);
        this.#attachments.push(...attachments);
        return outcome;
      },
      failurePicture: shot =>
        void this.#attachments.push({ name: 'when it failed', png: Buffer.from(shot).toString('base64') }),
      hear: message => {
        last = performance.now();
        begun = true;
        if (message.type === 'left') {
          // Earlier messages may not have arrived.
          const { test } = message;
          if (test && !open.some(({ id }) => id === test.id)) this.hear(test, open);
          const isBlamed = ({ id, suite }: Open) => suite || !test || id === test.id;
          return finish(
            lost(
              `(page-lost): The page went to another address${test ? ` while "${test.name}" ran` : ''}. Prevent it in the test, for example with event.preventDefault(). The page was replaced, and the run continues.`,
              open.filter(isBlamed),
            ),
          );
        }
        if (this.hear(message, open))
          finish({ kind: 'finished', unchanged: message.type === 'finished' && message.unchanged });
      },
    });
    const lost = (reason: string, blamed: readonly Open[] = open): Ended => ({
      kind: 'lost',
      reason,
      begun,
      open: [...blamed],
    });
    const silent = (reason: string): Ended => ({ ...lost(reason), silent: true }) as Ended;
    const gone = page.lost.then(reason => {
      const test = open.findLast(({ suite }) => !suite);
      return lost(
        `(page-lost): ${reason}${test ? ` while "${test.name}" ran` : ''}. The page was replaced, and the run continues.`,
      );
    });
    const watch = new Watch(() => {
      if (run.stopped?.()) return { kind: 'finished', unchanged: false };
      const test = open.findLast(({ suite }) => !suite);
      const limit = test ? Math.max(test.until, last) : last + (begun ? loadTime : openTime);
      if (performance.now() < limit + run.grace) return undefined;
      return silent(
        test
          ? `(page-lost): The page did not answer any more while "${test.name}" ran: it has an endless loop. The page was replaced, and the run continues.`
          : `(page-lost): The page did not answer for ${((begun ? loadTime : openTime) + run.grace) / 1000} seconds.`,
      );
    });
    let ended: Ended | undefined;
    try {
      ended = await Promise.race([finished, gone, watch.silent]);
      if (ended.kind === 'finished' && run.coverage && page.coverage) run.covered?.(await page.coverage());
      return ended;
    } finally {
      watch.end();
      const unchanged = ended?.kind === 'finished' && ended.unchanged;
      const closing = page.close(unchanged);
      // A page that has answered to its end is closed meanwhile, unless its driver handles one page at a time, or the
      // next one takes its tab.
      if (ended?.kind !== 'finished' || unchanged || !run.opener.deliversWhileBusy) await closing;
    }
  }

  /** @returns whether the page has finished. */
  hear(message: Exclude<PageMessage, { type: 'left' }>, open: Open[]): boolean {
    const { run, outcome } = this;
    switch (message.type) {
      case 'opened':
        return false;
      case 'registered':
        outcome.tests = message.tests;
        run.registered?.(message.tests);
        return false;
      case 'finished':
        return true;
      case 'snapshot':
      case 'inline-snapshot':
        run.snapshot(message);
        return false;
      case 'said':
        outcome.printed.push(...message.printed);
        return false;
      case 'load-failed':
        this.failOutside('the file loads', errorOf(message.error, run.sources));
        return true;
      case 'start': {
        const { id, name, parent, suite, timeout, site } = message;
        open.push({ id, name, suite, until: performance.now() + timeout });
        // It continues in the page that replaces the lost one.
        if (this.#begun.has(id)) return false;
        this.#begun.add(id);
        const at = run.sources.site(site);
        run.report({ type: 'start', id: this.node(id), parent: this.node(parent), name, suite, at });
        return false;
      }
      case 'end': {
        const { id, outcome: how, reason, error, diagnostics, milliseconds, page, uncaught = [] } = message;
        const attachments = this.#attachments.splice(0);
        this.#begun.delete(id);
        const at = open.findLastIndex(entry => entry.id === id);
        const [entry] = at >= 0 ? open.splice(at, 1) : [];
        if (entry && !entry.suite) {
          this.#done.push(id);
          (how === 'failed' ? outcome.failed : outcome.passed).add(id);
        }
        run.report({
          type: 'end',
          id: this.node(id),
          outcome: how,
          reason,
          milliseconds,
          diagnostics,
          error: error && { ...errorOf(error, run.sources, uncaught), ...(page && { page }) },
          ...(attachments.length > 0 && { attachments }),
        });
        return false;
      }
    }
  }
}

/** Checks ten times a second whether a page has become silent. */
class Watch {
  readonly silent: Promise<Ended>;
  #timer: ReturnType<typeof setInterval> | undefined;

  constructor(look: () => Ended | undefined) {
    this.silent = new Promise(resolve => {
      this.#timer = setInterval(() => {
        const ended = look();
        if (ended) resolve(ended);
      }, 100);
    });
  }

  end(): void {
    clearInterval(this.#timer);
  }
}

/** @param uncaught uncaught errors before the failure, which may have caused it. */
function errorOf(error: ReportedError, sources: Sources, uncaught: readonly ReportedError[] = []): TreeError {
  const { name, message, stack, code } = serialize(sources.revive(error));
  const { expected, actual } = error;
  const before = uncaught.map(other => `\n\nUncaught before it:\n${sources.revive(other).stack}`);
  return { name, message, stack: stack + before.join(''), code, ...(expected !== undefined && { expected, actual }) };
}
