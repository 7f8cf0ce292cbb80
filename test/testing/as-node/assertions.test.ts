/** Assertions in pages pass and fail as Node's do. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { inspect } from 'node:util';
import ours from '../../../packages/eltrix-tool/src/testing/assert.ts';

type Assert = typeof assert;

describe('assertions', () => {
  class Wrong {
    message = 'wrong';
  }
  class Worse extends TypeError {}
  const thrown = [
    new Error('a'),
    new TypeError('a'),
    new Worse('b'),
    new Wrong(),
    Object.assign(new Error('a'), { code: 'E', more: { deep: [1] } }),
    'a',
    null,
    undefined,
    7,
  ];
  const expected = [
    undefined,
    Error,
    TypeError,
    Worse,
    Wrong,
    /a/,
    /Error: a/,
    { message: 'a' },
    { message: /^a$/, name: 'Error' },
    { code: 'E' },
    { more: { deep: [1] } },
    { more: { deep: [2] } },
    {},
    new Error('a'),
    new TypeError('a'),
    (error: unknown) => error instanceof Error,
    () => 1,
    () => undefined,
    () => {
      throw new RangeError('in the check');
    },
    'a',
    'said',
    5,
  ];

  /** How a call ends: what is thrown counts by its name, unless it came from the function itself. */
  async function end(call: () => unknown): Promise<string> {
    try {
      await call();
      return 'passes';
    } catch (error) {
      if (thrown.includes(error as never)) return 'the error itself';
      return error instanceof Error ? error.name : 'another value';
    }
  }

  async function alike(what: string, call: (assert: Assert) => unknown): Promise<void> {
    assert.equal(await end(() => call(ours as Assert)), await end(() => call(assert)), what);
  }

  it('throws, rejects and their opposites pass and fail as in Node', async () => {
    for (const error of thrown) {
      const raise = () => {
        throw error;
      };
      for (const wanted of expected as never[]) {
        const what = `${inspect(error)} against ${inspect(wanted)}`;
        await alike(`throws: ${what}`, ({ throws }) => throws(raise, wanted));
        await alike(`rejects: ${what}`, ({ rejects }) => rejects(Promise.reject(error), wanted));
        await alike(`rejects, called: ${what}`, ({ rejects }) => rejects(async () => raise(), wanted));
        await alike(`rejects, thrown at once: ${what}`, ({ rejects }) => rejects(raise, wanted));
        await alike(`throws nothing: ${what}`, ({ throws }) => throws(() => {}, wanted));
      }
      await alike(`doesNotThrow ${inspect(error)}`, ({ doesNotThrow }) => doesNotThrow(raise));
      await alike(`doesNotReject ${inspect(error)}`, ({ doesNotReject }) => doesNotReject(Promise.reject(error)));
      await alike(`ifError ${inspect(error)}`, ({ ifError }) => ifError(error));
    }
  });

  it('so do calls with missing or wrong arguments', async () => {
    const none = [undefined, null, 5, 'a', {}] as never[];
    for (const given of none) {
      await alike(`throws(${given})`, ({ throws }) => throws(given));
      await alike(`doesNotThrow(${given})`, ({ doesNotThrow }) => doesNotThrow(given));
      await alike(`rejects(${given})`, ({ rejects }) => rejects(given));
      await alike(`doesNotReject(${given})`, ({ doesNotReject }) => doesNotReject(given));
      await alike(`rejects(() => ${given})`, ({ rejects }) => rejects(() => given));
      await alike(`match(${given})`, ({ match }) => match(given, /a/));
      await alike(`match a pattern ${given}`, ({ match }) => match('a', given));
      await alike(`doesNotMatch(${given})`, ({ doesNotMatch }) => doesNotMatch(given, /b/));
      await alike(`ok(${given})`, ({ ok }) => ok(given));
      await alike(`fail(${given})`, ({ fail }) => fail(given));
      for (const name of ['equal', 'notEqual', 'deepEqual', 'notDeepEqual'] as const) {
        await alike(`${name}(${given})`, assert => (assert[name] as (a: unknown) => void)(given));
        for (const other of none) await alike(`${name}(${given}, ${other})`, assert => assert[name](given, other));
        await alike(`${name} with an error to throw`, assert => assert[name](given, 'else', thrown[0] as Error));
      }
    }
    await alike('ok()', ({ ok }) => (ok as () => void)());
    await alike('equal()', ({ equal }) => (equal as () => void)());
  });
});
