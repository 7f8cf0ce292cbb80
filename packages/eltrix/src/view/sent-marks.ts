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
