/** What a server writes around what expressions show, so that a browser finds the same places again. */

/** Before and behind what an expression between tags shows. */
export const opening = '[';
export const closing = ']';
/** Before each row of `each`. */
export const row = ',';

export const openMark = `<!--${opening}-->`;
export const closeMark = `<!--${closing}-->`;
export const rowMark = `<!--${row}-->`;
/** Between two texts that the page gave. */
export const separator = '<!---->';
