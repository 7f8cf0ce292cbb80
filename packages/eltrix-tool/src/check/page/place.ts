/** Puts a specimen into the page like HTML of the page's author. */
import { policy } from '../../../../eltrix/src/view/trusted.ts';

/** Parsed HTML that belongs to no page yet: no policy applies to it, and its custom elements are not upgraded. */
export function parsed(html: string): DocumentFragment {
  const text = policy().createHTML(`<template>${html}</template>`);
  const page = new DOMParser().parseFromString(text as never, 'text/html');
  return page.querySelector('template')!.content;
}

export function nodesOf(html: string): DocumentFragment {
  return document.importNode(parsed(html), true);
}

export function sheetOf(text: string): CSSStyleSheet {
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(text);
  return sheet;
}

/**
 * Attributes that refer to ids (HTML, WAI-ARIA). Other attributes may as well: they are recognised if their value is
 * an id.
 */
const lists = [
  'aria-labelledby',
  'aria-describedby',
  'aria-controls',
  'aria-owns',
  'aria-details',
  'aria-flowto',
  'headers',
];
let copies = 0;

/**
 * Renames ids that the page already has, with the references to them, so that two copies of a specimen are
 * independent.
 */
export function apart(nodes: DocumentFragment): DocumentFragment {
  const taken = [...nodes.querySelectorAll('[id]')].filter(({ id }) => id && document.getElementById(id));
  if (taken.length === 0) return nodes;
  const suffix = `--copy${++copies}`;
  const renamed = new Map(taken.map(element => [element.id, element.id + suffix]));
  for (const element of taken) element.id += suffix;
  for (const element of nodes.querySelectorAll('*'))
    for (const { name, value } of element.attributes) {
      if (name === 'id') continue;
      const own = value.startsWith('#') ? value.slice(1) : value;
      if (renamed.has(own)) element.setAttribute(name, value.replace(own, renamed.get(own)!));
      else if (lists.includes(name))
        element.setAttribute(
          name,
          value
            .split(/\s+/)
            .map(id => renamed.get(id) ?? id)
            .join(' '),
        );
    }
  return nodes;
}
