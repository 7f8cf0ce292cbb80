/** Reads HTML that uses elements which do not exist yet, and finds every use of a custom tag. */

import { type DefaultTreeAdapterTypes, parse, parseFragment } from 'parse5';
import { tagProblem } from '../../../../eltrix/src/contract/names.ts';
import { attributeOf } from '../attribute-of.ts';
import { platformEvents } from '../html-names.ts';
import { dedent } from '../specimens.ts';

type Node = DefaultTreeAdapterTypes.ChildNode;
type Element = DefaultTreeAdapterTypes.Element;
type Parent = { readonly childNodes: Node[] };

/** One use of a tag. */
export interface Use {
  /** As written, without the common indentation, and without event attributes that no browser knows. */
  readonly html: string;
  /** From 1. */
  readonly line: number;
  /** In order; events start with `on`. */
  readonly attributes: ReadonlyMap<string, string>;
  /** Slot name to its content. */
  readonly slots: ReadonlyMap<string, SlotUse>;
  /** The custom tags inside it. */
  readonly inside: ReadonlySet<string>;
  /** The nearest custom element around it. */
  readonly within: string | undefined;
}

export interface SlotUse {
  /** The tags of the elements, in order. */
  readonly tags: readonly string[];
  /** Whether there is text outside elements. */
  readonly text: boolean;
}

export type Usage = ReadonlyMap<string, readonly Use[]>;

/** Pages and fragments; uses inside `<template>` count as well. */
export function readUsage(text: string): Usage {
  const isPage = /<(?:!doctype|html|head|body)\b/i.test(text);
  const options = { sourceCodeLocationInfo: true } as const;
  const root = isPage ? parse(text, options) : parseFragment(text, options);
  const usage = new Map<string, Use[]>();
  visit(root, undefined);
  return usage;

  function visit(parent: Parent, within: string | undefined): void {
    for (const node of parent.childNodes) {
      if (!('tagName' in node)) continue;
      const tag = node.tagName;
      const isCustom = isCustomElement(node);
      if (isCustom) {
        const uses = usage.get(tag);
        const use = useOf(node, text, within);
        if (uses) uses.push(use);
        else usage.set(tag, [use]);
      }
      const inside = isCustom ? tag : within;
      visit(node, inside);
      if ('content' in node) visit((node as DefaultTreeAdapterTypes.Template).content, inside);
    }
  }
}

const isCustomElement = ({ tagName, namespaceURI }: Element): boolean =>
  tagProblem(tagName) === null && namespaceURI.endsWith('xhtml');

/** The custom tags below a node, those in templates included. */
function* tagsBelow(parent: Parent): Generator<string> {
  for (const node of parent.childNodes) {
    if (!('tagName' in node)) continue;
    if (isCustomElement(node)) yield node.tagName;
    yield* tagsBelow(node);
    if ('content' in node) yield* tagsBelow((node as DefaultTreeAdapterTypes.Template).content);
  }
}

/**
 * Whether an attribute is meant as a listener for a custom event. HTML has event attributes for the platform's events
 * only, so browsers ignore it. `only`, `online` and `once` are ordinary attributes.
 */
export function isOwnHandler(name: string, value: string): boolean {
  if (!/^on./.test(name) || platformEvents.has(name.slice(2))) return false;
  return /^on[a-z0-9]+-/.test(name) || /[(=;.]/.test(value);
}

/** The positions of such attributes, in an element and its descendants. */
function* deadHandlers(element: Element): Generator<readonly [start: number, end: number]> {
  for (const { name, value } of element.attrs) {
    const at = element.sourceCodeLocation?.attrs?.[name];
    if (at && isOwnHandler(name, value)) yield [at.startOffset, at.endOffset];
  }
  for (const child of element.childNodes) if ('tagName' in child) yield* deadHandlers(child);
}

function useOf(element: Element, text: string, within: string | undefined): Use {
  const at = element.sourceCodeLocation!;
  const begin = text.lastIndexOf('\n', at.startOffset - 1) + 1;
  // The indentation of the first line is removed as well.
  const lead = text.slice(begin, at.startOffset).replace(/\S/g, ' ');
  const slots = new Map<string, SlotUse>();
  for (const child of element.childNodes) {
    if (child.nodeName === '#text' && !(child as { value: string }).value.trim()) continue;
    if (child.nodeName === '#comment') continue;
    const isElement = 'tagName' in child;
    const name = (isElement && attributeOf(child, 'slot')) || '';
    const { tags, text } = slots.get(name) ?? { tags: [], text: false };
    slots.set(name, { tags: isElement ? [...tags, child.tagName] : tags, text: text || !isElement });
  }
  let html = lead;
  let from = at.startOffset;
  // The parser may have moved content out of a table.
  for (const [start, end] of [...deadHandlers(element)].sort(([a], [b]) => a - b)) {
    if (start < from) continue;
    html += text.slice(from, start).trimEnd();
    from = end;
  }
  return {
    html: dedent(html + text.slice(from, at.endOffset)),
    line: at.startLine,
    attributes: new Map(element.attrs.map(({ name, value }) => [name, value])),
    slots,
    inside: new Set(tagsBelow(element)),
    within,
  };
}
