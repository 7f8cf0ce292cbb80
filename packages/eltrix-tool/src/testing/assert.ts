/** `node:assert/strict` for pages: the same functions, the same error class and fields, differences by line. */
import { isEqual } from './equal.ts';
import { inspect } from './inspect.ts';

export interface AssertionDetails {
  readonly message?: string;
  readonly actual?: unknown;
  readonly expected?: unknown;
  readonly operator: string;
}

export class AssertionError extends Error {
  override readonly name = 'AssertionError';
  readonly code = 'ERR_ASSERTION';
  readonly actual: unknown;
  readonly expected: unknown;
  readonly operator: string;
  readonly generatedMessage: boolean;

  constructor({ message, actual, expected, operator }: AssertionDetails) {
    super(message ?? explain(actual, expected, operator));
    this.actual = actual;
    this.expected = expected;
    this.operator = operator;
    this.generatedMessage = message === undefined;
  }
}

const headings: Record<string, string> = {
  strictEqual: 'Expected values to be strictly equal:',
  deepStrictEqual: 'Expected values to be strictly deep-equal:',
  notStrictEqual: 'Expected "actual" to be strictly unequal to:',
  notDeepStrictEqual: 'Expected "actual" not to be strictly deep-equal to:',
};

function explain(actual: unknown, expected: unknown, operator: string): string {
  const heading = headings[operator] ?? `${operator} failed:`;
  if (operator.startsWith('not')) return `${heading}\n\n${inspect(expected)}`;
  // Texts of several lines are compared line by line.
  const isText = [actual, expected].every(value => typeof value === 'string') && `${actual}${expected}`.includes('\n');
  const [a, b] = isText ? [String(actual), String(expected)] : [inspect(actual), inspect(expected)];
  if (!a.includes('\n') && !b.includes('\n')) return `${heading}\n\n${a} !== ${b}\n`;
  return `${heading}\n+ actual - expected\n\n${difference(a.split('\n'), b.split('\n')).join('\n')}`;
}

/**
 * The lines of both: those only in `actual` with `+`, those only in `expected` with `-`; long equal parts are
 * shortened.
 */
function difference(actual: readonly string[], expected: readonly string[]): string[] {
  const lengths = actual.map(() => new Array<number>(expected.length + 1).fill(0));
  lengths.push(new Array<number>(expected.length + 1).fill(0));
  for (let i = actual.length - 1; i >= 0; i--) {
    for (let k = expected.length - 1; k >= 0; k--) {
      lengths[i]![k] =
        actual[i] === expected[k] ? lengths[i + 1]![k + 1]! + 1 : Math.max(lengths[i + 1]![k]!, lengths[i]![k + 1]!);
    }
  }
  const lines: string[] = [];
  let [i, k] = [0, 0];
  while (i < actual.length || k < expected.length) {
    if (i < actual.length && k < expected.length && actual[i] === expected[k]) {
      lines.push(`  ${actual[i]}`);
      i++;
      k++;
    } else if (i < actual.length && (k === expected.length || lengths[i + 1]![k]! >= lengths[i]![k + 1]!))
      lines.push(`+ ${actual[i++]}`);
    else lines.push(`- ${expected[k++]}`);
  }
  const near = (at: number) => lines.slice(Math.max(0, at - 2), at + 3).some(line => !line.startsWith(' '));
  return lines.filter((_, at) => near(at)).slice(0, 60);
}

type Message = string | Error | undefined;

function fails(message: Message, details: AssertionDetails): never {
  if (message instanceof Error) throw message;
  throw new AssertionError(message === undefined ? details : { ...details, message });
}

/** @throws TypeError for an invalid call, with Node's code. */
function misused(code: string, message: string): never {
  throw Object.assign(new TypeError(message), { code });
}

const argument = (call: string, wanted: string, given: unknown): never =>
  misused('ERR_INVALID_ARG_TYPE', `${call} takes ${wanted}, and ${inspect(given)} came.`);

export function ok(value: unknown, message?: Message): asserts value {
  if (!value)
    fails(message, {
      message: `Expected a truthy value, and ${inspect(value)} came.`,
      actual: value,
      expected: true,
      operator: '==',
    });
}

type Other<T> = readonly [expected: T, message?: Message];

