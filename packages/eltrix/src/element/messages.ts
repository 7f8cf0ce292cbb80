/** How mistakes are reported: mistakes in code throw, mistakes in a page warn once. */

/** What an error carries beside its text. */
export interface Problem {
  /** A stable word; the anchor in the documentation. */
  readonly code: string;
  /** The tag it is about. */
  readonly tag?: string;
}

/** Adds the problem to an error as data. */
export function withProblem<E extends Error>(error: E, problem: Problem): E {
  Object.defineProperty(error, 'problem', { value: problem, configurable: true });
  return error;
}

/** An author's mistake in code, in the platform's class for it. In production only the code is said. */
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

/** A mistake in HTML: said once a text; the element goes along so that it can be clicked. Development only. */
export function warn(code: string, text: string, ...about: unknown[]): void {
  const message = `Warning (${code}): ${text}`;
  if (warned.has(message)) return;
  warned.add(message);
  console.warn(message, ...about);
}

/** A value as messages show it: in quotes, cut at 60 characters. */
export function shown(value: unknown): string {
  const text = typeof value === 'string' ? value : String(value);
  return JSON.stringify(text.length > 60 ? `${text.slice(0, 59)}…` : text);
}

/** An error of `view()` with the element that it belongs to; the original is its cause. */
export function viewFailed(error: unknown, { localName }: HTMLElement): unknown {
  const message = error instanceof Error ? `${error.name}: ${error.message}` : String(error);
  const text = __DEV__
    ? `(view-failed): <${localName}>: view() threw ${message}. The element shows nothing.`
    : `view-failed: <${localName}>: ${message}`;
  return Object.assign(new Error(text, { cause: error }), { code: 'view-failed' });
}
