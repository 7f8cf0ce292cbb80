import type { AttributeSelector, CssNode, PseudoClassSelector, PseudoElementSelector, Selector } from 'css-tree';
import type { ElementDescription } from '../describe/description.ts';
import { type CssBlock, parseCss, scopeSelectors, selectorsIn } from '../project/css-rules.ts';
import { cssName, cssTokens, identifiersIn, writtenName } from '../project/css-tokens.ts';
import type { Sighting } from './contract-name.ts';
import type { EditorProject } from './project.ts';

/**
 * Finds names of contracts in a style sheet.
 *
 * @param from the offset of the sheet in its document.
 * @param host the element of `:host`.
 */
export function cssNames(
  project: EditorProject,
  css: string,
  from: number,
  host: ElementDescription | undefined,
): Sighting[] {
  const names = new CssNames(project, from, host);
  for (const { text, start, end } of cssTokens(css)) {
    const name = cssName(text);
    if (!name.startsWith('--')) continue;
    const element = project.elements.find(({ cssProperties }) => cssProperties.some(one => one.name === name));
    if (element) names.put(element, 'property', name, start, end);
  }
  names.visit(parseCss(css));
  return names.found;
}

/** The same in the selectors that a call takes, as `querySelector` does. */
export function selectorNames(
  project: EditorProject,
  selectors: string,
  from: number,
  host: ElementDescription | undefined,
): Sighting[] {
  const names = new CssNames(project, from, host);
  names.readList(selectorsIn(selectors, 0));
  return names.found;
}

/** What may be written at a position of a style sheet. */
export interface CssPlace {
  readonly kind: 'tag' | 'attribute' | 'value' | 'slot' | 'part' | 'state';
  /** The element with such names, if it is known. */
  readonly element: ElementDescription | undefined;
  /** The attribute of a value. */
  readonly attribute?: string;
}

/** What may follow the beginning of a style sheet. @param head up to where the name begins. */
export function placeAfter(
  project: EditorProject,
  head: string,
  host: ElementDescription | undefined,
): CssPlace | undefined {
  const names = new CssNames(project, 0, host, head.length);
  names.visit(parseCss(`${head}x${closedAfter(head)}`));
  return names.marked;
}

