/** The static HTML of a template without its comments, and the path to each node with a binding. */
import { type DefaultTreeAdapterMap, html as names, parseFragment } from 'parse5';
import {
  commentMark,
  elementMark,
  lostExpression,
  type Namespace,
  type Site,
} from '../../../eltrix/src/view/analyse.ts';
import { orderOf } from '../../../eltrix/src/view/order.ts';
import { takesContent } from '../../../eltrix/src/view/takes-content.ts';

type Tree = DefaultTreeAdapterMap;
type TreeNode = Tree['childNode'];
type TreeElement = Tree['element'];
type TreeParent = Tree['parentNode'];

export interface PlacedSite {
  readonly site: Site;
  /** The step of the path that leads to its node. */
  readonly at: number;
  /** Its index among all nodes in document order; the fragment is 0. */
  readonly index: number;
  /** The element's name as parsed; for content and text the parent element's. */
  readonly tag: string;
  /** Whether other expressions are next to it, with no element between, of which not all surely give text. */
  readonly isAmong: boolean;
}

export interface StaticHtml {
  readonly html: string;
  readonly path: readonly number[];
  readonly sites: readonly PlacedSite[];
  /** Whether `importNode` is needed, since the template contains custom elements. */
  readonly imported: boolean;
}

const isElement = (node: TreeNode | TreeParent): node is TreeElement => 'tagName' in node;
const isText = (node: TreeNode): node is Tree['textNode'] => node.nodeName === '#text';
const isComment = (node: TreeNode): node is Tree['commentNode'] => node.nodeName === '#comment';
const contentOf = (node: TreeParent): TreeParent => ('content' in node ? node.content : node);
const childrenOf = (node: TreeParent): TreeNode[] => contentOf(node).childNodes;

/** @param onParseError called for parse errors. */
function parse(html: string, namespace: Namespace, onParseError?: () => void): TreeParent {
  // The content of a template is parsed with scripting disabled: <noscript> has child elements.
  const wrapped = namespace === 'html' ? html : `<${namespace}>${html}</${namespace}>`;
  const fragment = parseFragment(wrapped, { scriptingEnabled: false, onParseError: onParseError ?? null });
  return namespace === 'html' ? fragment : (fragment.childNodes[0] as TreeElement);
}

/** Expressions between tags, with the texts around them. */
export type Texts = Site & { readonly kind: 'text' };

/**
 * White space is kept: whether it is visible depends on style sheets, which the compiler does not know.
 * @param html the analysed HTML, marks included.
 * @param areText whether expressions that are alone with texts in an element always give text.
 */
export function staticHtml(
  html: string,
  sites: readonly Site[],
  namespace: Namespace,
  areText: (texts: Texts) => boolean = () => false,
): StaticHtml {
  let mistakes = 0;
  const marked = parse(html, namespace, () => mistakes++);
  // The minified HTML is used only if the page's parser creates the same tree from it.
  const surely = mistakes === 0 && !mayDiffer.test(html);
  const fits = surely || same(parse(print(marked), namespace), marked);
  const { joined, among } = joinTexts(marked, sites, fits ? areText : () => false);
  const small = print(marked);
  const parsed = surely || !fits ? marked : parse(small, namespace);
  const { path, placed, imported, leads } = locate(parsed, marked, joined, fits, among);
  return { html: (leads ? '<!>' : '') + (fits ? small : withoutMarks(html)), path, sites: placed, imported };
}

/** Binds expressions, and the texts around them, to elements that have nothing else: each has one text for all. */
function joinTexts(tree: TreeParent, sites: readonly Site[], areText: (texts: Texts) => boolean) {
  const byNode = new Map(sites.map(site => [site.node, site]));
  /** Those that stay beside others. */
  const among = new Set<Site>();
  let count = Math.max(-1, ...byNode.keys()) + 1;
  let joined = sites;
  const visit = (parent: TreeParent) => {
    for (const child of childrenOf(parent)) if (isElement(child)) visit(child);
    if (!isElement(parent) || 'content' in parent) return;
    if (
      takesContent(
        parent.tagName,
        parent.attrs.some(({ name }) => name === 'is'),
      )
    )
      return;
    const mark = parent.attrs.find(({ name }) => name === elementMark);
    const node = mark ? Number(mark.value) : count;
    const isAll = !childrenOf(parent).some(isElement);
    const runs: { inside: Site[]; statics: string[] }[] = [];
    let run: (typeof runs)[number] | undefined;
    for (const child of childrenOf(parent)) {
      if (isElement(child)) run = undefined;
      else if (!run) runs.push((run = { inside: [], statics: [''] }));
      if (isText(child)) run!.statics[run!.inside.length] += child.value;
      else if (isMark(child)) run!.statics[run!.inside.push(byNode.get(markOf(child as Tree['commentNode']))!)] = '';
    }
    for (const { inside, statics } of runs) {
      const [first] = inside;
      if (!first || (!isAll && inside.length === 1)) continue;
      const { expression, line } = first;
      const text: Texts = {
        kind: 'text',
        node,
        expression,
        count: inside.length,
        line,
        statics: statics.map(text => text.replaceAll('&', '&amp;')),
      };
      if (!areText(text)) {
        if (inside.length > 1) for (const site of inside) among.add(site);
      } else if (isAll) join(parent, mark !== undefined, text, inside);
    }
  };
  const join = (parent: TreeElement, isMarked: boolean, text: Texts, inside: readonly Site[]) => {
    count++;
    if (!isMarked) parent.attrs.push({ name: elementMark, value: String(text.node) });
    parent.childNodes = childrenOf(parent).filter(isMark).slice(0, 1);
    joined = joined.flatMap(site => (site === inside[0] ? [text] : inside.includes(site) ? [] : [site]));
  };
  visit(tree);
  return { joined, among };
}

