import { state } from './state.ts';

/**
 * Reports an uncaught error like the page's own uncaught exceptions (HTML §8.1.4.6, reportError).
 * @param host the element that it concerns, where that is known.
 */
export function report(error: unknown, host?: object): void {
  if (state.errors?.handle?.(error, host)) return;
  const tell = state.errors?.tell ?? (globalThis.reportError as ((error: unknown) => void) | undefined);
  if (tell) tell(error);
  else
    queueMicrotask(() => {
      throw error;
    });
}

/** The same for what a view was to show at a node: a region around it may show something else instead. */
export function reportInView(error: unknown, host: object, at: object): void {
  if (!state.errors?.show?.(error, host, at)) report(error, host);
}
