/** `t.assert`: the assertions of `node:assert`, each counted for `t.plan`. */
import assert from './assert.ts';
import { checkStored } from './stored.ts';

export interface SnapshotOptions {
  /** Functions that convert the value in turn; the last one has to return text. */
  readonly serializers?: readonly ((value: unknown) => unknown)[];
}

export type TestAssert = typeof assert & {
  /** Compares with the snapshot stored beside the test file; `--accept` stores it. */
  snapshot(value: unknown, options?: SnapshotOptions): void;
};

/** Node's default. */
const usual: NonNullable<SnapshotOptions['serializers']> = [value => JSON.stringify(value, null, 2)];

export function testAssert(count: () => void): TestAssert {
  const counted: Record<string, unknown> = {};
  for (const [name, fn] of Object.entries(assert as unknown as Record<string, (...args: unknown[]) => unknown>)) {
    if (typeof fn !== 'function' || name === 'AssertionError' || name === 'strict') continue;
    counted[name] = (...args: unknown[]) => {
      count();
      return fn(...args);
    };
  }
  counted['snapshot'] = (value: unknown, { serializers = usual }: SnapshotOptions = {}) => {
    count();
    checkStored(String(serializers.reduce((now: unknown, serialize) => serialize(now), value)));
  };
  return counted as unknown as TestAssert;
}
