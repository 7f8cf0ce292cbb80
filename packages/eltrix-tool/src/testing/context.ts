/** The argument of a test function: `t`, as in `node:test`. */
import { type TestAssert, testAssert } from './context-assert.ts';
import type { Context, Entry, Hook, TestFunction } from './entry.ts';
import { MockTracker } from './mock.ts';
import type { TestOptions } from './plan.ts';
import { type WaitOptions, waitFor } from './wait-for.ts';

export type Registration = [
  name?: string | TestOptions | TestFunction,
  options?: TestOptions | TestFunction,
  fn?: TestFunction,
];

export class TestContext implements Context {
  readonly #entry: Entry;
  readonly #subtest: (args: Registration) => Promise<void>;
  readonly #controller = new AbortController();
  #mock: MockTracker | undefined;
  #assert: TestAssert | undefined;
  #planned: number | undefined;
  #counted = 0;
  #snapshots = 0;

  /** @internal */
  constructor(entry: Entry, subtest: (args: Registration) => Promise<void>) {
    this.#entry = entry;
    this.#subtest = subtest;
  }

  get name(): string {
    return this.#entry.name;
  }

  get fullName(): string {
    return this.#entry.path.join(' > ');
  }

  get signal(): AbortSignal {
    return this.#controller.signal;
  }

  get mock(): MockTracker {
    return (this.#mock ??= new MockTracker());
  }

  /** The assertions of `node:assert`, counted by `plan`. */
  get assert(): TestAssert {
    return (this.#assert ??= testAssert(() => void this.#counted++));
  }

  /** The number of assertions of `t.assert` and subtests in the test; with another number the test fails. */
  plan(count: number): void {
    if (!Number.isInteger(count) || count < 1)
      throw new RangeError(`t.plan() takes a whole number of at least 1, and ${String(count)} came.`);
    this.#planned = count;
  }

  /**
   * Resolves with the result of `condition` once it no longer throws. It is called every 50 ms, for at most 1000 ms.
   */
  waitFor<T>(condition: () => T | Promise<T>, options?: WaitOptions): Promise<T> {
    return waitFor(condition, options);
  }

  readonly test = (...args: Registration): Promise<void> => {
    this.#counted++;
    return this.#subtest(args);
  };

  diagnostic(text: string): void {
    this.#entry.diagnostics.push(text);
  }

  skip(reason = ''): void {
    this.#entry.skipped = reason;
  }

  todo(reason = ''): void {
    this.#entry.todo = reason;
  }

  before(hook: Hook): void {
    this.#entry.hooks.before.push(hook);
  }

  after(hook: Hook): void {
    this.#entry.hooks.after.push(hook);
  }

  beforeEach(hook: Hook): void {
    this.#entry.hooks.beforeEach.push(hook);
  }

  afterEach(hook: Hook): void {
    this.#entry.hooks.afterEach.push(hook);
  }

  /** @internal The name of the test's next snapshot, numbered as in Node. */
  nextSnapshot(): string {
    return `${this.fullName} ${++this.#snapshots}`;
  }

  /** @internal @throws Error if `plan` announced another number. */
  checkPlan(): void {
    if (this.#planned === undefined || this.#planned === this.#counted) return;
    throw new Error(`plan expected ${this.#planned} assertions but received ${this.#counted}`);
  }

  /** @internal */
  end(): void {
    this.#controller.abort();
    this.#mock?.restoreAll();
  }
}
