/** What a server sent with an element: its view between marks, styles in front of it, and data behind it. */
import { opening } from '../view/sent-marks.ts';
import { isMark, sentMark, viewMark } from '../view/taking-over.ts';
import type { Sent } from './sent.ts';

const isBeside = (node: Node | null | undefined): node is Element =>
  node?.nodeType === 1 && (node as Element).hasAttribute(sentMark);

/** The mark in front of the view that a server sent, if it sent one. */
export function sentView(root: Node): ChildNode | undefined {
  let node = root.firstChild;
  if (isMark(node, viewMark)) node = node!.nextSibling;
  if (isBeside(node)) node = node.nextSibling;
  return isMark(node, opening) ? node! : undefined;
}

/** Properties that no attribute holds, and answers to requests. */
export function takeSent(root: Node): Sent {
  let node = root.lastChild;
  if ((node as Element).localName === 'template') node = node!.previousSibling;
  if (!isBeside(node)) return {};
  node.remove();
  return JSON.parse(node.textContent!) as Sent;
}

/** The element has its own sheets now. */
export function removeSentStyles(open: ChildNode): void {
  const before = open.previousSibling;
  if (isBeside(before)) before.remove();
}

/**
 * While a page is read, an element that is defined already has its root before the sent one is read: that one stays a
 * plain `<template>`, which is not needed.
 */
export function removeLateRoot(host: HTMLElement): void {
  const { ownerDocument } = host;
  if (ownerDocument.readyState === 'loading')
    ownerDocument.addEventListener('DOMContentLoaded', () =>
      host.querySelector(':scope>template[shadowrootmode]')?.remove(),
    );
}
