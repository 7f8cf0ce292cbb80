/** `t.mock` and `mock` of `node:test`: functions that record their calls, replaced methods, a fake clock. */

export interface MockCall {
  readonly arguments: readonly unknown[];
  readonly result: unknown;
  readonly error: unknown;
  readonly target: unknown;
  readonly this: unknown;
  readonly stack: Error;
}

// biome-ignore lint/suspicious/noExplicitAny: any function at all.
type AnyFunction = (...args: any[]) => any;

export type Mock<F extends AnyFunction> = F & { readonly mock: MockFunctionContext };

export class MockFunctionContext {
  #calls: MockCall[] = [];
  #once = new Map<number, AnyFunction>();

  /** @param times how often the implementation is used before the original is restored. */
  constructor(
    private implementation: AnyFunction,
    private readonly putBack: () => void,
    private readonly times: number,
  ) {}

  get calls(): readonly MockCall[] {
    return [...this.#calls];
  }

  callCount(): number {
    return this.#calls.length;
  }

  resetCalls(): void {
    this.#calls = [];
  }

  mockImplementation(implementation: AnyFunction): void {
    this.implementation = implementation;
  }

  mockImplementationOnce(implementation: AnyFunction, onCall = this.#calls.length): void {
    this.#once.set(onCall, implementation);
  }

  restore(): void {
    this.putBack();
  }

  /** @internal */
  call(self: unknown, args: unknown[], target: unknown): unknown {
    const at = this.#calls.length;
    const implementation = this.#once.get(at) ?? this.implementation;
    if (at + 1 === this.times) this.restore();
    this.#once.delete(at);
    const call: { -readonly [K in keyof MockCall]: MockCall[K] } = {
      arguments: args,
      result: undefined,
      error: undefined,
      target,
      this: self,
      stack: new Error(),
    };
    try {
      call.result = target
        ? Reflect.construct(implementation, args, target as AnyFunction)
        : implementation.apply(self, args);
      if (target) call.this = call.result;
      return call.result;
    } catch (error) {
      call.error = error;
      throw error;
    } finally {
      this.#calls.push(call);
    }
  }
}

function mocked<F extends AnyFunction>(
  original: F,
  implementation: AnyFunction,
  putBack: () => void,
  { times = Number.POSITIVE_INFINITY }: MockOptions,
): Mock<F> {
  const context = new MockFunctionContext(implementation, putBack, times);
  return new Proxy(original, {
    apply: (_, self, args) => context.call(self, args as unknown[], undefined),
    construct: (_, args, target) => context.call(undefined, args as unknown[], target) as object,
    get: (target, key, receiver) => (key === 'mock' ? context : Reflect.get(target, key, receiver)),
  }) as Mock<F>;
}

export interface MockOptions {
  /** The number of calls after which the original is restored. */
  readonly times?: number;
}

export interface MethodOptions extends MockOptions {
  readonly getter?: boolean;
  readonly setter?: boolean;
}

/** Functions come first and options last; both are optional. */
function parts<O extends MockOptions>(
  first: AnyFunction | O | undefined,
  second: AnyFunction | O | undefined,
  third: O | undefined,
): [AnyFunction | undefined, AnyFunction | undefined, O | undefined] {
  const given = [first, second, third];
  const [one, two] = [first, second].map(value => (typeof value === 'function' ? value : undefined));
  return [one, two, given.find(value => typeof value === 'object' && value !== null) as O | undefined];
}

export class MockTracker {
  readonly #all: MockFunctionContext[] = [];
  #timers: MockTimers | undefined;

  /** A function that records its calls. */
  fn<F extends AnyFunction>(
    original?: F | MockOptions,
    implementation?: AnyFunction | MockOptions,
    options?: MockOptions,
  ): Mock<F> {
    const [fn = () => undefined, instead, chosen = {}] = parts(original, implementation, options);
    const made = mocked(fn as F, instead ?? fn, () => made.mock.mockImplementation(fn), chosen);
    this.#all.push(made.mock);
    return made;
  }

  /** Replaces a method of an object until the test ends. */
  method<T extends object>(
    object: T,
    name: keyof T & string,
    implementation?: AnyFunction | MethodOptions,
    options?: MethodOptions,
  ): Mock<AnyFunction> {
    const [instead, , chosen = {}] = parts<MethodOptions>(implementation, undefined, options);
    const part = chosen.getter ? 'get' : chosen.setter ? 'set' : 'value';
    const own = Object.getOwnPropertyDescriptor(object, name);
    let holder: object | null = object;
    while (holder && !Object.hasOwn(holder, name)) holder = Object.getPrototypeOf(holder) as object | null;
    const descriptor = holder && Object.getOwnPropertyDescriptor(holder, name);
    const original = descriptor?.[part] as AnyFunction | undefined;
    if (typeof original !== 'function')
      throw new TypeError(`Expected a method ${String(name)} to exchange, and there is none.`);
    const putBack = () => {
      if (own) Object.defineProperty(object, name, own);
      else Reflect.deleteProperty(object, name);
    };
    const made = mocked(original, instead ?? original, putBack, chosen);
    Object.defineProperty(object, name, { ...descriptor, configurable: true, [part]: made });
    this.#all.push(made.mock);
    return made;
  }