/** What closes the string and the brackets that are open after a text, and makes a rule of it. */
function closedAfter(head: string): string {
  const tokens = cssTokens(`${head}x`);
  const [quote = ''] = /^["']/.exec(tokens.at(-1)!.text) ?? [];
  const open: string[] = [];
  for (const { text } of tokens) {
    if (/[([{]$/.test(text)) open.push({ '(': ')', '[': ']', '{': '}' }[text.at(-1) as '(']!);
    else if (text === open.at(-1)) open.pop();
  }
  const brackets = open.splice(open.lastIndexOf('}') + 1);
  return `${quote}${brackets.reverse().join('')} {}${open.reverse().join('')}`;
}

/** What is known where a selector begins. */
interface Place {
  /** What its first compound is about already, as in `hive-card:not([mood])`. */
  readonly subject?: ElementDescription | undefined;
  /** What a combinator at its beginning follows. */
  readonly anchor?: ElementDescription | undefined;
  /** The element whose slots the first compound is in. */
  readonly parent?: ElementDescription | undefined;
}

class CssNames {
  readonly found: Sighting[] = [];
  /** What may be written at the mark. */
  marked: CssPlace | undefined;

  constructor(
    readonly project: EditorProject,
    readonly from: number,
    readonly host: ElementDescription | undefined,
    /** The offset of an unfinished name. */
    readonly mark = -1,
  ) {}

  #mayBe(start: number, place: CssPlace): void {
    if (start === this.mark) this.marked = place;
  }

  put(element: ElementDescription, kind: Sighting['kind'], name: string, from: number, to: number): void {
    const [start, end] = [this.from + from, this.from + to];
    this.found.push({ element, kind, name, start, end, edit: given => ({ start, end, text: writtenName(given) }) });
  }

  /** @param around the element that `&` and `:scope` select, if that is known. */
  visit(block: CssBlock, around?: ElementDescription): void {
    for (const rule of block.rules) {
      let inside = around;
      if (rule.at === undefined) inside = this.readList(selectorsIn(rule.prelude, rule.start), around);
      else if (rule.at === 'scope') {
        const [root, limit] = scopeSelectors(rule);
        inside = this.readList(root!, around);
        this.readList(limit!, inside);
      }
      this.visit(rule, inside);
    }
  }

  /** @returns the element that all of the selectors select. */
  readList(selectors: readonly Selector[], around?: ElementDescription): ElementDescription | undefined {
    const subjects = selectors.map(selector => this.#readSelector(selector, around, { anchor: around }));
    return subjects.every(subject => subject === subjects[0]) ? subjects[0] : undefined;
  }

  /** @returns the element that it selects. */
  #readSelector(
    selector: Selector,
    around: ElementDescription | undefined,
    { subject, anchor, parent }: Place,
  ): ElementDescription | undefined {
    for (const node of selector.children) {
      switch (node.type) {
        case 'Combinator':
          parent = node.name === '>' ? (node === selector.children.first ? anchor : subject) : undefined;
          subject = undefined;
          break;
        case 'TypeSelector':
          this.#mayBe(offsetOf(node), { kind: 'tag', element: undefined });
          subject = this.project.element(node.name.toLowerCase());
          if (subject) this.put(subject, 'tag', node.name, offsetOf(node), endOf(node));
          break;
        case 'NestingSelector':
          subject = around;
          break;
        case 'AttributeSelector':
          this.#readAttribute(node, subject, parent);
          break;
        case 'PseudoElementSelector':
          if (node.name === 'part') this.#readNames(node, 'part', subject);
          else this.#readArguments(node, around, {});
          break;
        case 'PseudoClassSelector':
          if (node.name === 'scope') subject = around;
          if (/^host(?:-context)?$/.test(node.name)) subject = this.host;
          if (node.name === 'state') this.#readNames(node, 'state', subject);
          else this.#readArguments(node, around, { subject, parent });
          break;
      }
    }
    return subject;
  }

  #readArguments(
    { name, children }: PseudoClassSelector | PseudoElementSelector,
    around: Place['subject'],
    place: Place,
  ) {
    const inside: Place =
      name === 'has'
        ? { anchor: place.subject }
        : name === 'slotted'
          ? { parent: this.host }
          : name === 'host-context'
            ? {}
            : place;
    const read = (node: CssNode) => {
      if (node.type === 'Selector') this.#readSelector(node, around, inside);
      else if (node.type === 'SelectorList') node.children.forEach(read);
      else if (node.type === 'Nth' && node.selector) read(node.selector);
    };
    children?.forEach(read);
  }

  #readAttribute(
    { name, value }: AttributeSelector,
    element: ElementDescription | undefined,
    parent: ElementDescription | undefined,
  ): void {
    this.#mayBe(offsetOf(name), { kind: 'attribute', element });
    const text = value?.type === 'String' ? value.value : (value?.name ?? '');
    const quote = value?.type === 'String' ? 1 : 0;
    const [at, to] = value ? [offsetOf(value) + quote, endOf(value) - quote] : [-2, -2];
    if (name.name === 'slot') {
      this.#mayBe(at, { kind: 'slot', element: parent });
      if (parent?.slots.some(slot => slot.name === text)) this.put(parent, 'slot', text, at, to);
      return;
    }
    this.#mayBe(at, { kind: 'value', element, attribute: name.name.toLowerCase() });
    if (element?.properties.some(({ attribute }) => attribute === name.name.toLowerCase()))
      this.put(element, 'attribute', name.name, offsetOf(name), endOf(name));
  }

  #readNames(
    { children }: PseudoClassSelector | PseudoElementSelector,
    kind: 'part' | 'state',
    element: ElementDescription | undefined,
  ): void {
    const inside = children?.first;
    if (inside?.type !== 'Raw') return;
    const from = offsetOf(inside);
    for (const { name, start, end } of identifiersIn(inside.value)) {
      this.#mayBe(from + start, { kind, element });
      if (!element) continue;
      if ((kind === 'part' ? element.parts : element.states).some(one => one.name === name))
        this.put(element, kind, name, from + start, from + end);
    }
  }
}

const offsetOf = ({ loc }: CssNode) => loc?.start.offset ?? 0;
const endOf = ({ loc }: CssNode) => loc?.end.offset ?? 0;
