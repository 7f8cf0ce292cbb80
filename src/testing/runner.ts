/**
 * `node:test` for pages: the same calls with the same meaning. Tests register while their file is loaded; `run`
 * carries them out and tells what happened, event by event.
 */

export interface TestOptions {
  readonly skip?: boolean | string;
  readonly todo?: boolean | string;
  readonly only?: boolean;
  /** Milliseconds; the test fails after them. */
  readonly timeout?: number;
}

/** An error as it travels from a page to the tool. */
export interface ReportedError {
  readonly name: string;
  readonly message: string;
  readonly stack: string;
  readonly code?: string;
  readonly actual?: string;
  readonly expected?: string;
  readonly operator?: string;
  readonly cause?: ReportedError;
}

/** What happened to one test or suite. `path` names it from the outside in. */
export interface Outcome {
  readonly path: readonly string[];
  readonly suite: boolean;
  readonly outcome: 'passed' | 'failed' | 'skipped' | 'todo';
  readonly reason?: string;
  readonly milliseconds: number;
  readonly error?: ReportedError;
  readonly diagnostics: readonly string[];
}

type TestFunction = (t: TestContext) => unknown;
type Hook = (t?: TestContext) => unknown;

const defaultTimeout = 20_000;

class Entry {
  readonly children: Entry[] = [];
  readonly hooks = { before: [] as Hook[], after: [] as Hook[], beforeEach: [] as Hook[], afterEach: [] as Hook[] };
  readonly diagnostics: string[] = [];
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
}

const root = new Entry('', undefined, true, {}, undefined);
let current = root;

export class TestContext {
  readonly #entry: Entry;
  readonly #run: Run;
  readonly #controller = new AbortController();

  /** @internal */
  constructor(entry: Entry, run: Run) {
    this.#entry = entry;
    this.#run = run;
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

  /** Runs a subtest now. */
  readonly test = async (...args: Registration): Promise<void> => {
    const entry = make(args, this.#entry, false, {});
    await this.#run.entry(entry);
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

  /** @internal */
  end(): void {
    this.#controller.abort();
  }
}

type Registration = [
  name?: string | TestOptions | TestFunction,
  options?: TestOptions | TestFunction,
  fn?: TestFunction,
];

function make(args: Registration, parent: Entry, suite: boolean, extra: TestOptions): Entry {
  const name = args.find(arg => typeof arg === 'string') as string | undefined;
  const options = args.find(arg => typeof arg === 'object' && arg !== null) as TestOptions | undefined;
  const fn = args.find(arg => typeof arg === 'function') as TestFunction | undefined;
  const entry = new Entry(name ?? (fn?.name || '<anonymous>'), parent, suite, { ...options, ...extra }, fn);
  if (suite && fn) {
    const outer = current;
    current = entry;
    try {
      void fn(undefined as never);
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
      current.children.push(make(args, current, suite, extra));
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

class Run {
  constructor(
    readonly tell: (outcome: Outcome) => void,
    readonly only: boolean,
  ) {}

  async children(entry: Entry): Promise<number> {
    let failed = 0;
    for (const child of [...entry.children]) {
      if (this.only && !child.hasOnly && !isUnderOnly(child)) continue;
      if (!(await this.entry(child))) failed++;
    }
    return failed;
  }

  /** @returns whether it counts as passed. */
  async entry(entry: Entry): Promise<boolean> {
    const start = performance.now();
    const context = new TestContext(entry, this);
    let failure: { error: unknown } | undefined;
    if (entry.skipped === undefined) {
      try {
        if (entry.suite) {
          for (const hook of entry.hooks.before) await hook();
          const failed = await this.children(entry);
          if (failed > 0) failure = { error: new Error(`${failed} subtest${failed > 1 ? 's' : ''} failed`) };
        } else {
          for (const outer of outerEntries(entry)) for (const hook of outer.hooks.beforeEach) await hook(context);
          await inTime(entry, () => entry.fn?.(context));
        }
      } catch (error) {
        failure = { error };
      }
      if (!entry.suite) {
        for (const outer of outerEntries(entry).reverse())
          failure = await this.hooks(outer.hooks.afterEach, context, failure);
      }
      failure = await this.hooks(entry.hooks.after, context, failure);
      context.end();
    }
    const { skipped, todo } = entry;
    this.tell({
      path: entry.path,
      suite: entry.suite,
      outcome: skipped !== undefined ? 'skipped' : todo !== undefined ? 'todo' : failure ? 'failed' : 'passed',
      milliseconds: performance.now() - start,
      diagnostics: entry.diagnostics,
      ...((skipped ?? todo) ? { reason: skipped ?? todo! } : {}),
      ...(failure ? { error: serialize(failure.error) } : {}),
    });
    return !failure || todo !== undefined;
  }

  async hooks(
    hooks: readonly Hook[],
    context: TestContext,
    failure: { error: unknown } | undefined,
  ): Promise<{ error: unknown } | undefined> {
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

function isUnderOnly(entry: Entry): boolean {
  for (let up = entry.parent; up; up = up.parent) if (up.options.only) return true;
  return false;
}

function outerEntries(entry: Entry): Entry[] {
  const outer: Entry[] = [];
  for (let up = entry.parent; up; up = up.parent) outer.unshift(up);
  return outer;
}

async function inTime(entry: Entry, fn: () => unknown): Promise<void> {
  const limit = entry.options.timeout ?? defaultTimeout;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Error(`test timed out after ${limit}ms`)), limit);
  });
  try {
    await Promise.race([fn(), late]);
  } finally {
    clearTimeout(timer);
  }
}

/** An error as plain data. */
export function serialize(error: unknown): ReportedError {
  if (!(error instanceof Error) && !(error instanceof DOMException)) {
    return { name: 'Error', message: `${String(error)} was thrown`, stack: '' };
  }
  const { code, actual, expected, operator, cause } = error as Error & Record<string, unknown>;
  const text = (value: unknown) => (typeof value === 'string' ? value : (JSON.stringify(value) ?? String(value)));
  return {
    name: error.name,
    message: error.message,
    stack: error.stack ?? '',
    ...(typeof code === 'string' ? { code } : {}),
    ...(operator !== undefined
      ? { operator: text(operator), actual: safely(() => text(actual)), expected: safely(() => text(expected)) }
      : {}),
    ...(cause === undefined ? {} : { cause: serialize(cause) }),
  };
}

function safely(fn: () => string): string {
  try {
    return fn();
  } catch {
    return '(not printable)';
  }
}

/** Carries out what was registered. */
export async function run(tell: (outcome: Outcome) => void): Promise<void> {
  const runner = new Run(tell, root.hasOnly);
  const failure = await runner.hooks(root.hooks.before, undefined as never, undefined);
  if (failure)
    tell({
      path: ['before'],
      suite: false,
      outcome: 'failed',
      milliseconds: 0,
      diagnostics: [],
      error: serialize(failure.error),
    });
  await runner.children(root);
  await runner.hooks(root.hooks.after, undefined as never, undefined);
}

export default Object.assign(test, { test, it, describe, suite, before, after, beforeEach, afterEach });
