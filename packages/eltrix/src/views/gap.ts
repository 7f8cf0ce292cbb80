/** The space of rows that are not rendered. */
import { template } from '../view/compiled.ts';
import { Expression } from '../view/expression.ts';

const gapOf: Readonly<Record<string, string>> = {
  ul: 'li',
  ol: 'li',
  tbody: 'tr',
  thead: 'tr',
  table: 'tr',
  menu: 'li',
};

/** Its height is set by script, which every policy allows. */
const gapTemplates = new Map<string, ReturnType<typeof template>>();
/** @param parent of the rows: in a table the space is a row, in a list an item. */
export function gapTemplate(parent: Element): ReturnType<typeof template> {
  const tag = gapOf[parent.localName] ?? 'div';
  let made = gapTemplates.get(tag);
  if (made === undefined) {
    const html = tag === 'tr' ? '<table><tr></tr></table>' : `<${tag}></${tag}>`;
    const wrapped = template(
      html,
      [
        (node, owner) =>
          new Expression(owner, node, (element: HTMLElement, height) => {
            element.style.cssText = `display: block; height: ${height as number}px; margin: 0; padding: 0; border: 0; overflow-anchor: none; visibility: hidden`;
            // Its height is measured, so `eltrix check` does not compare it.
            element.setAttribute('data-eltrix', 'gap');
            element.ariaHidden = 'true';
          }),
      ],
      root => [root],
    );
    made = tag === 'tr' ? () => ({ ...wrapped(), root: (wrapped().root as Element).querySelector('tr')! }) : wrapped;
    gapTemplates.set(tag, made);
  }
  return made;
}
