/** Makes actions that would stop or close the page of tests an error of the test. */

type Call = (...args: unknown[]) => unknown;

/** Dialogs would wait for an answer for ever; a closed page runs no further tests. */
const refused = ['alert', 'confirm', 'prompt', 'print', 'close'] as const;

export function keepPage(): void {
  const page = globalThis as unknown as Record<string, Call | undefined>;
  for (const name of refused) {
    if (typeof page[name] !== 'function') continue;
    page[name] = () => {
      const what = name === 'close' ? 'closes the page of the tests' : 'waits for an answer from a person';
      throw new Error(
        `(page-stopped): ${name}() ${what}. Write t.mock.method(window, '${name}', () => {}) before what calls it.`,
      );
    };
  }
}
