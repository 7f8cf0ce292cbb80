/** `undefined.css`: elements keep their space and do not flash before they are defined. */
import { writtenName } from '../project/css-tokens.ts';
import type { ElementDescription } from './description.ts';

/** How long undefined elements stay hidden, in seconds: without a script the content must become visible. */
const patience = 3;

export function undefinedCss(elements: readonly ElementDescription[]): string {
  const tags = elements.filter(element => element.extends === undefined).map(({ tag }) => writtenName(tag));
  if (tags.length === 0) return '/* No element here can flash. */\n';
  return `/* Link this before the elements load. What is not defined after ${patience} seconds shows as it is. */
:is(${tags.join(', ')}):not(:defined) {
  visibility: hidden;
  animation: eltrix-undefined 0s ${patience}s forwards;
}
@keyframes eltrix-undefined {
  to { visibility: visible; }
}
`;
}
