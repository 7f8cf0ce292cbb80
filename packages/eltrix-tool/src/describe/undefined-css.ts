/** `undefined.css`: elements that are not defined yet keep their place and do not flash. */
import type { ElementDescription } from './description.ts';

/** How long what is not defined stays hidden, in seconds: a script that never comes must not hide content for good. */
const patience = 3;

export function undefinedCss(elements: readonly ElementDescription[]): string {
  const tags = elements.filter(element => element.extends === undefined).map(({ tag }) => tag);
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
