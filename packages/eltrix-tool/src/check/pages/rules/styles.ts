/** Checks names of elements in style sheets: parts, states, attributes, custom properties. */

import type { CssNode, Selector } from 'css-tree';
import { attributeOf } from '../../../project/attribute-of.ts';
import { type CssBlock, type CssRule, parseCss, scopeSelectors, selectorsIn } from '../../../project/css-rules.ts';
import { cssName, cssTokens, identifiersIn, writtenName } from '../../../project/css-tokens.ts';
import { kinds } from '../../../project/kinds/index.ts';
import { nearest } from '../../../project/nearest.ts';
import { hasTemplateSyntax, isUnknownText } from '../../../project/unknown-text.ts';
import type { PageText } from '../page-text.ts';
import type { Element } from '../parsed-page.ts';
import type { KnownElement } from '../vocabulary.ts';

const at = ({ loc }: CssNode, from: number): number => from + (loc?.start.offset ?? 0);

/** @param from the offset of the sheet in the page; null if character references shift offsets. */
export function checkSheet(page: PageText, css: string, from: number): void {
  // Most style sheets contain no custom elements.
  if (!css.includes('--') && !page.all.tags.some(tag => css.includes(tag.slice(0, tag.indexOf('-') + 1)))) return;
  const tokens = cssTokens(css);
  const isVar = (at: number) => tokens[at]?.text.toLowerCase() === 'var(';
  const used = new Set(tokens.filter((_, at) => isVar(at - 1)).map(({ text }) => cssName(text)));
  const visit = (block: CssBlock, around: readonly KnownElement[]) => {
    for (const { name, start, end } of block.declarations)
      if (name.startsWith('--') && !used.has(name)) checkProperty(page, name, around, from + start, from + end);
    for (const rule of block.rules) visit(rule, subjectsOf(page, rule, from, around));
  };
  visit(parseCss(css), []);
}

/** The elements that a rule is about, after a check of its selectors. */
function subjectsOf(page: PageText, rule: CssRule, from: number, around: readonly KnownElement[]): KnownElement[] {
  const check = (selectors: readonly Selector[]) =>
    selectors.flatMap(selector => checkSelector(page, selector, from, around) ?? []);
  if (rule.at === undefined) return check(selectorsIn(rule.prelude, rule.start));
  if (rule.at !== 'scope') return [...around];
  const [root, limit] = scopeSelectors(rule);
  check(limit!);
  return check(root!);
}

/** A `style` attribute. */
export function checkStyleAttribute(page: PageText, element: Element, known: KnownElement): void {
  const style = attributeOf(element, 'style');
  if (!style?.includes('--')) return;
  for (const { name, start, end } of parseCss(style).declarations)
    if (name.startsWith('--'))
      checkProperty(page, name, [known], page.inValue(element, 'style', start), page.inValue(element, 'style', end));
}

/**
 * @param around the elements that `&` and `:scope` select.
 * @returns the element that a selector's last compound matches.
 */
function checkSelector(
  page: PageText,
  selector: Selector,
  from: number,
  around: readonly KnownElement[],
): KnownElement | undefined {
  let known: KnownElement | undefined;
  let inPart = false;
  // A combinator of white space has no position.
  let end = at(selector, from);
  for (const node of selector.children) {
    if (inPart && known && !mayFollowPart(node)) {
      page.report(
        'selector-invalid',
        'After ::part() only pseudo-classes like :hover are possible, so browsers drop this rule. What a part contains needs its own part name.',
        node.loc ? at(node, from) : end,
      );
      return undefined;
    }
    end = from + (node.loc?.end.offset ?? 0);
    inPart ||= node.type === 'PseudoElementSelector' && node.name === 'part';
    if (node.type === 'Combinator') known = undefined;
    const isAround = node.type === 'NestingSelector' || (node.type === 'PseudoClassSelector' && node.name === 'scope');
    if (isAround && around.length === 1) known = around[0];
    if (node.type === 'TypeSelector') {
      known = page.vocabulary.get(node.name);
      if (known?.extends !== undefined) known = undefined;
      if (!known && node.name.includes('-')) checkTagName(page, node.name, at(node, from));
      continue;
    }
    if (known) checkPartOf(page, known, node, from);
    if (node.type === 'PseudoClassSelector')
      for (const list of node.children ?? [])
        if (list.type === 'SelectorList')
          for (const inner of list.children) if (inner.type === 'Selector') checkSelector(page, inner, from, around);
  }
  return known;
}