/** Comments, which are removed; elements whose text begins or continues differently. */
const mayDiffer = new RegExp(
  `<!(?!--${commentMark}\\d)|<(?:pre|textarea|listing|xmp|plaintext|noscript|template|select|svg|math|title|style|script|iframe|noembed|noframes)\\b`,
  'i',
);

/** The reason why a page's parser may create another tree than the parser here, or undefined. */
export function disputed(html: string): string | undefined {
  for (const [, inside] of html.matchAll(/<select\b[^>]*>([^]*?)(?:<\/select|$)/gi)) {
    const [, other] = /<(?!\/|!|(?:option|optgroup|hr|script|template)\b)([a-z][^\s/>]*)/i.exec(inside!) ?? [];
    if (other) return `engines differ about <${other}> inside <select>`;
  }
  return undefined;
}

/** As written, with an empty comment for each content expression. */
function withoutMarks(html: string): string {
  return html
    .replace(new RegExp(`<!--${commentMark}\\d+-->`, 'g'), '<!>')
    .replace(new RegExp(` ${elementMark}="\\d+"`, 'g'), '');
}

const markOf = ({ data }: Tree['commentNode']) => Number(data.slice(commentMark.length));
const isMark = (node: TreeNode) => isComment(node) && node.data.startsWith(commentMark);
const rawText = /^(?:style|script|xmp|iframe|noembed|noframes|plaintext)$/;

/** Serializes a tree: marks become empty comments, other comments are removed. */
function print(parent: TreeParent): string {
  return childrenOf(parent)
    .map(node => {
      if (isText(node)) return printText(node.value, parent);
      if (isComment(node)) return isMark(node) ? '<!>' : '';
      if (!isElement(node)) return '';
      const attributes = node.attrs
        .filter(({ name }) => name !== elementMark)
        .map(({ name, prefix, value }) => ` ${prefix ? `${prefix}:` : ''}${name}${printValue(value)}`);
      const start = `<${node.tagName}${attributes.join('')}>`;
      if (node.namespaceURI === names.NS.HTML && voidElements.test(node.tagName)) return start;
      return `${start}${print(node)}</${node.tagName}>`;
    })
    .join('');
}

const voidElements = /^(?:area|base|br|col|embed|hr|img|input|link|meta|param|source|track|wbr)$/;

function printText(value: string, parent: TreeParent): string {
  const tag = isElement(parent) ? parent.tagName : '';
  if (rawText.test(tag)) return value;
  return value.replaceAll('&', '&amp;').replaceAll('\u00a0', '&nbsp;').replaceAll('<', '&lt;');
}

