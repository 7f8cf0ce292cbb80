/** One place where a page hears of every error that the library reports. */
import { type Errors, state } from '../signals/state.ts';

/** An error that cannot be thrown to anyone, as `handleErrors` gets it. */
export interface ReportedError {
  readonly error: unknown;
  /** The element whose view, hook or effect it was; null where none is known. */
  readonly element: Element | null;
  /** In development: element, line of the markup and expression, if it was one. */
  readonly place: string | undefined;
}

type Handler = (reported: ReportedError) => unknown;

const handlers = new Set<Handler>();

/** Calls the handlers. @returns whether one of them has dealt with it. */
export function isHandled(error: unknown, host: object | undefined): boolean {
  let isDone = false;
  const element = host && 'localName' in host ? (host as Element) : null;
  const { place } = (error ?? {}) as { place?: string };
  for (const handler of handlers) {
    try {
      if (handler({ error, element, place }) === true) isDone = true;
    } catch (failed) {
      // Not to the handlers: they would be called without end.
      queueMicrotask(() => {
        throw failed;
      });
    }
  }
  return isDone;
}

/**
 * Calls a function for every error that Eltrix reports: in views, live expressions, rows, hooks, effects, forms. Errors
 * that a region shows are passed on, too. Errors thrown by listeners of the page are not among them: listen to `error` for those.
 *
 * @param handler returns true if the error is dealt with: `reportError` is not called then.
 * @returns a function that ends it.
 * @example handleErrors(({ error, element }) => send('/errors', { message: String(error), tag: element?.localName }));
 */
export function handleErrors(handler: (reported: ReportedError) => unknown): () => void {
  handlers.add(handler);
  errors.handle = isHandled;
  return () => {
    handlers.delete(handler);
  };
}

const errors: Errors = (state.errors ??= {});