/** Pseudo-classes and pseudo-elements other than parts (CSS Shadow Parts §4). */
const mayFollowPart = (node: CssNode): boolean =>
  node.type === 'PseudoClassSelector' || (node.type === 'PseudoElementSelector' && node.name !== 'part');

function checkTagName(page: PageText, name: string, offset: number): void {
  const near = nearest(name, page.all.tags);
  if (near === undefined || nearest(name.replace(/^[^-]*-/, ''), [near.replace(/^[^-]*-/, '')]) === undefined) return;
  if (name.split('-')[0] !== near.split('-')[0] && name.replace(/^[^-]*/, '') !== near.replace(/^[^-]*/, '')) return;
  page.report('tag-unknown', `There is no element <${name}>, so this rule does nothing. Did you mean ${near}?`, offset);
}

function checkPartOf(page: PageText, known: KnownElement, node: CssNode, from: number): void {
  if (node.type === 'AttributeSelector') return checkAttributeSelector(page, known, node, from);
  if (node.type !== 'PseudoElementSelector' && node.type !== 'PseudoClassSelector') return;
  if (node.type === 'PseudoElementSelector' && node.name === 'slotted') {
    const message = `::slotted() is for <slot> inside the element: ${known.tag} > … selects its content from outside.`;
    page.report('selector-invalid', message, at(node, from));
    return;
  }
  const older = node.type === 'PseudoClassSelector' && node.name.startsWith('--') ? node.name.slice(2) : undefined;
  if (older !== undefined && known.states.has(older)) {
    const { start, end } = node.loc!;
    page.report('selector-invalid', `Browsers drop a rule with :--${older}. Write :state(${older}).`, at(node, from), [
      { start: from + start.offset, end: from + end.offset, text: `:state(${older})` },
    ]);
    return;
  }
  const inside = node.children?.first;
  if (inside?.type !== 'Raw' || hasTemplateSyntax(inside.value)) return;
  const what = node.name;
  if (what !== 'part' && what !== 'state') return;
  const names = what === 'part' ? known.parts : known.states;
  const inner = at(inside, from);
  for (const { name, start, end } of identifiersIn(inside.value)) {
    if (names.has(name)) continue;
    const near = nearest(name, names);
    const has = names.size > 0 ? ` It has ${[...names].join(', ')}.` : ` It declares no ${what}s.`;
    page.report(
      what === 'part' ? 'part-unknown' : 'state-unknown',
      `<${known.tag}> has no ${what} "${name}", so this rule does nothing.${near ? ` Did you mean "${near}"?` : has}`,
      inner + start,
      near ? [{ start: inner + start, end: inner + end, text: writtenName(near) }] : undefined,
    );
  }
}

function checkAttributeSelector(
  page: PageText,
  known: KnownElement,
  node: Extract<CssNode, { type: 'AttributeSelector' }>,
  from: number,
): void {
  const { name } = node.name;
  const declared = known.attributes.get(name);
  if (!declared) {
    const near = nearest(name, known.attributes.keys());
    if (near !== undefined && !/^(?:data|aria)-/.test(name) && name.length > 3)
      page.report(
        'attribute-unknown',
        `<${known.tag}> has no attribute "${name}", so this rule does nothing. Did you mean "${near}"?`,
        at(node.name, from),
      );
    return;
  }
  if (node.matcher !== '=' || node.value?.type !== 'String' || isUnknownText(node.value.value)) return;
  if (declared.kind === 'flag' && node.value.value !== '') {
    page.report(
      'flag-value',
      `<${known.tag}>: a flag that a script sets has no value, so this matches nothing then. Write [${name}] or :not([${name}]).`,
      at(node, from),
    );
    return;
  }
  if (declared.kind !== 'choice') return;
  const problem = kinds[declared.kind].problem?.(declared, node.value.value);
  if (problem) page.report(problem.code, `<${known.tag}>: ${problem.message}`, at(node.value, from));
}

/** Finds a custom property whose name is similar to one of the element, or of any element. */
function checkProperty(
  page: PageText,
  name: string,
  subjects: readonly KnownElement[],
  start: number,
  end: number,
): void {
  if (page.all.properties.has(name) || hasTemplateSyntax(name)) return;
  const own = new Set(subjects.flatMap(({ properties }) => [...properties]));
  const near = nearest(name, own);
  if (near === undefined) return;
  page.report(
    'css-property-unknown',
    `${subjects.map(({ tag }) => `<${tag}>`).join(', ')} has no custom property "${name}". Did you mean "${near}"?`,
    start,
    [{ start, end, text: writtenName(near) }],
  );
}
