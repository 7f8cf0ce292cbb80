/** Reports mistakes: mistakes in code throw, mistakes in HTML warn once. */

/** Data that an error carries besides its text. */
export interface Problem {
  /** A stable code; the anchor in the documentation. */
  readonly code: string;
  /** The tag of the element. */
  readonly tag?: string;
}

/** Adds the code and tag to an error. */
export function withProblem<E extends Error>(error: E, problem: Problem): E {
  Object.defineProperty(error, 'problem', { value: problem, configurable: true });
  return error;
}

/** An author's mistake in code, with the platform's class of error. In production the text is only the code. */
export function mistake(
  kind: 'TypeError' | 'SyntaxError' | 'NotSupportedError' | 'InvalidStateError',
  code: string,
  tag: string,
  text: string,
): Error {
  const message = __DEV__ ? `(${code}): ${text}` : `${code} <${tag}>`;
  const error =
    kind === 'TypeError'
      ? new TypeError(message)
      : kind === 'SyntaxError'
        ? new DOMException(message, kind)
        : new DOMException(message, kind);
  return withProblem(error, { code, tag });
}

const warned = new Set<string>();

/** A mistake in HTML, reported once for each text, with the element for the console. Development only. */
export function warn(code: string, text: string, ...about: unknown[]): void {
  const message = `Warning (${code}): ${text}`;
  if (warned.has(message)) return;
  warned.add(message);
  console.warn(message, ...about);
}

/** A value in messages: quoted, cut at 60 characters. */
export function shown(value: unknown): string {
  const text = typeof value === 'string' ? value : String(value);
  return JSON.stringify(text.length > 60 ? `${text.slice(0, 59)}…` : text);
}

/** An error of `view()` with its element; `cause` is the original error. */
export function viewFailed(error: unknown, { localName }: HTMLElement): unknown {
  const message = error instanceof Error ? `${error.name}: ${error.message}` : String(error);
  const text = __DEV__
    ? `(view-failed): <${localName}>: view() threw ${message}. The element shows nothing.`
    : `view-failed: <${localName}>: ${message}`;
  return Object.assign(new Error(text, { cause: error }), { code: 'view-failed' });
}
