/** Keeps tests in their page: what would stop or leave it is an error of the test that does it. */

type Call = (...args: unknown[]) => unknown;

/** Dialogs wait for somebody to answer, and there is nobody; a closed page has no further tests. */
const refused = ['alert', 'confirm', 'prompt', 'print', 'close'] as const;

interface NavigateEvent extends Event {
  readonly hashChange: boolean;
  readonly downloadRequest: string | null;
  readonly destination: { readonly url: string; readonly sameDocument: boolean };
}

export function keepPage(): void {
  const page = globalThis as unknown as Record<string, Call | undefined> & {
    readonly navigation?: EventTarget;
  };
  for (const name of refused) {
    if (typeof page[name] !== 'function') continue;
    page[name] = () => {
      const what = name === 'close' ? 'closes the page of the tests' : 'waits for an answer, and nobody is there';
      throw new Error(
        `(page-stopped): ${name}() ${what}. Write t.mock.method(window, '${name}', () => {}) before what calls it.`,
      );
    };
  }
  page.navigation?.addEventListener('navigate', event => {
    const { destination, downloadRequest, cancelable } = event as NavigateEvent;
    if (destination.sameDocument || downloadRequest !== null || !cancelable) return;
    event.preventDefault();
    reportError(
      new Error(
        `(page-left): The test leaves its page for ${destination.url}. It stays here. Call preventDefault() on the event that leads there, or look at the address without following it.`,
      ),
    );
  });
}
