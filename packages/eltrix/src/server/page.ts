/** Renders the known elements in a page. */

import { viewMark } from '../view/sent-marks.ts';
import { decodeReferences } from './character-references.ts';
import { areBlank, type Child, type Writing } from './context.ts';
import { makeAncestor, parentInside } from './host.ts';
import type { Rendering } from './rendering.ts';
import { parseTree, type TreeAround, type TreeElement, type TreeNode } from './tree.ts';

export function* writePage(rendering: Rendering, html: string): Writing {
  // The part before the first element is sent before the page is parsed.
  const first = firstElement(html, rendering.tags());
  if (first > 0) yield html.slice(0, first);
  if (first === html.length) return;
  const isKnown = (name: string, is: string | undefined) => rendering.classOf(name, is) !== undefined;
  const tree = parseTree(
    html,
    ({ name, attributes }, foreign) =>
      !foreign && isKnown(name, attributes.find(attribute => attribute.name === 'is')?.value),
  );
  if (first > 0 && typeof tree[0] === 'string') tree[0] = tree[0].slice(first);
  yield* nodes(rendering, tree, rendering.context.around);
}

/** A lower limit for the position of the first rendered element: matches inside comments count too. */
function firstElement(html: string, tags: readonly string[]): number {
  if (tags.length === 0) return html.length;
  const names = tags.map(tag => tag.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')).join('|');
  const found = html.search(new RegExp(`<(?:${names})(?=[\\s/>])|<[a-z][^>]*\\sis\\s*=`, 'i'));
  return found < 0 ? html.length : found;
}

function* nodes(rendering: Rendering, list: readonly TreeNode[], parent: object | undefined): Writing {
  for (const node of list) {
    if (typeof node === 'string') rendering.out += node;
    else yield* element(rendering, node, parent);
    if (rendering.out.length > 0) yield rendering.take();
  }
}

function* element(rendering: Rendering, node: TreeElement, parent: object | undefined): Writing {
  const { tag, open, close, around } = node;
  const outer = ancestorOf(around, parent);
  const children = node.children.map(
    (child): Child => ({
      slot: decodeReferences(child.slot, true),
      isElement: child.tag !== undefined,
      isBlank: areBlank(child.nodes),
      write: parent => nodes(rendering, child.nodes, parent),
    }),
  );
  const attributes = resolved(node.attributes);
  if (isRendered(node)) {
    const parent = parentInside(attributes, outer);
    rendering.out += open;
    for (const child of children) yield* child.write(parent) ?? [];
    rendering.out += close;
    return;
  }
  const Class = rendering.classOf(tag, attributes.get('is'))!;
  const writing = rendering.custom({ Class, tag, attributes, properties: {}, children, parent: outer, open, close });
  if (writing) yield* writing;
}

/** The parent of an element, with the language and direction that elements between state. */
function ancestorOf(around: TreeAround | undefined, parent: object | undefined): object | undefined {
  return around ? makeAncestor(resolved(around.attributes), ancestorOf(around.outer, parent)) : parent;
}

const resolved = (attributes: TreeAround['attributes']) =>
  new Map(attributes.map(({ name, value }) => [name, decodeReferences(value, true)]));

/** Whether an element has a declarative root: the page was rendered before, or its author wrote the root. */
function isRendered({ children }: TreeElement): boolean {
  return children.some(({ tag, nodes }) => {
    const first = nodes[0];
    if (typeof first !== 'string') return false;
    return tag === 'template' ? /^<template\s[^>]*shadowrootmode/i.test(first) : first.startsWith(`<!--${viewMark}-->`);
  });
}
