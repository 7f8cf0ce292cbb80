/** Parses HTML into a tree of the wanted elements. The text between them is kept unchanged. */
import { isInherited } from './host.ts';
import { type Attribute, readTags, type Tag } from './tokens.ts';

/** A wanted element. */
export interface TreeElement {
  readonly tag: string;
  readonly attributes: readonly Attribute[];
  /** Its start tag and end tag as written; the end tag of an unclosed element is empty. */
  readonly open: string;
  close: string;
  readonly children: TreeChild[];
  /** The innermost element with `lang` or `dir` between it and the next wanted element outside. */
  readonly around: TreeAround | undefined;
}

/** An element that states the language or direction of what is in it. */
export interface TreeAround {
  readonly attributes: readonly Attribute[];
  readonly outer: TreeAround | undefined;
}

/** A direct child of a wanted element: a text or comment, or an element with its content. */
export interface TreeChild {
  /** Undefined for other nodes. */
  readonly tag: string | undefined;
  /** Its `slot` attribute as written. */
  readonly slot: string;
  readonly nodes: TreeNode[];
}

export type TreeNode = string | TreeElement;

const voidElements = /^(?:area|base|br|col|embed|hr|img|input|link|meta|source|track|wbr|param|frame|keygen)$/;

/**
 * Open elements that a start tag closes (HTML §13.1.2.4, optional tags), and the elements at which the search stops.
 */
const endedBy: readonly [starts: RegExp, ends: RegExp, within: RegExp][] = [
  [/^li$/, /^li$/, /^(?:ul|ol|menu)$/],
  [/^d[td]$/, /^d[td]$/, /^dl$/],
  [/^(?:option|optgroup)$/, /^option$/, /^(?:select|datalist)$/],
  [/^optgroup$/, /^optgroup$/, /^select$/],
  [/^r[tp]$/, /^r[tp]$/, /^ruby$/],
  [/^t[dh]$/, /^t[dh]$/, /^(?:tr|table)$/],
  [/^tr$/, /^(?:tr|t[dh])$/, /^(?:table|tbody|thead|tfoot)$/],
  [/^(?:tbody|thead|tfoot)$/, /^(?:tbody|thead|tfoot|tr|t[dh])$/, /^table$/],
  [
    /^(?:address|article|aside|blockquote|details|dialog|div|dl|fieldset|fig(?:caption|ure)|footer|form|h[1-6]|header|hgroup|hr|main|menu|nav|ol|p|pre|search|section|table|ul)$/,
    /^p$/,
    /^(?:button|td|th|caption|object|template|li|dd|div|section|article)$/,
  ],
];

/** The elements at which the search for an end tag's start tag stops. */
const barrier = /^(?:template|table|td|th|caption|button|object|svg|math|select)$/;

interface Open {
  readonly name: string;
  /** The element, if it is wanted. */
  readonly element: TreeElement | undefined;
  /** Whether its content is skipped: `<template>`. */
  readonly inert: boolean;
  readonly around: TreeAround | undefined;
}

/**
 * @param wanted whether an element is wanted: its tag in lower case, its attributes, whether it is in SVG or MathML.
 * @param complete whether elements open at the end are closed, so that following text is not inside them.
 * @returns texts and elements, whose joined outer HTML is the given text.
 */
