/** The steps to write a template, prepared once: static texts, expressions and elements. */
import { type Analysis, analyse, commentMark, elementMark, type Namespace, type Site } from '../view/analyse.ts';
import { orderOf } from '../view/order.ts';
import { isGuarded } from '../view/safety.ts';
import { closeMark, openMark } from '../view/sent-marks.ts';
import { decodeReferences } from './character-references.ts';
import { areBlank } from './context.ts';
import { isInherited } from './host.ts';
import { parseTree, type TreeElement, type TreeNode } from './tree.ts';

export type AttributeSite = Extract<Site, { kind: 'attribute' }> & {
  /** Whether a value could run code, and is checked first. */
  readonly guarded: boolean;
  readonly lower: string;
  /** Whether its value is one expression without text around it. */
  readonly isAlone: boolean;
  /** The property that an object sets, on a custom element. */
  readonly property: string | undefined;
};

/**
 * An element that is handled as a whole: a custom element, a slot, one with a record of properties, with text in
 * parts, or with a language or direction.
 */
export interface ElementStep {
  readonly kind: 'element';
  readonly tag: string;
  /** The `is` attribute of a customized built-in element. */
  readonly is: string | undefined;
  /** Its attributes without expressions, resolved. */
  readonly attributes: readonly (readonly [name: string, value: string])[];
  readonly sites: readonly (Exclude<Site, { kind: 'attribute' | 'listener' }> | AttributeSite)[];
  readonly children: readonly StepChild[];
  readonly close: string;
  readonly isVoid: boolean;
}

export interface StepChild {
  /** Undefined for other nodes. */
  readonly tag: string | undefined;
  readonly slot: string;
  /** Whether it is white space only. */
  readonly isBlank: boolean;
  readonly steps: readonly Step[];
}

export type Step =
  | string
  | { readonly kind: 'content'; readonly expression: number; readonly line: number }
  | AttributeSite
  | Extract<Site, { kind: 'style' }>
  | ElementStep;

const made = new WeakMap<readonly string[], readonly Step[]>();

/** The steps of a template. @throws MarkupError as in the browser. */
export function stepsOf(strings: readonly string[], namespace: Namespace): readonly Step[] {
  let steps = made.get(strings);
  if (steps === undefined) made.set(strings, (steps = makeSteps(analyse(strings, namespace))));
  return steps;
}

/** The top-level nodes of a piece of markup: the children of the element around it. */
export function childrenOf(piece: object): readonly StepChild[] {
  const { strings, namespace } = piece as { readonly strings: readonly string[]; readonly namespace: Namespace };
  let children = tops.get(strings);
  if (children === undefined) {
    const analysis = analyse(strings, namespace);
    const [around] = makeSteps({ ...analysis, html: `<content-of>${analysis.html}</content-of>` }) as [ElementStep];
    tops.set(strings, (children = around.children));
  }
  return children;
}

const tops = new WeakMap<readonly string[], readonly StepChild[]>();

function makeSteps({ html, sites, namespace, nodes }: Analysis): readonly Step[] {
  const byNode: Site[][] = Array.from({ length: nodes }, () => []);
  for (const site of sites) byNode[site.node]!.push(site);
  const sitesOf = (attributes: TreeElement['attributes']) => {
    const mark = attributes.find(({ name }) => name === elementMark);
    return mark === undefined ? [] : byNode[+mark.value]!;
  };
  const tree = parseTree(
    html,
    ({ name, attributes }, foreign) => {
      if (foreign || namespace !== 'html') return false;
      return (
        name.includes('-') ||
        name === 'slot' ||
        attributes.some(attribute => attribute.name === 'is' || isInherited(attribute.name)) ||
        sitesOf(attributes).some(
          site =>
            site.kind === 'element' || site.kind === 'text' || (site.kind === 'attribute' && isInherited(site.name)),
        )
      );
    },
    true,
  );
  const steps = (nodes: readonly TreeNode[]): readonly Step[] =>
    nodes.flatMap(node => (typeof node === 'string' ? inText(node) : [inElement(node)]));
  const inText = (text: string): Step[] => {
    const found: Step[] = [];
    let at = 0;
    // The marks around an expression are part of the texts beside it: fewer parts are faster to join.
    let after = '';
    for (const mark of text.matchAll(marks)) {
      const [whole, content] = mark;
      const before = after + text.slice(at, mark.index) + (content === undefined ? '' : openMark);
      if (before !== '') found.push(before);
      at = mark.index + whole.length;
      after = content === undefined ? '' : closeMark;
      if (content !== undefined) {
        const { expression, line } = byNode[+content]![0]!;
        found.push({ kind: 'content', expression, line });
      } else
        for (const site of byNode[+mark[2]!]!.map(prepared))
          if (site?.kind === 'attribute' || site?.kind === 'style') found.push(site);
    }
    const rest = after + text.slice(at);
    if (rest !== '') found.push(rest);
    return found;
  };
  const inElement = ({ tag, attributes, children, close }: TreeElement): ElementStep => {
    const own = attributes.filter(({ name }) => name !== elementMark);
    return {
      kind: 'element',
      tag,
      is: own.find(({ name }) => name === 'is')?.value,
      attributes: own.map(({ name, value }) => [name, decodeReferences(value, true)] as const),
      sites: sitesOf(attributes)
        .toSorted((a, b) => orderOf(a) - orderOf(b))
        .flatMap(site => prepared(site) ?? []),
      children: children.map(({ tag, slot, nodes }) => {
        const inside = steps(nodes);
        return { tag, slot: decodeReferences(slot, true), isBlank: areBlank(inside), steps: inside };
      }),
      close,
      isVoid: close === '' && children.length === 0,
    };
  };
  return steps(tree);
}

const marks = new RegExp(`<!--${commentMark}(\\d+)-->| ${elementMark}="(\\d+)"`, 'g');

/** A binding with the facts that depend on the template alone; undefined for a listener, which has no output. */
function prepared(site: Site): Exclude<Site, { kind: 'attribute' | 'listener' }> | AttributeSite | undefined {
  if (site.kind === 'listener') return undefined;
  if (site.kind === 'style') return { ...site, text: decodeReferences(site.text, true) };
  if (site.kind !== 'attribute') return site;
  const { tag, name } = site;
  const statics = site.statics.map(text => decodeReferences(text, true));
  const lower = name.toLowerCase();
  const isAlone = statics.length === 2 && statics[0] === '' && statics[1] === '';
  const property =
    isAlone && tag.includes('-') && lower !== 'class' && lower !== 'style'
      ? name.replace(/-([a-z])/g, (_, letter: string) => letter.toUpperCase())
      : undefined;
  return { ...site, statics, guarded: isGuarded(tag, name), lower, isAlone, property };
}
