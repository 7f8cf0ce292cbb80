/** Templates of the page for items, bound to data by microdata (HTML §5.2). */
import type { Member } from '../signals/state.ts';
import { asText } from '../view/as-text.ts';
import { attributeBinder } from '../view/attribute.ts';
import { piece } from '../view/compiled.ts';
import { ContentExpression } from '../view/content.ts';
import { Expression, type Show } from '../view/expression.ts';
import type { Markup } from '../view/piece.ts';
import type { Binder, Binding, Owner, Template } from '../view/template.ts';

/** The attribute with an element's value (HTML §5.2.4); for other elements the value is their text. */
const valueAttributes: Readonly<Record<string, string>> = {
  ...{ meta: 'content', object: 'data', data: 'value', meter: 'value', time: 'datetime' },
  ...{ a: 'href', area: 'href', link: 'href' },
  ...{ audio: 'src', embed: 'src', iframe: 'src', img: 'src', source: 'src', track: 'src', video: 'src' },
};

/** Elements whose text shows the value, if the page gave them no content. */
const showsText = /^(?:data|time|a)$/;

const prepared = new WeakMap<HTMLTemplateElement, Template>();

/**
 * A copy of a template that the page gave, filled with an item: `itemprop` says which field each element shows, with the
 * value where microdata has it: `href` of a link, `src` of an image, `datetime` of `<time>`, `value` of `<data>` and `<meter>`, otherwise
 * the text. With `itemscope` an element shows a nested object, or is repeated for each item of a list. A missing field
 * leaves the text empty and the attribute away. Text stays text, and addresses that would run code are rejected.
 *
 * @param item the item, or a function that is live.
 * @example
 * // In the page: <hive-list><template><li><b itemprop="name"></b></li></template></hive-list>
 * each(() => this.hives, hive => hive.id, hive => fromTemplate(this.template, hive))
 * @throws TypeError for anything that is no `<template>`.
 */
export function fromTemplate(template: HTMLTemplateElement, item: object | (() => unknown)): Markup {
  if (template?.content?.nodeType !== 11)
    throw new TypeError(
      __DEV__
        ? `(item-template): fromTemplate() takes a <template> element. Write this.querySelector('template').`
        : 'item-template',
    );
  let known = prepared.get(template);
  if (known === undefined) {
    const content = document.createDocumentFragment();
    for (const node of template.content.childNodes)
      if (node.nodeType !== 3 || /\S/.test((node as Text).data)) content.append(document.importNode(node, true));
    prepared.set(template, (known = prepare(content)));
  }
  return piece(() => known, [typeof item === 'function' ? item : () => item]);
}

/** Finds the bound elements, once for a template. */
function prepare(content: DocumentFragment): Template {
  const paths: number[][] = [];
  const binders: Binder[] = [];
  const add = (node: Node, binder: Binder) => {
    const path: number[] = [];
    for (let at = node; at !== content; at = at.parentNode!)
      path.unshift([...at.parentNode!.childNodes].indexOf(at as ChildNode));
    paths.push(path);
    binders.push(binder);
  };
  const bind = (parent: ParentNode & Node) => {
    for (const element of [...parent.children]) {
      const name = element.getAttribute('itemprop');
      if (name !== null && element.hasAttribute('itemscope')) add(...nested(element, name));
      else {
        if (name !== null) for (const [key, show] of valuePlaces(element)) add(element, field(name, key, show));
        bind(element);
      }
    }
  };
  // Repeated elements are replaced by a placeholder first, so that paths count the nodes of a copy.
  content.prepend('');
  bind(content);
  return {
    root: content,
    inDocument: false,
    walk: root =>
      paths.map(path => {
        let node = root;
        for (const index of path) node = node.childNodes[index]!;
        return node;
      }),
    binders,
    values: binders.map(() => 0),
  };
}

/** The attribute or text where an element shows its value. */
function valuePlaces(element: Element): [key: string, show: Show | undefined][] {
  const attribute = valueAttributes[element.localName];
  const text: [string, Show] = ['', showText];
  if (attribute === undefined) return [text];
  const isEmpty = showsText.test(element.localName) && element.children.length === 0 && !element.textContent!.trim();
  return isEmpty ? [[attribute, undefined], text] : [[attribute, undefined]];
}

const showText: Show = (element: Element, value) => {
  const text = value instanceof Date ? value.toLocaleDateString() : asText(value);
  if (element.textContent !== text) element.textContent = text;
};

/** A value as attribute text (HTML §2.3.5 for dates). */
const plainOf = (value: unknown) => (value instanceof Date ? value.toISOString() : value);

const get = (item: unknown, name: string) => (item as Record<string, unknown> | null | undefined)?.[name];

/** Shows one field. */
function field(name: string, attribute: string, show: Show | undefined): Binder {
  return (node, owner) => {
    const inner = show
      ? new Expression(owner, node, show)
      : attributeBinder(attribute, node as Element, ['', ''])(node, owner)!;
    return reading(inner, item => (show ? get(item, name) : plainOf(get(item, name))));
  };
}

/** A nested object, or a list of them. */
function nested(element: Element, name: string): [Node, Binder] {
  const anchor = document.createTextNode('');
  element.replaceWith(anchor);
  const content = document.createDocumentFragment();
  element.removeAttribute('itemprop');
  content.append(element);
  const template = prepare(content);
  return [
    anchor,
    (node: Node, owner: Owner) =>
      reading(new ContentExpression(owner, node as ChildNode), item => {
        const value = get(item, name);
        if (value === null || value === undefined) return undefined;
        const list = Array.isArray(value) ? [...value] : [value];
        return list.map(one => piece(() => template, [() => one]));
      }),
  ];
}

/** Makes a binding depend on the item's fields. */
function reading(inner: Binding, read: (item: unknown) => unknown): Binding {
  return {
    update(values, at) {
      const item = values[at] as () => unknown;
      inner.update([() => read(item())], 0);
    },
    mark: (stale, due: Member[]) => inner.mark?.(stale, due),
    dispose: () => inner.dispose(),
  };
}
