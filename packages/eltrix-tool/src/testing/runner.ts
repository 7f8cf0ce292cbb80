/**
 * `node:test` for pages: the same functions with the same behaviour. Tests register while their file loads; `run` runs
 * them and reports each event.
 */

import { type Registration, TestContext } from './context.ts';
import { snapshot } from './deep.ts';
import { chosen, Entry, type Hook, inOrder, isUnderOnly, nextId, outerEntries, type TestFunction } from './entry.ts';
import type { Heard } from './errors.ts';
import { inTime } from './in-time.ts';
import { inspect } from './inspect.ts';
import { allowedLeftovers, Leftovers, readGlobalsAgain } from './leftovers.ts';
import { type Mock, mock } from './mock.ts';
import type { RegisteredTest, RunEvent, RunPlan, TestOptions } from './plan.ts';
import { endingsOfAll, enter, leave, runningTest } from './running.ts';
import { serialize } from './serialize.ts';
import { shuffled } from './shuffle.ts';

type Failure =
  | {
      readonly error: unknown;
      /** The content of the page at that moment, as text. */
      readonly page?: string;
      /** Uncaught errors during the test, which may have caused the failure. */
      readonly uncaught?: readonly unknown[];
    }
  | undefined;
const root = new Entry('', undefined, true, {}, undefined);
let current = root;
root.hooks.after = endingsOfAll;
/** Suites with asynchronous functions. */
const registering: Promise<unknown>[] = [];

function make(args: Registration, parent: Entry, suite: boolean, extra: TestOptions): Entry {
  const name = args.find(arg => typeof arg === 'string') as string | undefined;
  const options = args.find(arg => typeof arg === 'object' && arg !== null) as TestOptions | undefined;
  const fn = args.find(arg => typeof arg === 'function') as TestFunction | undefined;
  const entry = new Entry(name ?? (fn?.name || '<anonymous>'), parent, suite, { ...options, ...extra }, fn);
  if (suite && fn) {
    const outer = current;
    current = entry;
    try {
      const made = fn(undefined as never) as unknown;
      if (made instanceof Promise) registering.push(made);
    } finally {
      current = outer;
    }
  }
  return entry;
}

function registrar(suite: boolean) {
  const register =
    (extra: TestOptions) =>
    (...args: Registration): Promise<void> => {
      const parent = current;
      parent.children.push(make(args, parent, suite, extra));
      return Promise.resolve();
    };
  return Object.assign(register({}), {
    skip: register({ skip: true }),
    todo: register({ todo: true }),
    only: register({ only: true }),
  });
}

export const test = registrar(false);
export const it = test;
export const describe = registrar(true);
export const suite = describe;
export const before = (hook: Hook): void => void current.hooks.before.push(hook);
export const after = (hook: Hook): void => void current.hooks.after.push(hook);
export const beforeEach = (hook: Hook): void => void current.hooks.beforeEach.push(hook);
export const afterEach = (hook: Hook): void => void current.hooks.afterEach.push(hook);
export { type Mock, mock };

class Run {
  readonly failedSubtests = new Map<Entry, number>();
  readonly #only: boolean;
  readonly #chosen: Set<Entry> | undefined;
  readonly #done: ReadonlySet<number>;

  constructor(
    readonly report: (event: RunEvent) => void | Promise<void>,
    readonly plan: RunPlan,
    readonly heard: Heard,
    /** Called when a test has failed, before anything is cleaned up. */
    readonly onFailure: (() => Promise<unknown>) | undefined,
  ) {
    this.#only = root.hasOnly;
    this.#done = new Set(plan.done);
    this.#chosen = chosen(root, plan);
  }

  /** Output of hooks belongs to their suite. */
  ofHooks(suite: Entry, failure: Failure): Failure {
    const { errors, printed } = this.heard.take();
    this.say(suite, printed);
    return failure ?? (errors.length > 0 ? { error: errors[0] } : undefined);
  }

  /** Errors after the last test are reported and fail no test: their origin is unknown. */
  between(suite: Entry): void {
    const { errors, printed } = this.heard.take();
    this.say(suite, [...printed, ...errors.map(error => `uncaught after a test had ended: ${inspect(error)}`)]);
  }

