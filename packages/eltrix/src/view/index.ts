export { MarkupError } from './analyse.ts';
export { each, type RowMarkup } from './each.ts';
export { fixed } from './element-expression.ts';
export { type Handle, handle } from './handle.ts';
export { markup } from './markup.ts';
export { on } from './on.ts';
export type { Markup } from './piece.ts';
export { type Settable, sync } from './sync.ts';
