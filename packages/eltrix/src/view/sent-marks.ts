/** The marks that a server writes around the output of expressions, so that the browser finds their places. */

/** Before and after the output of an expression between tags. */
export const opening = '[';
export const closing = ']';
/** Before each row of `each`. */
export const row = ',';

export const openMark = `<!--${opening}-->`;
export const closeMark = `<!--${closing}-->`;
export const rowMark = `<!--${row}-->`;
/** Between two texts of the element's content. */
export const separator = '<!---->';

/** The comment at the start of the view of an element without a shadow root. */
export const viewMark = 'eltrix-view';
/** On a slot without a shadow root that shows the element's content rather than its fallback. */
export const givenMark = 'data-given';
/** On what a server sends beside a view: styles, data, hidden content. */
export const sentMark = 'data-eltrix';

export const isMark = (node: Node | null | undefined, mark: string): boolean =>
  node?.nodeType === 8 && (node as Comment).data === mark;
