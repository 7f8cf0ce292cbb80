/** A server's output for an element: its view between marks, styles before it, data after it. */
import { isMark, opening, sentMark, viewMark } from '../view/sent-marks.ts';
import type { Sent } from './sent.ts';

const isBeside = (node: Node | null | undefined): node is Element =>
  node?.nodeType === 1 && (node as Element).hasAttribute(sentMark);

/** The mark before the sent view, if there is one. */
export function sentView(root: Node): ChildNode | undefined {
  let node = root.firstChild;
  if (isMark(node, viewMark)) node = node!.nextSibling;
  if (isBeside(node)) node = node.nextSibling;
  return isMark(node, opening) ? node! : undefined;
}

/** Values of properties without an attribute, and answers to requests. */
export function takeSent(root: Node): Sent {
  let node = root.lastChild;
  if ((node as Element).localName === 'template') node = node!.previousSibling;
  if (!isBeside(node)) return {};
  node.remove();
  return JSON.parse(node.textContent!) as Sent;
}

/** The element has its constructed sheets now. */
export function removeSentStyles(open: ChildNode): void {
  const before = open.previousSibling;
  if (isBeside(before)) before.remove();
}

/**
 * An element that is defined before its HTML is parsed has a root already. The declarative root then stays a plain
 * `<template>`, which is removed.
 */
export function removeLateRoot(host: HTMLElement): void {
  const { ownerDocument } = host;
  if (ownerDocument.readyState === 'loading')
    ownerDocument.addEventListener('DOMContentLoaded', () =>
      host.querySelector(':scope>template[shadowrootmode]')?.remove(),
    );
}