/** The expected value; a call without it would compare with undefined. */
function otherOf<T>(given: Other<T>): Other<T> {
  if (!(0 in given)) misused('ERR_MISSING_ARGS', 'Two values are compared, and only one was given.');
  return given;
}

export function equal<T>(actual: unknown, ...other: Other<T>): asserts actual is T {
  const [expected, message] = otherOf(other);
  if (!Object.is(actual, expected)) fails(message, { actual, expected, operator: 'strictEqual' });
}

export function notEqual(actual: unknown, ...other: Other<unknown>): void {
  const [expected, message] = otherOf(other);
  if (Object.is(actual, expected)) fails(message, { actual, expected, operator: 'notStrictEqual' });
}

export function deepEqual<T>(actual: unknown, ...other: Other<T>): asserts actual is T {
  const [expected, message] = otherOf(other);
  if (!isEqual(actual, expected)) fails(message, { actual, expected, operator: 'deepStrictEqual' });
}

export function notDeepEqual(actual: unknown, ...other: Other<unknown>): void {
  const [expected, message] = otherOf(other);
  if (isEqual(actual, expected)) fails(message, { actual, expected, operator: 'notDeepStrictEqual' });
}

export function match(text: string, pattern: RegExp, message?: Message): void {
  if (!(pattern instanceof RegExp)) argument('match()', 'a regular expression', pattern);
  if (typeof text === 'string' && pattern.test(text)) return;
  fails(message, {
    message: `The input did not match the regular expression ${pattern}. Input:\n\n${inspect(text)}\n`,
    actual: text,
    expected: pattern,
    operator: 'match',
  });
}

export function doesNotMatch(text: string, pattern: RegExp, message?: Message): void {
  if (!(pattern instanceof RegExp)) argument('doesNotMatch()', 'a regular expression', pattern);
  if (typeof text === 'string' && !pattern.test(text)) return;
  fails(message, {
    message: `The input was expected to not match the regular expression ${pattern}. Input:\n\n${inspect(text)}\n`,
    actual: text,
    expected: pattern,
    operator: 'doesNotMatch',
  });
}

export function fail(message: Message = 'Failed'): never {
  return fails(message, { operator: 'fail' });
}

export function ifError(value: unknown): void {
  if (value === null || value === undefined) return;
  const text = value instanceof Error ? value.message : inspect(value);
  const error = new AssertionError({
    message: `ifError got unwanted exception: ${text}`,
    actual: value,
    expected: null,
    operator: 'ifError',
  });
  if (value instanceof Error && value.stack) error.stack = value.stack;
  throw error;
}

type Expected = RegExp | (new (...args: never[]) => unknown) | ((error: unknown) => boolean) | object;

/** The thrown value, if the function has thrown. */
type Outcome = { readonly error: unknown } | undefined;

/** @param given what the error has to match, or the message. */
function expectsError(operator: string, outcome: Outcome, given: readonly [(Expected | string)?, Message?]): void {
  const [first] = given;
  let message = given[1];
  let expected: Expected | undefined;
  if (typeof first === 'string') {
    const { error } = outcome ?? {};
    const own = typeof error === 'object' && error !== null ? (error as Error).message : error;
    if (outcome && own === first)
      misused(
        'ERR_AMBIGUOUS_ARGUMENT',
        `${operator}() takes a string as its message, and ${inspect(first)} is the error's message as well. Write { message: ${inspect(first)} } to compare it.`,
      );
    message = first;
  } else if (first !== undefined && first !== null && typeof first !== 'object' && typeof first !== 'function')
    argument(`${operator}()`, 'a class, a function, an object, a regular expression or a text', first);
  else expected = first;
  if (!outcome) {
    const what = operator === 'rejects' ? 'rejection' : 'exception';
    fails(message, { message: `Missing expected ${what}.`, expected, operator });
  }
  if (expected) checkError(outcome.error, expected, message, operator);
}

