/** The registered suites and tests of a file, and the selection of a plan. */
import type { TestAssert } from './context-assert.ts';
import type { MockTracker } from './mock.ts';
import type { RunPlan, TestOptions } from './plan.ts';
import type { WaitOptions } from './wait-for.ts';

/** The argument of a test function, as in `node:test`. */
export interface Context {
  readonly name: string;
  /** Including the names of its suites. */
  readonly fullName: string;
  /** Aborted when the test ends. */
  readonly signal: AbortSignal;
  /** Replaces functions and methods; the originals are restored when the test ends. */
  readonly mock: MockTracker;
  /** Runs a subtest. */
  test(
    name?: string | TestOptions | TestFunction,
    options?: TestOptions | TestFunction,
    fn?: TestFunction,
  ): Promise<void>;
  /** The assertions of `node:assert`, counted by `plan`. */
  readonly assert: TestAssert;
  /** The number of assertions of `t.assert` and subtests in the test. */
  plan(count: number): void;
  /** Resolves with the result of a function once it no longer throws. */
  waitFor<T>(condition: () => T | Promise<T>, options?: WaitOptions): Promise<T>;
  diagnostic(text: string): void;
  skip(reason?: string): void;
  todo(reason?: string): void;
  before(hook: Hook): void;
  after(hook: Hook): void;
  beforeEach(hook: Hook): void;
  afterEach(hook: Hook): void;
}

export type TestFunction = (t: Context, done?: (error?: unknown) => void) => unknown;
export type Hook = (t?: Context) => unknown;

let count = 0;

/** The number of the next registered test or further report. */
export const nextId = (): number => count++;

/** A suite or a test. */
export class Entry {
  readonly id = nextId();
  readonly children: Entry[] = [];
  readonly hooks = { before: [] as Hook[], after: [] as Hook[], beforeEach: [] as Hook[], afterEach: [] as Hook[] };
  readonly diagnostics: string[] = [];
  readonly site = new Error().stack ?? '';
  skipped: string | undefined;
  todo: string | undefined;

  constructor(
    readonly name: string,
    readonly parent: Entry | undefined,
    readonly suite: boolean,
    readonly options: TestOptions,
    readonly fn: TestFunction | undefined,
  ) {
    if (options.skip) this.skipped = typeof options.skip === 'string' ? options.skip : '';
    if (options.todo) this.todo = typeof options.todo === 'string' ? options.todo : '';
  }

  get path(): string[] {
    return this.parent ? [...this.parent.path, this.name] : [];
  }

  get hasOnly(): boolean {
    return this.options.only === true || this.children.some(child => child.hasOnly);
  }

  /** This entry and its descendants. */
  *all(): Generator<Entry> {
    yield this;
    for (const child of this.children) yield* child.all();
  }
}

/** The tests that a plan selects, with their descendants; undefined if it selects all. */
export function chosen(root: Entry, { match, order }: RunPlan): Set<Entry> | undefined {
  if (order) return new Set([...root.all()].filter(entry => order.includes(entry.id)));
  if (match.length === 0) return undefined;
  const patterns = match.map(pattern => new RegExp(pattern));
  const set = new Set<Entry>();
  for (const entry of root.all()) {
    const under = entry.parent !== undefined && set.has(entry.parent);
    const names = [entry.name, entry.path.join(' '), entry.path.join(' > ')];
    if (entry !== root && (under || patterns.some(pattern => names.some(name => pattern.test(name))))) set.add(entry);
  }
  return set;
}

/** The entries with selected tests, in the order of the selection. */
export function inOrder(entries: readonly Entry[], order: readonly number[]): Entry[] {
  const place = (entry: Entry) =>
    Math.min(...[...entry.all()].map(({ id }) => order.indexOf(id)).filter(at => at >= 0));
  return entries.filter(entry => Number.isFinite(place(entry))).sort((a, b) => place(a) - place(b));
}

export function isUnderOnly(entry: Entry): boolean {
  for (let up = entry.parent; up; up = up.parent) if (up.options.only) return true;
  return false;
}

export function outerEntries(entry: Entry): Entry[] {
  const outer: Entry[] = [];
  for (let up = entry.parent; up; up = up.parent) outer.unshift(up);
  return outer;
}
