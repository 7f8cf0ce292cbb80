/** The running test, and its clean-up functions. */

interface RunningTest {
  /** The name of the test's next snapshot. */
  nextSnapshot(): string;
}

/** A test with its running subtests, outermost first. */
const running: { readonly test: RunningTest; readonly endings: (() => unknown)[] }[] = [];

/** Functions that run after all tests. */
export const endingsOfAll: (() => unknown)[] = [];

export const runningTest = (): RunningTest | undefined => running.at(-1)?.test;

/** Calls a function when the running test has ended, passed or failed; outside a test, after all tests. */
export function onEnd(fn: () => unknown): void {
  const now = running.at(-1);
  if (now) now.endings.unshift(fn);
  else endingsOfAll.push(fn);
}

/** @returns the functions that `onEnd` collects for the test, last first. */
export function enter(test: RunningTest): (() => unknown)[] {
  const endings: (() => unknown)[] = [];
  running.push({ test, endings });
  return endings;
}

export function leave(): void {
  running.pop();
}
