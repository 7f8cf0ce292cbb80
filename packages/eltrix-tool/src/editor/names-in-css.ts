import type { CssNode, Selector } from 'css-tree';
import parse from 'css-tree/parser';
import walk from 'css-tree/walker';
import type { ElementDescription } from '../describe/description.ts';
import { cssTokens } from '../project/css-tokens.ts';
import type { Sighting } from './contract-name.ts';
import type { EditorProject } from './project.ts';

/**
 * Finds names of contracts in a style sheet.
 *
 * @param from the offset of the sheet in its document.
 * @param host the element of `:host`.
 * @param context `declarationList` for a `style` attribute.
 */
export function cssNames(
  project: EditorProject,
  css: string,
  from: number,
  host: ElementDescription | undefined,
  context: 'stylesheet' | 'declarationList' = 'stylesheet',
): Sighting[] {
  const found: Sighting[] = [];
  const put = (element: ElementDescription, kind: Sighting['kind'], name: string, start: number) =>
    found.push({ element, kind, name, start: from + start, end: from + start + name.length });
  const offsetOf = ({ loc }: CssNode) => loc?.start.offset ?? 0;

  for (const { text: name, start: index } of cssTokens(css)) {
    if (!name.startsWith('--')) continue;
    const element = project.elements.find(({ cssProperties }) => cssProperties.some(one => one.name === name));
    if (element) put(element, 'property', name, index);
  }

  const readCompound = (element: ElementDescription | undefined, node: CssNode) => {
    if (node.type === 'AttributeSelector' && element) {
      const { name } = node.name;
      if (element.properties.some(({ attribute }) => attribute === name))
        put(element, 'attribute', name, offsetOf(node.name));
      return;
    }
    if (node.type !== 'PseudoElementSelector' && node.type !== 'PseudoClassSelector') return;
    const kind = node.name === 'part' || node.name === 'state' ? node.name : undefined;
    const inside = node.children?.first;
    if (kind && element && inside?.type === 'Raw')
      for (const { 0: name, index } of inside.value.matchAll(/[^\s]+/g))
        if ((kind === 'part' ? element.parts : element.states).some(one => one.name === name))
          put(element, kind, name, offsetOf(inside) + index);
    for (const list of node.children ?? []) {
      if (list.type === 'SelectorList')
        for (const inner of list.children) if (inner.type === 'Selector') readSelector(inner, element);
      if (list.type === 'Selector') readSelector(list, element);
    }
  };
  const readSelector = (selector: Selector, around?: ElementDescription) => {
    let element = around;
    for (const node of selector.children) {
      if (node.type === 'Combinator') element = undefined;
      else if (node.type === 'TypeSelector') {
        element = project.element(node.name);
        if (element) put(element, 'tag', node.name, offsetOf(node));
      } else if (node.type === 'PseudoClassSelector' && /^host/.test(node.name)) {
        element = host;
        readCompound(host, node);
      } else readCompound(element, node);
    }
  };
  walk(parse(css, { positions: true, parseValue: false, parseCustomProperty: false, context, onParseError() {} }), {
    visit: 'Rule',
    enter({ prelude }) {
      if (prelude.type !== 'SelectorList') return;
      for (const selector of prelude.children) if (selector.type === 'Selector') readSelector(selector);
    },
  });
  return found;
}
