/** Puts a specimen into the page as HTML that a page's author wrote, under any policy. */
import { policy } from '../../../../eltrix/src/view/trusted.ts';

/** Parses HTML; style attributes go through CSSOM, which a strict policy allows. */
export function nodesOf(html: string): DocumentFragment {
  const text = policy().createHTML(`<template>${html}</template>`);
  const page = new DOMParser().parseFromString(text as never, 'text/html');
  const { content } = page.querySelector('template')!;
  const fragment = document.importNode(content, true);
  for (const element of styled(fragment)) {
    const text = element.getAttribute('style')!;
    element.removeAttribute('style');
    element.style.cssText = text;
  }
  return fragment;
}

function styled(root: DocumentFragment): HTMLElement[] {
  return [...root.querySelectorAll<HTMLElement>('[style]')];
}

export function sheetOf(text: string): CSSStyleSheet {
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(text);
  return sheet;
}
