/** Turns an analysed template into nodes to copy, and the path to each node with a binding. */
import {
  type Analysis,
  analyse,
  commentMark,
  elementMark,
  lostExpression,
  type Namespace,
  type Site,
} from './analyse.ts';
import { attributeBinder, warnOddName } from './attribute.ts';
import { bindContent } from './content.ts';
import { bindElement } from './element-expression.ts';
import { bindListener } from './listener.ts';
import { orderOf } from './order.ts';
import { type Binder, bindersAt, type Template } from './template.ts';
import { bindStaticStyle, textBinder } from './text-expression.ts';
import { parse, parseForeign } from './trusted.ts';

/** The `<template>` element of a template's content, to find the parent. */
const hosts = new WeakMap<Node, Element>();
const prepared = new WeakMap<readonly string[], Template>();

/** The prepared template of these strings, shared by all pieces. */
export function templateOf(strings: TemplateStringsArray, namespace: Namespace): Template {
  let template = prepared.get(strings);
  if (!template) {
    refuseForged(strings);
    template = prepare(analyse(strings, namespace), strings);
    prepared.set(strings, template);
  }
  return template;
}

/** @throws TypeError unless the strings come from a template literal: data cannot pose as markup. */
function refuseForged(strings: TemplateStringsArray): void {
  if (
    !(Array.isArray(strings) && Array.isArray(strings.raw) && Object.isFrozen(strings) && Object.isFrozen(strings.raw))
  ) {
    throw new TypeError(
      __DEV__
        ? '(markup-forged): markup was called as a function. Write it as a template: markup`<p>${text}</p>`.'
        : 'markup-forged',
    );
  }
}

function prepare(analysis: Analysis, strings: readonly string[]): Template {
  const { html, namespace } = analysis;
  const content = namespace === 'html' ? parse(html) : parseForeign(html, namespace);
  const marked = findMarked(content);
  for (const site of analysis.sites) if (!marked[site.node]) throw lostExpression(site);
  // A content expression would insert nodes before the first node, which would then not be the first: an empty text
  // node goes before it.
  if (content.firstChild === null || (content.firstChild instanceof Text && marked.includes(content.firstChild)))
    content.prepend('');
  const single = content.firstChild === content.lastChild && content.firstChild instanceof Element;
  // Within one document `cloneNode` is faster than `importNode`; custom elements are only created by `importNode`.
  const custom = [...content.querySelectorAll('*')].some(
    element => /-/.test(element.localName) || element.hasAttribute('is') || element.localName === 'template',
  );
  const original = single ? content.firstChild! : content;
  const root = custom ? original : document.adoptNode(original);
  const { path, order } = pathTo(root, marked);
  const sorted = analysis.sites.toSorted((a, b) => orderOf(a) - orderOf(b));
  const steps = sorted.map(site => order.get(marked[site.node]!)!);
  const nodes = sorted.map(site => marked[site.node]!);
  const binders = bindersAt(
    nodes,
    sorted.map((site, i) => binderOf(site, nodes[i]!)),
  );
  const values = sorted.map(site => site.expression);
  const places = __DEV__ ? sorted.map(({ expression, line }) => ({ strings, expression, line })) : undefined;
  const walk = (root: Node) => {
    const nodes = follow(root, path);
    return steps.map(step => nodes[step]!);
  };
  return { root, inDocument: !custom, walk, binders, values, places };
}

/** The marked nodes by number. Removes the marks; an empty text node replaces the comment of a content expression. */
function findMarked(root: DocumentFragment, marked: Node[] = []): Node[] {
  const walker = document.createTreeWalker(root, NodeFilter.SHOW_ELEMENT | NodeFilter.SHOW_COMMENT);
  const anchors: Comment[] = [];
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    if (node instanceof Comment) {
      if (node.data.startsWith(commentMark)) anchors.push(node);
      continue;
    }
    const element = node as Element;
    const number = element.getAttribute(elementMark);
    if (number !== null) {
      element.removeAttribute(elementMark);
      marked[+number] = element;
    }
    if (element instanceof HTMLTemplateElement) {
      hosts.set(element.content, element);
      findMarked(element.content, marked);
    }
  }
  for (const comment of anchors) {
    const anchor = document.createTextNode('');
    marked[+comment.data.slice(commentMark.length)] = anchor;
    comment.replaceWith(anchor);
  }
  return marked;
}

/**
 * The path to each marked node. Each step has the number of the step where it starts, whether it goes down first (1:
 * to the first child, 2: into a template's content), and how many siblings it passes.
 */
function pathTo(root: Node, marked: readonly Node[]): { path: number[]; order: Map<Node, number> } {
  const wanted = new Set<Node>();
  for (const node of marked) for (let up: Node | null = node; up && up !== root; up = parentOf(up)) wanted.add(up);
  const path: number[] = [];
  const order = new Map<Node, number>([[root, 0]]);
  const visit = (parent: Node) => {
    const children = parent instanceof HTMLTemplateElement ? parent.content : parent;
    let from = order.get(parent)!;
    let down = parent instanceof HTMLTemplateElement ? 2 : 1;
    let steps = 0;
    for (let child = children.firstChild; child; child = child.nextSibling, steps++) {
      if (!wanted.has(child)) continue;
      path.push(from, down, steps);
      from = order.size;
      order.set(child, from);
      down = 0;
      steps = 0;
      visit(child);
    }
  };
  visit(root);
  return { path, order };
}

/** The nodes at the end of the paths, for a copy of the root. */
function follow(root: Node, path: readonly number[]): Node[] {
  const steps = new Array<Node>(path.length / 3 + 1);
  steps[0] = root;
  for (let i = 0, step = 1; i < path.length; step++) {
    let at = steps[path[i++]!]!;
    const down = path[i++];
    if (down === 1) at = at.firstChild!;
    else if (down === 2) at = (at as HTMLTemplateElement).content.firstChild!;
    for (let k = path[i++]!; k > 0; k--) at = at.nextSibling!;
    steps[step] = at;
  }
  return steps;
}

function parentOf(node: Node): Node | null {
  const parent = node.parentNode;
  return parent instanceof DocumentFragment ? (hosts.get(parent) ?? parent) : parent;
}

function binderOf(site: Site, node: Node): Binder {
  switch (site.kind) {
    case 'content':
      return bindContent;
    case 'attribute':
      return attributeBinder(site.name, node as Element, site.statics.map(decodeAttribute));
    case 'listener':
      if (__DEV__) warnOddName(`on${site.type}`, (node as Element).localName);
      return bindListener(site.type);
    case 'element':
      return bindElement;
    case 'text':
      return textBinder(site.statics.map(decode));
    case 'style':
      return bindStaticStyle(decodeAttribute(site.text));
  }
}

/** Resolves the character references in a text of the template. */
function decode(text: string): string {
  if (!text.includes('&')) return text;
  return parse(`<textarea>\n${text.replaceAll('<', '&lt;')}</textarea>`).textContent!;
}

/** The same in an attribute: `&region=` is not a character reference there (HTML §13.2.5.73). */
function decodeAttribute(text: string): string {
  if (!text.includes('&')) return text;
  return (parse(`<p title="${text.replaceAll('"', '&quot;')}">`).firstChild as Element).getAttribute('title')!;
}