  readonly getter = this.#accessor('getter');
  readonly setter = this.#accessor('setter');

  /** `method` for a getter or a setter. */
  #accessor(half: 'getter' | 'setter') {
    return <T extends object>(
      object: T,
      name: keyof T & string,
      implementation?: AnyFunction | MockOptions,
      options?: MockOptions,
    ): Mock<AnyFunction> => {
      const [instead, , chosen] = parts(implementation, undefined, options);
      return this.method(object, name, instead, { ...chosen, [half]: true });
    };
  }

  /** A clock that is advanced explicitly. */
  get timers(): MockTimers {
    return (this.#timers ??= new MockTimers());
  }

  restoreAll(): void {
    for (const context of this.#all.splice(0).reverse()) context.restore();
    this.#timers?.reset();
  }

  reset(): void {
    this.restoreAll();
  }
}

interface Timer {
  readonly id: number;
  readonly every: number | undefined;
  readonly fn: AnyFunction;
  readonly args: unknown[];
  at: number;
}

/** The time between two frames, in milliseconds. */
const frameTime = 16;

export class MockTimers {
  #now = 0;
  #next = 1;
  #timers: Timer[] = [];
  #undo: (() => void) | undefined;

  /**
   * Replaces `setTimeout`, `setInterval` and `Date`, or some of them; other than Node also `requestAnimationFrame`,
   * with a frame each 16 ms.
   */
  enable(options: { readonly apis?: readonly string[]; readonly now?: number | Date } = {}): void {
    if (this.#undo) throw new Error('The clock is exchanged already. Call reset() first.');
    const { apis = ['setTimeout', 'setInterval', 'Date'] } = options;
    this.#now = Number(options.now ?? 0);
    const page = globalThis as unknown as Record<string, unknown>;
    const before: Record<string, unknown> = {};
    const put = (name: string, value: unknown) => {
      before[name] = page[name];
      page[name] = value;
    };
    const start =
      (every: boolean) =>
      (fn: AnyFunction, ms = 0, ...args: unknown[]) => {
        const id = this.#next++;
        this.#timers.push({
          id,
          fn,
          args,
          every: every ? Math.max(1, ms) : undefined,
          at: this.#now + Math.max(1, ms),
        });
        return id;
      };
    const stop = (id: number) => {
      this.#timers = this.#timers.filter(timer => timer.id !== id);
    };
    if (apis.includes('setTimeout')) {
      put('setTimeout', start(false));
      put('clearTimeout', stop);
    }
    if (apis.includes('setInterval')) {
      put('setInterval', start(true));
      put('clearInterval', stop);
    }
    if (apis.includes('requestAnimationFrame')) {
      put('requestAnimationFrame', (fn: FrameRequestCallback) =>
        start(false)(() => fn(this.#now), frameTime - (this.#now % frameTime)),
      );
      put('cancelAnimationFrame', stop);
    }
    if (apis.includes('Date')) {
      const now = () => this.#now;
      const RealDate = Date;
      put(
        'Date',
        new Proxy(RealDate, {
          construct: (target, args, created) =>
            Reflect.construct(target, args.length > 0 ? args : [now()], created) as object,
          apply: () => new RealDate(now()).toString(),
          get: (target, key, receiver) => (key === 'now' ? now : Reflect.get(target, key, receiver)),
        }),
      );
    }
    this.#undo = () => Object.assign(page, before);
  }

  /** Advances the clock, and calls the timers that are due. */
  tick(ms = 1): void {
    const end = this.#now + ms;
    for (;;) {
      const [next] = this.#timers.filter(({ at }) => at <= end).sort((a, b) => a.at - b.at || a.id - b.id);
      if (!next) break;
      this.#now = next.at;
      if (next.every === undefined) this.#timers = this.#timers.filter(timer => timer !== next);
      else next.at += next.every;
      next.fn(...next.args);
    }
    this.#now = end;
  }

  /** Advances the clock to the last timer. */
  runAll(): void {
    const last = Math.max(0, ...this.#timers.map(({ at }) => at));
    if (last > this.#now) this.tick(last - this.#now);
  }

  setTime(now: number): void {
    this.#now = now;
  }

  reset(): void {
    this.#undo?.();
    this.#undo = undefined;
    this.#timers = [];
  }
}

export const mock = new MockTracker();