function printValue(value: string): string {
  if (value === '') return '';
  const text = value.replaceAll('&', '&amp;');
  if (!/[\t\n\f\r "'=<>`]/.test(text) && !text.endsWith('/')) return `=${text}`;
  if (!text.includes('"')) return `="${text}"`;
  return text.includes("'") ? `="${text.replaceAll('"', '&quot;')}"` : `='${text}'`;
}

/** Whether two trees are equal, apart from comments that are no marks, and from marks in them. */
function same(small: TreeParent, marked: TreeParent): boolean {
  const [a, b] = [pieces(small, false), pieces(marked, true)];
  if (a.length !== b.length) return false;
  return a.every((piece, i) => {
    const other = b[i]!;
    if (typeof piece === 'string' || typeof other === 'string') return piece === other;
    if (piece.tagName !== other.tagName || piece.namespaceURI !== other.namespaceURI) return false;
    const attributes = other.attrs.filter(({ name }) => name !== elementMark);
    return (
      piece.attrs.length === attributes.length &&
      piece.attrs.every(({ name, prefix, value }, k) => {
        const twin = attributes[k]!;
        return name === twin.name && value === twin.value && (prefix ?? '') === (twin.prefix ?? '');
      }) &&
      same(piece, other)
    );
  });
}

/** Elements, and the texts between them; a mark is `<!>`. */
function pieces(parent: TreeParent, marked: boolean): (string | TreeElement)[] {
  const list: (string | TreeElement)[] = [];
  let text: string | undefined;
  const flush = () => {
    if (text !== undefined) list.push(text);
    text = undefined;
  };
  for (const node of childrenOf(parent)) {
    if (isText(node)) text = (text ?? '') + node.value;
    else if (isComment(node)) {
      if (marked && !isMark(node)) continue;
      flush();
      list.push('<!>');
    } else if (isElement(node)) {
      flush();
      list.push(node);
    }
  }
  flush();
  return list;
}

/** The marked nodes of a tree, in the order of their marks, found by walking both trees in parallel. */
function findMarked(tree: TreeParent, original: TreeParent, fits: boolean): TreeNode[] {
  const marked: TreeNode[] = [];
  const visit = (parent: TreeParent, from: TreeParent) => {
    const sources = childrenOf(from).filter(node => isElement(node) || isMark(node));
    const targets = childrenOf(parent).filter(node => isElement(node) || (isComment(node) && (fits || isMark(node))));
    sources.forEach((source, i) => {
      const target = targets[i]!;
      if (isComment(source)) marked[markOf(source)] = target;
      else if (isElement(source)) {
        const mark = source.attrs.find(({ name }) => name === elementMark);
        if (mark) marked[Number(mark.value)] = target;
        visit(target as TreeElement, source);
      }
    });
  };
  visit(tree, original);
  return marked;
}

/** Like `pathTo` in `view/prepare.ts`. */
function locate(
  tree: TreeParent,
  original: TreeParent,
  sites: readonly Site[],
  fits: boolean,
  among: ReadonlySet<Site>,
) {
  const marked = findMarked(tree, original, fits);
  for (const site of sites) if (!marked[site.node]) throw lostExpression(site);
  const nodes = sites.map(site => marked[site.node]!);
  const children = childrenOf(tree);
  // A content expression would insert nodes before the first node, which would then not be the first: a comment goes
  // before it.
  const [first] = children;
  const leads = first === undefined || (isComment(first) && nodes.includes(first));
  const single = !leads && children.length === 1 && isElement(children[0]!);
  const root: TreeParent | TreeNode = single ? children[0]! : tree;
  const order = new Map<TreeParent | TreeNode, number>([[root, 0]]);
  const wanted = new Set<TreeParent | TreeNode>();
  for (const node of nodes)
    for (let up: TreeParent | TreeNode | null = node; up && up !== root; up = hostOf(up, tree)) wanted.add(up);
  const path: number[] = [];
  let imported = false;
  const indices = new Map<TreeNode, number>();
  const visit = (parent: TreeParent) => {
    let from = order.get(parent)!;
    let down = 'content' in parent ? 2 : 1;
    let steps = parent === tree && leads ? 1 : 0;
    for (const child of childrenOf(parent)) {
      if (wanted.has(child)) {
        path.push(from, down, steps);
        from = order.size;
        order.set(child, from);
        down = 0;
        steps = 0;
        if (isElement(child)) visit(child);
      }
      steps++;
    }
  };
  visit(root as TreeParent);
  const look = (node: TreeNode | TreeParent) => {
    if (node !== tree) indices.set(node as TreeNode, indices.size + (leads ? 2 : 1));
    if (
      isElement(node) &&
      (/-/.test(node.tagName) || node.tagName === 'template' || node.attrs.some(a => a.name === 'is'))
    )
      imported = true;
    if ('childNodes' in node) for (const child of childrenOf(node)) look(child);
  };
  look(tree);
  const tagOf = (node: TreeNode): string =>
    isElement(node) ? node.tagName : node.parentNode && isElement(node.parentNode) ? node.parentNode.tagName : '';
  const placed = sites
    .toSorted((a, b) => orderOf(a) - orderOf(b))
    .map(site => ({
      site,
      at: order.get(marked[site.node]!)!,
      index: indices.get(marked[site.node]!)!,
      tag: tagOf(marked[site.node]!),
      isAmong: among.has(site),
    }));
  return { path, placed, imported, leads };
}

/** The parent of a node; for the content of a template, the template. */
function hostOf(node: TreeParent | TreeNode, tree: TreeParent): TreeParent | TreeNode | null {
  const parent = 'parentNode' in node ? node.parentNode : null;
  if (!parent || parent === tree) return parent;
  return hosts(tree).get(parent) ?? parent;
}

const known = new WeakMap<object, Map<TreeParent, TreeElement>>();

/** The `<template>` element of each template's content. */
function hosts(tree: TreeParent): Map<TreeParent, TreeElement> {
  let found = known.get(tree);
  if (!found) {
    found = new Map();
    const visit = (parent: TreeParent) => {
      for (const child of childrenOf(parent)) {
        if (!isElement(child)) continue;
        if ('content' in child) found!.set((child as Tree['template']).content, child);
        visit(child);
      }
    };
    visit(tree);
    known.set(tree, found);
  }
  return found;
}

/** Resolves the character references in a text of the template. */
export function decode(text: string): string {
  if (!text.includes('&')) return text;
  const area = parseFragment(`<textarea>\n${text.replaceAll('<', '&lt;')}</textarea>`).childNodes[0] as TreeElement;
  return area.childNodes.map(node => (isText(node) ? node.value : '')).join('');
}

/** The same in an attribute: `&region=` is not a character reference there (HTML §13.2.5.73). */
export function decodeAttribute(text: string): string {
  if (!text.includes('&')) return text;
  const [element] = parseFragment(`<p title="${text.replaceAll('"', '&quot;')}">`).childNodes;
  return (element as TreeElement).attrs[0]!.value;
}
