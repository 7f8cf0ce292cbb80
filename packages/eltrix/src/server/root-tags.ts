/** The start of shadow roots: the tag of the declarative root, with its styles. */
import type { Contract, Plan } from '../element/plan.ts';
import { openMark } from '../view/sent-marks.ts';
import { type StyleOptions, styleHtml } from './styles.ts';

export class RootTags {
  readonly #tags = new Map<Plan, string>();

  constructor(readonly options: StyleOptions) {}

  /** The same for all elements of a class. */
  startOf(plan: Plan, tag: string): string {
    let html = this.#tags.get(plan);
    if (html === undefined) {
      html = `<template${shadowAttributes(plan.contract)}>${styleHtml(plan, tag, this.options)}${openMark}`;
      this.#tags.set(plan, html);
    }
    return html;
  }
}

function shadowAttributes({ shadow }: Contract): string {
  const { mode = 'open', delegatesFocus, clonable, serializable } = (shadow ?? {}) as Partial<ShadowRootInit>;
  return (
    ` shadowrootmode="${mode}"` +
    (delegatesFocus ? ' shadowrootdelegatesfocus' : '') +
    (clonable ? ' shadowrootclonable' : '') +
    (serializable ? ' shadowrootserializable' : '')
  );
}
