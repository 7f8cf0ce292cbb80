/** Reports a run through reporters of Node's test runner: converts the tree to their events. */
import type { Reporter } from './reporters.ts';
import type { ReportEvent, TreeError, TreeEvent } from './tree.ts';

type Start = Extract<TreeEvent, { type: 'start' }>;
type End = Extract<TreeEvent, { type: 'end' }>;

/** An engine, file, suite or test. */
interface Entry {
  readonly start: Start | undefined;
  readonly parent: Entry | undefined;
  readonly nesting: number;
  readonly children: Entry[];
  readonly began: number;
  took: number;
  end: End | undefined;
  /** Whether its start was reported. */
  started: boolean;
  /** How many of its children were reported. */
  reported: number;
  failedInside: number;
}

/** Slower tests are listed at the end, in milliseconds. */
const slowTime = 1000;

/** The outcome of unfinished tests when a run is stopped. */
const cancelled = {
  type: 'end',
  outcome: 'failed',
  diagnostics: [],
  error: { name: 'Error', message: 'The run was stopped before it ended.', stack: '', code: 'run-stopped' },
} as const;

const kinds = ['tests', 'suites', 'pass', 'fail', 'cancelled', 'skipped', 'todo'] as const;

export class Report {
  readonly #reporters: readonly Reporter[];
  readonly #severalEngines: boolean;
  readonly #entries = new Map<string, Entry>();
  readonly #root = entry(undefined, undefined, -1);
  readonly #counts: Record<(typeof kinds)[number], number> = {
    tests: 0,
    suites: 0,
    pass: 0,
    fail: 0,
    cancelled: 0,
    skipped: 0,
    todo: 0,
  };

  /** @param severalEngines whether failures name their engine. */
  constructor(reporters: readonly Reporter[], severalEngines: boolean) {
    this.#reporters = reporters;
    this.#severalEngines = severalEngines;
  }

  report(event: TreeEvent): void {
    if (event.type === 'note') return this.#send('test:stdout', { message: `${event.text}\n`, nesting: 0 });
    if (event.type === 'start') {
      const parent = event.parent === null ? this.#root : this.#entries.get(event.parent)!;
      const made = entry(event, parent, parent.nesting + 1);
      parent.children.push(made);
      this.#entries.set(event.id, made);
      // Engines and files are not suites of the author.
      if (!event.suite) this.#counts.tests++;
      else if (made.nesting > 1) this.#counts.suites++;
    } else {
      const ended = this.#entries.get(event.id);
      if (!ended || ended.end) return;
      ended.end = event;
      ended.took = event.milliseconds ?? performance.now() - ended.began;
    }
    this.#advance(this.#root);
  }

  /** Ends the report. @returns the exit code. */
  async end(): Promise<number> {
    for (const [id, { end }] of [...this.#entries].reverse()) if (!end) this.report({ ...cancelled, id });
    this.#plan(this.#root);
    for (const kind of kinds) this.#diagnostic(`${kind} ${this.#counts[kind]}`, 0);
    for (const line of this.#slowest()) this.#diagnostic(line, 0);
    this.#diagnostic(`duration_ms ${Math.round(performance.now() - this.#root.began)}`, 0);
    await Promise.all(this.#reporters.map(reporter => reporter.end()));
    return this.#counts.fail > 0 || this.#root.failedInside > 0 ? 1 : 0;
  }

  /**
   * Reports the next events in the order of the tree, as far as they have happened. @returns whether it is complete.
   */
  #advance(at: Entry): boolean {
    for (; at.reported < at.children.length; at.reported++) {
      const child = at.children[at.reported]!;
      // A failing test has the name of its engine, so its start is reported when its outcome is known.
      if (!child.start!.suite && child.children.length === 0 && !child.end) return false;
      if (!child.started) {
        child.started = true;
        const place = this.#place(child);
        for (const type of ['test:enqueue', 'test:dequeue', 'test:start']) this.#send(type, place);
      }
      if (!this.#advance(child)) return false;
      this.#result(child, at.reported + 1);
    }
    return at.end !== undefined;
  }

  /** @param testNumber its place among its siblings, from 1. */
  #result(at: Entry, testNumber: number): void {
    const { outcome, reason, error, diagnostics } = at.end!;
    const { suite } = at.start!;
    this.#plan(at);
    // A suite fails through its children, as in Node.
    const own = error && error.code !== 'ERR_TEST_FAILURE' ? error : undefined;
    const isFailed = outcome === 'failed' || own !== undefined || at.failedInside > 0;
    // A test with `todo` may fail.
    if (isFailed && outcome !== 'todo') at.parent!.failedInside++;
    if (!suite) this.#count(at.end!, isFailed);
    else if (own && at.failedInside === 0) this.#counts.fail++;
    const data = {
      ...this.#place(at),
      testNumber,
      details: {
        // Clocks of pages are not more precise.
        duration_ms: Math.round(at.took * 1000) / 1000,
        type: suite ? 'suite' : 'test',
        ...(isFailed && { error: own ? failure(own) : insideFailed(at.failedInside) }),
      },
      ...(outcome === 'skipped' && { skip: reason || true }),
      ...(outcome === 'todo' && { todo: reason || true }),
    };
    this.#send(isFailed ? 'test:fail' : 'test:pass', data);
    for (const line of diagnostics) this.#diagnostic(line, at.nesting);
  }

  /** The slowest tests, if any were slow. */
  #slowest(): string[] {
    const slow = [...this.#entries.values()].filter(({ start, took }) => !start!.suite && took >= slowTime);
    return slow
      .sort((a, b) => b.took - a.took)
      .slice(0, 5)
      .map(({ start, took }) => `slow: ${Math.round(took)} ms ${start!.name}`);
  }

  #count(end: End, isFailed: boolean): void {
    if (end.error?.code === cancelled.error.code) {
      this.#counts.cancelled++;
      return;
    }
    const { outcome } = end;
    const kind = outcome === 'skipped' ? 'skipped' : outcome === 'todo' ? 'todo' : isFailed ? 'fail' : 'pass';
    this.#counts[kind]++;
  }

  #plan({ children, nesting }: Entry): void {
    if (children.length > 0 || nesting < 0) this.#send('test:plan', { nesting: nesting + 1, count: children.length });
  }

  #diagnostic(message: string, nesting: number): void {
    this.#send('test:diagnostic', { nesting, message, level: 'info' });
  }

  #place({ start, nesting, parent, children, end }: Entry) {
    const { name, at, suite } = start!;
    let top = parent;
    while (top && top.nesting > 0) top = top.parent;
    const isNamed = this.#severalEngines && !suite && children.length === 0 && end?.outcome === 'failed';
    const engine = isNamed ? ` [${top?.start?.name}]` : '';
    return { name: name + engine, nesting, ...(at && { file: at.path, line: at.line, column: at.column }) };
  }

  #send(type: string, data: object): void {
    for (const reporter of this.#reporters) reporter.take({ type, data } as ReportEvent);
  }
}