function checkError(error: unknown, expected: Expected, message: Message, operator: string): void {
  const differs = (text: string, details: Partial<AssertionDetails> = {}) =>
    fails(message, { actual: error, expected, operator, ...details, message: text });
  if (typeof expected === 'function') {
    if (expected.prototype !== undefined && error instanceof expected) return;
    if (Error.isPrototypeOf(expected) || expected === DOMException)
      differs(`The error is no ${expected.name}: ${String(error)}`);
    if ((expected as (error: unknown) => unknown).call({}, error) !== true)
      differs(`The validation function did not return true for ${String(error)}`);
  } else if (expected instanceof RegExp) {
    if (!expected.test(String(error))) differs(`The error did not match ${expected}: ${String(error)}`);
  } else if (typeof error !== 'object' || error === null) {
    differs(`The error is ${inspect(error)}, and has no properties to compare.`);
  } else {
    // The properties of an error are not enumerable.
    const keys = [...Object.keys(expected), ...(expected instanceof Error ? ['name', 'message'] : [])];
    if (keys.length === 0)
      misused('ERR_INVALID_ARG_VALUE', `${operator}() compares the properties of an object, and {} has none.`);
    for (const key of keys) {
      const [a, b] = [(error as Record<string, unknown>)[key], (expected as Record<string, unknown>)[key]];
      if (b instanceof RegExp && typeof a === 'string' && b.test(a)) continue;
      if (key in error && isEqual(a, b)) continue;
      differs(`The error's "${key}" is ${inspect(a)}, expected ${inspect(b)}`, { actual: a, expected: b });
    }
  }
}

function outcomeOf(call: string, fn: () => unknown): Outcome {
  if (typeof fn !== 'function') argument(call, 'a function', fn);
  try {
    fn();
    return undefined;
  } catch (error) {
    return { error };
  }
}

/** A function that throws synchronously is not a rejection: the error is passed on. */
async function rejectionOf(call: string, given: Promise<unknown> | (() => Promise<unknown>)): Promise<Outcome> {
  const promise = typeof given === 'function' ? given() : given;
  if (!isPromise(promise)) {
    if (typeof given !== 'function') argument(call, 'a promise or a function that returns one', given);
    misused(
      'ERR_INVALID_RETURN_VALUE',
      `${call} takes a function that returns a promise, and it returned ${inspect(promise)}.`,
    );
  }
  try {
    await promise;
    return undefined;
  } catch (error) {
    return { error };
  }
}

function isPromise(value: unknown): value is Promise<unknown> {
  if (value instanceof Promise) return true;
  if (typeof value !== 'object' || value === null) return false;
  const { then, catch: other } = value as Partial<Promise<unknown>>;
  return typeof then === 'function' && typeof other === 'function';
}

export function throws(fn: () => unknown, ...expected: [(Expected | string)?, Message?]): void {
  expectsError('throws', outcomeOf('throws()', fn), expected);
}

export function doesNotThrow(fn: () => unknown, message?: Message): void {
  const outcome = outcomeOf('doesNotThrow()', fn);
  if (outcome) unwanted('exception', outcome.error, message, 'doesNotThrow');
}

export async function rejects(
  given: Promise<unknown> | (() => Promise<unknown>),
  ...expected: [(Expected | string)?, Message?]
): Promise<void> {
  expectsError('rejects', await rejectionOf('rejects()', given), expected);
}

export async function doesNotReject(
  given: Promise<unknown> | (() => Promise<unknown>),
  message?: Message,
): Promise<void> {
  const outcome = await rejectionOf('doesNotReject()', given);
  if (outcome) unwanted('rejection', outcome.error, message, 'doesNotReject');
}

function unwanted(what: string, error: unknown, message: Message, operator: string): never {
  return fails(message, { message: `Got an unwanted ${what}: ${String(error)}`, actual: error, operator });
}

const assert = Object.assign((value: unknown, message?: Message): asserts value => ok(value, message), {
  AssertionError,
  ok,
  equal,
  strictEqual: equal,
  notEqual,
  notStrictEqual: notEqual,
  deepEqual,
  deepStrictEqual: deepEqual,
  notDeepEqual,
  notDeepStrictEqual: notDeepEqual,
  match,
  doesNotMatch,
  fail,
  ifError,
  throws,
  doesNotThrow,
  rejects,
  doesNotReject,
});

export {
  deepEqual as deepStrictEqual,
  equal as strictEqual,
  notDeepEqual as notDeepStrictEqual,
  notEqual as notStrictEqual,
};
export const strict = Object.assign(assert, { strict: assert });
export default strict;
