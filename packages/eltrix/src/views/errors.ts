/** Handlers for all errors that the library reports. */
import { state } from '../signals/state.ts';

/** A reported error, as `handleErrors` passes it on. */
export interface ReportedError {
  readonly error: unknown;
  /** The element whose view, hook or effect has thrown; null if it is unknown. */
  readonly element: Element | null;
  /** In development: element, line of the markup and expression, if it was one. */
  readonly place: string | undefined;
}

type Handler = (reported: ReportedError) => unknown;

const handlers = new Set<Handler>();

/** Calls the handlers. @returns whether one of them has handled it. */
export function isHandled(error: unknown, host: object | undefined): boolean {
  let isDone = false;
  const element = host && 'localName' in host ? (host as Element) : null;
  const { place } = (error ?? {}) as { place?: string };
  for (const handler of handlers) {
    try {
      if (handler({ error, element, place }) === true) isDone = true;
    } catch (failed) {
      // Not passed to the handlers, which would loop.
      queueMicrotask(() => {
        throw failed;
      });
    }
  }
  return isDone;
}

/**
 * Calls a function for every error that Eltrix reports: in views, live expressions, rows, hooks, effects, forms.
 * Errors shown by a region are passed on too. Errors thrown by event listeners are not: listen to `error` on `window`
 * for those.
 *
 * @param handler returns true if the error is handled: `reportError` is not called then.
 * @returns a function that removes the handler.
 * @example handleErrors(({ error, element }) => send('/errors', { message: String(error), tag: element?.localName }));
 */
export function handleErrors(handler: (reported: ReportedError) => unknown): () => void {
  handlers.add(handler);
  state.handle ??= isHandled;
  return () => {
    handlers.delete(handler);
  };
}