function entry(start: Start | undefined, parent: Entry | undefined, nesting: number): Entry {
  const began = performance.now();
  return {
    start,
    parent,
    nesting,
    children: [],
    began,
    took: 0,
    end: undefined,
    started: false,
    reported: 0,
    failedInside: 0,
  };
}

/** An error as Node's runner passes it to reporters. */
function failure({ name, message, stack, code, page }: TreeError): Error {
  const cause = new Error(message);
  cause.name = name;
  const shown = page ? `\n\nThe page when it failed:\n${shortened(page)}` : '';
  cause.stack = `${stack || `${name}: ${message}`}${shown}`;
  if (code) Object.assign(cause, { code });
  return wrapped(message, cause, 'testCodeFailure', cause.stack);
}

/** The first lines, for a terminal. */
function shortened(page: string): string {
  const lines = page.split('\n');
  const rest = lines.length > 12 ? [`… ${lines.length - 12} more lines`] : [];
  return [...lines.slice(0, 12), ...rest].map(line => `  ${line}`).join('\n');
}

function insideFailed(count: number): Error {
  const message = `${count} subtest${count === 1 ? '' : 's'} failed`;
  return wrapped(message, message, 'subtestsFailed', `Error: ${message}`);
}

/** The stack of the author's code. */
function wrapped(message: string, cause: unknown, failureType: string, stack: string): Error {
  return Object.assign(new Error(message, { cause }), { code: 'ERR_TEST_FAILURE', failureType, stack });
}
