import { state } from './state.ts';

/**
 * Reports an uncaught error like the page's own uncaught exceptions (HTML §8.1.4.6, reportError).
 * @param host the element that it concerns, where that is known.
 * @param at the node at which a view was to show something: a region around it may show something else instead.
 */
export function report(error: unknown, host?: object, at?: object): void {
  if (state.handle?.(error, host, at)) return;
  const tell = state.tell ?? (globalThis.reportError as ((error: unknown) => void) | undefined);
  if (tell) tell(error);
  else
    queueMicrotask(() => {
      throw error;
    });
}
