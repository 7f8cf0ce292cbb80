/** `node:assert/strict` for pages: the same calls, the same error class and fields, a diff by lines. */
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
  // Text of several lines is compared line by line, as it is.
  const isText = [actual, expected].every(value => typeof value === 'string') && `${actual}${expected}`.includes('\n');
  const [a, b] = isText ? [String(actual), String(expected)] : [inspect(actual), inspect(expected)];
  if (!a.includes('\n') && !b.includes('\n')) return `${heading}\n\n${a} !== ${b}\n`;
  return `${heading}\n+ actual - expected\n\n${difference(a.split('\n'), b.split('\n')).join('\n')}`;
}

/** Lines of both, those of `actual` alone with `+`, those of `expected` alone with `-`; long equal runs are cut. */
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

export function ok(value: unknown, message?: Message): asserts value {
  if (!value)
    fails(message, {
      message: `Expected a truthy value, and ${inspect(value)} came.`,
      actual: value,
      expected: true,
      operator: '==',
    });
}

export function equal<T>(actual: unknown, expected: T, message?: Message): asserts actual is T {
  if (!Object.is(actual, expected)) fails(message, { actual, expected, operator: 'strictEqual' });
}

export function notEqual(actual: unknown, expected: unknown, message?: Message): void {
  if (Object.is(actual, expected)) fails(message, { actual, expected, operator: 'notStrictEqual' });
}

export function deepEqual<T>(actual: unknown, expected: T, message?: Message): asserts actual is T {
  if (!isEqual(actual, expected)) fails(message, { actual, expected, operator: 'deepStrictEqual' });
}

export function notDeepEqual(actual: unknown, expected: unknown, message?: Message): void {
  if (isEqual(actual, expected)) fails(message, { actual, expected, operator: 'notDeepStrictEqual' });
}

export function match(text: string, pattern: RegExp, message?: Message): void {
  if (typeof text !== 'string' || !pattern.test(text)) {
    fails(message, {
      message: `The input did not match the regular expression ${pattern}. Input:\n\n${inspect(text)}\n`,
      actual: text,
      expected: pattern,
      operator: 'match',
    });
  }
}

export function doesNotMatch(text: string, pattern: RegExp, message?: Message): void {
  if (pattern.test(text)) {
    fails(message, {
      message: `The input was expected to not match the regular expression ${pattern}. Input:\n\n${inspect(text)}\n`,
      actual: text,
      expected: pattern,
      operator: 'doesNotMatch',
    });
  }
}

export function fail(message: Message = 'Failed'): never {
  return fails(message, { operator: 'fail' });
}

export function ifError(value: unknown): void {
  if (value !== null && value !== undefined) throw value;
}

type Expected = RegExp | (new (...args: never[]) => unknown) | ((error: unknown) => boolean) | object;

function isClass(value: unknown): value is new (...args: never[]) => unknown {
  return (
    typeof value === 'function' &&
    value.prototype !== undefined &&
    (value === Error || Error.isPrototypeOf(value) || value === DOMException)
  );
}

function checkError(error: unknown, expected: Expected | undefined, message: Message, operator: string): void {
  if (expected === undefined) return;
  if (expected instanceof RegExp) {
    if (expected.test(String(error))) return;
    fails(message, {
      message: `The error did not match ${expected}: ${String(error)}`,
      actual: error,
      expected,
      operator,
    });
  } else if (isClass(expected)) {
    if (error instanceof expected) return;
    fails(message, {
      message: `The error is no ${expected.name}: ${String(error)}`,
      actual: error,
      expected,
      operator,
    });
  } else if (typeof expected === 'function') {
    if ((expected as (error: unknown) => unknown)(error) === true) return;
    fails(message, {
      message: `The validation function did not return true for ${String(error)}`,
      actual: error,
      expected,
      operator,
    });
  } else {
    for (const key of Object.keys(expected)) {
      const [a, b] = [(error as Record<string, unknown>)?.[key], (expected as Record<string, unknown>)[key]];
      if (b instanceof RegExp && typeof a === 'string' ? b.test(a) : isEqual(a, b)) continue;
      fails(message, {
        message: `The error's "${key}" is ${inspect(a)}, expected ${inspect(b)}`,
        actual: a,
        expected: b,
        operator,
      });
    }
  }
}

export function throws(fn: () => unknown, expected?: Expected | string, message?: Message): void {
  const [wanted, said] = typeof expected === 'string' ? [undefined, expected] : [expected, message];
  try {
    fn();
  } catch (error) {
    checkError(error, wanted, said, 'throws');
    return;
  }
  fails(said, { message: 'Missing expected exception.', expected: wanted, operator: 'throws' });
}

export function doesNotThrow(fn: () => unknown, message?: Message): void {
  try {
    fn();
  } catch (error) {
    fails(message, { message: `Got an unwanted exception: ${String(error)}`, actual: error, operator: 'doesNotThrow' });
  }
}

export async function rejects(
  given: Promise<unknown> | (() => Promise<unknown>),
  expected?: Expected | string,
  message?: Message,
): Promise<void> {
  const [wanted, said] = typeof expected === 'string' ? [undefined, expected] : [expected, message];
  try {
    await (typeof given === 'function' ? given() : given);
  } catch (error) {
    checkError(error, wanted, said, 'rejects');
    return;
  }
  fails(said, { message: 'Missing expected rejection.', expected: wanted, operator: 'rejects' });
}

export async function doesNotReject(
  given: Promise<unknown> | (() => Promise<unknown>),
  message?: Message,
): Promise<void> {
  try {
    await (typeof given === 'function' ? given() : given);
  } catch (error) {
    fails(message, {
      message: `Got an unwanted rejection: ${String(error)}`,
      actual: error,
      operator: 'doesNotReject',
    });
  }
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
