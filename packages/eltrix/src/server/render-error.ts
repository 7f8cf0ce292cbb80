/** Errors of rendering, with the element and the line of the author's code. */

/** An error while rendering; `cause` is the original error. */
export class RenderError extends Error {
  override readonly name = 'RenderError';

  constructor(
    /** A stable code; the anchor in the documentation. */
    readonly code: string,
    /** The element that was being rendered. */
    readonly tag: string,
    message: string,
    cause?: unknown,
  ) {
    super(`(${code}): ${message}`, { cause });
  }
}

/** Globals that only a page has. */
const ofPages =
  /\b(document|window|navigator|location|localStorage|sessionStorage|customElements|matchMedia|getComputedStyle|requestAnimationFrame|innerWidth|innerHeight|HTMLElement|Node|Element)\b is not defined/;

/** @param where the position in the markup, if it is known. */
export function renderError(tag: string, where: string, error: unknown): RenderError {
  if (error instanceof RenderError) return error;
  const reason = error instanceof Error ? `${error.name}: ${error.message}` : String(error);
  const at = placeOf(error);
  const missing = error instanceof ReferenceError ? ofPages.exec(error.message)?.[1] : undefined;
  if (missing !== undefined)
    return new RenderError(
      'render-document',
      tag,
      `<${tag}>${where} uses ${missing}${at}, and there is none on a server. Use it in connected(scope), which runs in the browser only, or declare render: false in the contract to leave the element to the browser.`,
      error,
    );
  return new RenderError('render-failed', tag, `<${tag}>${where} could not be rendered${at}: ${reason}`, error);
}

/** The first position in a file of the stack, as ` (file:line:column)`. */
function placeOf(error: unknown): string {
  const stack = error instanceof Error ? (error.stack ?? '') : '';
  const place = /^\s+at .*?((?:file:\/\/|\/|[A-Za-z]:\\)[^()\n]*:\d+:\d+)\)?$/m.exec(stack)?.[1];
  return place === undefined ? '' : ` (${place.replace(/^file:\/\//, '')})`;
}
