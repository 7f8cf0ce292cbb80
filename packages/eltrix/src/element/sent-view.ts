/** What a server sent with an element: its view between marks, styles, and data. */
import { report } from '../signals/report.ts';
import { opening } from '../view/sent-marks.ts';
import { isMark, sentMark } from '../view/taking-over.ts';
import type { Sent } from './sent.ts';

/** The mark in front of the view that a server sent, if it sent one. */
export function sentView(root: Node): ChildNode | undefined {
  for (let node = root.firstChild; node; node = node.nextSibling) {
    if (isMark(node, opening)) return node;
    // In front of it stand the start mark of a light view, styles and data.
    if (node.nodeType !== 8 && !(node.nodeType === 1 && (node as Element).hasAttribute(sentMark))) return undefined;
  }
  return undefined;
}

const besides = (root: Node, selector: string) =>
  [...(root as ParentNode & Node).children].filter(child => child.matches(`${selector}[${sentMark}]`));

/**
 * Sets properties that no attribute holds, as the server had them. Those that the page has set by now stay.
 *
 * @returns answers to requests that the view makes.
 */
export function takeSentData(root: Node, host: HTMLElement): Sent['answers'] {
  let found: Sent['answers'];
  for (const script of besides(root, 'script')) {
    script.remove();
    try {
      const { properties, answers } = JSON.parse(script.textContent!) as Sent;
      found = answers;
      for (const [name, value] of Object.entries(properties ?? {}))
        if (!Object.hasOwn(host, name)) (host as unknown as Record<string, unknown>)[name] = value;
    } catch (error) {
      report(error);
    }
  }
  return found;
}

/** The element has its own sheets now. */
export function removeSentStyles(root: Node): void {
  for (const style of besides(root, ':is(style, link)')) style.remove();
}

/**
 * While a page is read, an element that is defined already has its root before the sent one is read: that one stays a
 * plain `<template>`, which nobody needs.
 */
export function removeLateRoot(host: HTMLElement): void {
  const { ownerDocument } = host;
  if (ownerDocument.readyState === 'loading')
    ownerDocument.addEventListener(
      'DOMContentLoaded',
      () => host.querySelector(':scope > template[shadowrootmode]')?.remove(),
      { once: true },
    );
}