  say(suite: Entry, printed: readonly string[]): void {
    if (suite !== root) suite.diagnostics.push(...printed);
    else if (printed.length > 0) this.report({ type: 'said', printed });
  }

  /** The tests to run, in order. */
  chosenOf(entry: Entry): Entry[] {
    const { order, seed } = this.plan;
    const list = order
      ? inOrder(entry.children, order)
      : seed === null
        ? entry.children
        : shuffled(entry.children, seed);
    return list.filter(
      child =>
        (!this.#only || child.hasOnly || isUnderOnly(child)) &&
        (!this.#chosen || [...child.all()].some(inner => this.#chosen!.has(inner))) &&
        !this.isDone(child),
    );
  }

  async children(entry: Entry): Promise<number> {
    let failed = 0;
    const { times } = this.plan;
    for (const child of this.chosenOf(entry)) {
      const rounds = child.suite ? 1 : times;
      for (let round = 1; round <= rounds; round++) {
        const name = rounds > 1 ? `${child.name} (${round} of ${rounds})` : child.name;
        if (!(await this.entry(child, name))) failed++;
      }
    }
    return failed;
  }

  /** Whether all its tests have run in a page that was lost. */
  isDone(entry: Entry): boolean {
    const tests = [...entry.all()].filter(({ suite }) => !suite);
    return tests.length > 0 && tests.every(({ id }) => this.#done.has(id));
  }

  /** @returns whether it counts as passed. */
  async entry(entry: Entry, name: string, notRun?: Failure): Promise<boolean> {
    const start = performance.now();
    const timeout = entry.options.timeout ?? this.plan.timeout;
    const parent = entry.parent === root ? null : entry.parent!.id;
    // Awaited if the tool has to know before the test runs.
    await this.report({ type: 'start', id: entry.id, parent, name, suite: entry.suite, timeout, site: entry.site });
    const context = new TestContext(entry, args => this.subtest(entry, args));
    let failure: Failure;
    if (entry.skipped === undefined) {
      if (notRun) failure = await this.cancel(entry, notRun);
      else failure = entry.suite ? await this.suite(entry, context) : await this.test(entry, context, timeout);
    }
    const { skipped, todo } = entry;
    this.report({
      type: 'end',
      id: entry.id,
      outcome: skipped !== undefined ? 'skipped' : todo !== undefined ? 'todo' : failure ? 'failed' : 'passed',
      milliseconds: performance.now() - start,
      diagnostics: entry.diagnostics.splice(0),
      ...((skipped ?? todo) ? { reason: skipped ?? todo! } : {}),
      ...(failure ? { error: serialize(failure.error) } : {}),
      ...(failure?.page ? { page: failure.page } : {}),
      ...(failure?.uncaught?.length ? { uncaught: failure.uncaught.map(serialize) } : {}),
    });
    return !failure || todo !== undefined;
  }

  async subtest(parent: Entry, args: Registration): Promise<void> {
    const entry = make(args, parent, false, {});
    if (!(await this.entry(entry, entry.name)))
      this.failedSubtests.set(parent, (this.failedSubtests.get(parent) ?? 0) + 1);
  }

  async suite(entry: Entry, context: TestContext): Promise<Failure> {
    this.between(entry.parent!);
    let failure: Failure;
    try {
      for (const hook of entry.hooks.before) await hook();
      readGlobalsAgain();
    } catch (error) {
      failure = { error };
    }
    failure = this.ofHooks(entry, failure);
    if (failure) await this.cancel(entry, { error: new NotRun(entry.name) });
    else {
      const failed = await this.children(entry);
      if (failed > 0) failure = { error: new SubtestsFailed(failed) };
    }
    this.between(entry);
    failure = this.ofHooks(entry, await this.hooks(entry.hooks.after, context, failure));
    readGlobalsAgain();
    context.end();
    return failure;
  }

  /** Reports all tests of an entry as skipped. */
  async cancel(entry: Entry, notRun: Failure): Promise<Failure> {
    for (const child of this.chosenOf(entry)) await this.entry(child, child.name, notRun);
    return notRun;
  }

  async test(entry: Entry, context: TestContext, timeout: number): Promise<Failure> {
    const isSubtest = runningTest() !== undefined;
    const own = enter(context);
    const leftovers = this.plan.clean && !isSubtest ? new Leftovers() : undefined;
    if (!isSubtest) this.between(entry.parent!);
    let failure: Failure;
    try {
      for (const outer of outerEntries(entry)) for (const hook of outer.hooks.beforeEach) await hook(context);
      await inTime(timeout, () => call(entry.fn, context));
      context.checkPlan();
      const failed = this.failedSubtests.get(entry) ?? 0;
      this.failedSubtests.delete(entry);
      if (failed > 0) failure = { error: new SubtestsFailed(failed) };
    } catch (error) {
      failure = { error, page: pageText() };
      await this.onFailure?.().catch(() => {});
    }
    for (const outer of outerEntries(entry).reverse())
      failure = await this.hooks(outer.hooks.afterEach, context, failure);
    failure = await this.hooks(entry.hooks.after, context, failure);
    entry.hooks.after.length = 0;
    context.end();
    failure = await this.hooks(own, context, failure);
    leave();
    if (!isSubtest) {
      const { errors, printed } = this.heard.take();
      entry.diagnostics.push(...printed);
      if (failure) failure = { ...failure, uncaught: errors };
      else if (errors.length > 0) failure = { error: errors[0] };
    }
    if (leftovers) {
      const error = await leftovers.end(allowedLeftovers());
      if (!failure && error) failure = { error };
    }
    return failure;
  }

  async hooks(hooks: readonly Hook[], context: TestContext, failure: Failure): Promise<Failure> {
    let result = failure;
    for (const hook of hooks) {
      try {
        await hook(context);
      } catch (error) {
        result ??= { error };
      }
    }
    return result;
  }
}

class NotRun extends Error {
  readonly code = 'not-run';

  constructor(suite: string) {
    super(`(not-run): It did not run, since before() of "${suite}" failed.`);
  }
}

class SubtestsFailed extends Error {
  readonly code = 'ERR_TEST_FAILURE';

  constructor(count: number) {
    super(`${count} subtest${count > 1 ? 's' : ''} failed`);
  }
}

/** The content of the page without its own scripts; long pages are shortened. */
function pageText(): string {
  if (typeof document === 'undefined') return '';
  const shown = [...document.body.children].filter(({ localName }) => localName !== 'script');
  const text = shown.map(snapshot).join('\n');
  return text.length > 4000 ? `${text.slice(0, 4000)}…` : text;
}

/** A function with a second parameter ends when it calls that parameter, as in Node; it returns no promise then. */
function call(fn: TestFunction | undefined, context: TestContext): unknown {
  if (!fn || fn.length < 2) return fn?.(context);
  return new Promise<void>((resolve, reject) => {
    const returned = fn(context, error => (error ? reject(error) : resolve()));
    if (returned instanceof Promise) reject(new Error('passed a callback but also returned a Promise'));
  });
}

/** Runs the registered tests. */
export async function run(
  report: (event: RunEvent) => void | Promise<void>,
  plan: RunPlan,
  heard: Heard,
  onFailure?: () => Promise<unknown>,
): Promise<void> {
  await Promise.all(registering);
  const runner = new Run(report, plan, heard, onFailure);
  const failedOutside = (name: string, failure: Failure) => {
    if (!failure) return;
    const id = nextId();
    report({ type: 'start', id, parent: null, name, suite: false, timeout: plan.timeout, site: '' });
    report({ type: 'end', id, outcome: 'failed', milliseconds: 0, diagnostics: [], error: serialize(failure.error) });
  };
  const hooks = async (hooks: readonly Hook[]) =>
    runner.ofHooks(root, await runner.hooks(hooks, undefined as never, undefined));
  // Uncaught errors during the loading of the file are reported as well.
  failedOutside('before all tests', await hooks(root.hooks.before));
  await runner.children(root);
  runner.between(root);
  failedOutside('after all tests', await hooks(root.hooks.after));
  mock.restoreAll();
}

/** The registered tests of a file: number and full name. */
export function registered(): RegisteredTest[] {
  return [...root.all()].filter(({ suite }) => !suite).map(({ id, path }) => ({ id, name: path.join(' > '), path }));
}

export default Object.assign(test, { test, it, describe, suite, before, after, beforeEach, afterEach, mock });