export function parseTree(html: string, wanted: (tag: Tag, foreign: boolean) => boolean, complete = false): TreeNode[] {
  const top: TreeNode[] = [];
  const open: Open[] = [];
  /** Open wanted elements, innermost last, with the number of open elements around each. */
  const elements: { readonly element: TreeElement; readonly depth: number }[] = [];
  let inert = 0;
  let at = 0;

  const nodes = (): TreeNode[] => {
    const inner = elements.at(-1);
    if (inner === undefined) return top;
    const { children } = inner.element;
    let child = children.at(-1);
    if (child === undefined) children.push((child = { tag: undefined, slot: '', nodes: [] }));
    return child.nodes;
  };
  const add = (node: TreeNode) => {
    if (node === '') return;
    const list = nodes();
    if (typeof node === 'string' && typeof list.at(-1) === 'string') list.push((list.pop() as string) + node);
    else list.push(node);
  };
  const flush = (to: number) => {
    add(html.slice(at, to));
    at = to;
  };
  /** Whether the next tag is a direct child of the innermost wanted element. */
  const isDirect = () => elements.length > 0 && open.length === elements.at(-1)!.depth + 1;
  const beginChild = (tag: string | undefined, slot: string) => {
    const { children } = elements.at(-1)!.element;
    children.push({ tag, slot, nodes: [] });
  };
  const close = (depth: number) => {
    while (open.length > depth) {
      const { element, inert: wasInert } = open.pop()!;
      if (wasInert) inert--;
      if (element) elements.pop();
      // The next node is another child.
      if (isDirect()) beginChild(undefined, '');
    }
  };

  readTags(html, (tag, foreign) => {
    if (tag.closing) {
      if (voidElements.test(tag.name)) return;
      let depth = open.length - 1;
      while (depth >= 0 && open[depth]!.name !== tag.name && !barrier.test(open[depth]!.name)) depth--;
      if (depth < 0 || open[depth]!.name !== tag.name) return;
      flush(tag.start);
      // All elements inside are closed.
      close(depth + 1);
      const { element } = open[depth]!;
      if (element === undefined) flush(tag.end);
      else {
        element.close = html.slice(tag.start, tag.end);
        at = tag.end;
      }
      return close(depth);
    }
    if (!foreign)
      for (const [starts, ends, within] of endedBy) {
        if (!starts.test(tag.name)) continue;
        let depth = open.length - 1;
        while (depth >= 0 && !ends.test(open[depth]!.name) && !within.test(open[depth]!.name)) {
          if (open[depth]!.element !== undefined || barrier.test(open[depth]!.name)) depth = 0;
          depth--;
        }
        if (depth < 0 || !ends.test(open[depth]!.name)) continue;
        while (depth > 0 && ends.test(open[depth - 1]!.name)) depth--;
        flush(tag.start);
        close(depth);
      }
    const empty = foreign ? tag.selfClosing : voidElements.test(tag.name);
    const direct = isDirect();
    const isWanted = inert === 0 && wanted(tag, foreign);
    if (direct || isWanted) flush(tag.start);
    if (direct) beginChild(tag.name, tag.attributes.find(({ name }) => name === 'slot')?.value ?? '');
    const around = open.at(-1)?.around;
    if (!isWanted) {
      const inherited = tag.attributes.filter(({ name }) => isInherited(name));
      if (!empty)
        open.push({
          name: tag.name,
          element: undefined,
          inert: tag.name === 'template',
          around: inherited.length > 0 ? { attributes: inherited, outer: around } : around,
        });
      if (!empty && tag.name === 'template') inert++;
      // A void child has no content.
      if (empty && direct) {
        flush(tag.end);
        beginChild(undefined, '');
      }
      return;
    }
    const element: TreeElement = {
      tag: tag.name,
      attributes: tag.attributes,
      open: html.slice(tag.start, tag.end),
      close: '',
      children: [],
      around,
    };
    add(element);
    at = tag.end;
    if (empty) {
      if (direct) beginChild(undefined, '');
      return;
    }
    elements.push({ element, depth: open.length });
    open.push({ name: tag.name, element, inert: false, around: undefined });
  });
  flush(html.length);
  if (complete)
    while (open.length > 0) {
      const { name, element } = open.at(-1)!;
      if (element) element.close = `</${name}>`;
      else add(`</${name}>`);
      close(open.length - 1);
    }
  prune(top);
  return top;
}

/** Removes children without content. */
function prune(nodes: readonly TreeNode[]): void {
  for (const node of nodes) {
    if (typeof node === 'string') continue;
    for (let i = node.children.length - 1; i >= 0; i--)
      if (node.children[i]!.nodes.length === 0) node.children.splice(i, 1);
    for (const child of node.children) prune(child.nodes);
  }
}
