/** Which test runs now, and what cleans up after it. */

interface RunningTest {
  /** The name of the test's next snapshot. */
  nextSnapshot(): string;
}

/** A test with its subtests that run, outermost first. */
const running: { readonly test: RunningTest; readonly endings: (() => unknown)[] }[] = [];

/** What runs once all tests have ended. */
export const endingsOfAll: (() => unknown)[] = [];

export const runningTest = (): RunningTest | undefined => running.at(-1)?.test;

/** Calls a function when the running test has ended, passed or failed. Outside a test, when all have. */
export function onEnd(fn: () => unknown): void {
  const now = running.at(-1);
  if (now) now.endings.unshift(fn);
  else endingsOfAll.push(fn);
}

/** @returns what `onEnd` collects for the test, last first. */
export function enter(test: RunningTest): (() => unknown)[] {
  const endings: (() => unknown)[] = [];
  running.push({ test, endings });
  return endings;
}

export function leave(): void {
  running.pop();
}
