/**
 * Random content that comes, goes and changes, and slots that are hidden and renamed: expressions that read the content
 * of slots follow, and every kind of root finds the same content.
 */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, flag, type Markup, markup, settled, slot } from 'eltrix';
import { stage } from 'eltrix-tool/testing';
import { random } from '../support/random.ts';

const names = ['', 'icon', 'other', 'none'];
const slots = { '': slot('The text.'), icon: slot('A picture.'), other: slot('Another one.') };

interface SlotsElement extends HTMLElement {
  hides: boolean;
  turns: boolean;
  slotted(name: string): Element[];
  isFilled(name: string): boolean;
  /** What its slots have, and what its view says of it. */
  readonly state: string;
  readonly shown: string;
}

type Content = (element: Pick<SlotsElement, 'hides' | 'turns'>, name: () => string) => Markup;

function slotsElement(tag: `slots-${Lowercase<string>}`, shadow: 'none' | { mode: 'open' }, content: Content) {
  class Slots extends contract(tag, { attributes: { hides: flag(), turns: flag() }, slots, shadow }) {
    view() {
      const name = () => (this.turns ? 'other' : 'icon');
      return markup`<output>${() => this.state}</output>${content(this, name)}`;
    }

    get state(): string {
      const lists = (name: string) => [this.slotted(name), this.slotted(name, { flatten: true })].map(ids).join('|');
      return names.map(name => `${name}: ${lists(name)} ${this.isFilled(name)}`).join('; ');
    }

    get shown(): string {
      return (this.shadowRoot ?? this).querySelector('output')!.textContent!;
    }
  }
  Slots.define();
}

const ids = (elements: readonly Element[]) => elements.map(({ id, localName }) => id || localName).join();
const own: Content = (element, name) =>
  markup`<p>${() => !element.hides && markup`<slot name=${name}><b id="fallback"></b></slot>`}</p><slot></slot>`;
slotsElement('slots-open', { mode: 'open' }, own);
slotsElement('slots-light', 'none', own);
slotsElement(
  'slots-passing',
  { mode: 'open' },
  (_, name) => markup`<slots-open><slot name=${name} slot="icon"></slot><slot></slot></slots-open>`,
);
slotsElement(
  'slots-mixed',
  { mode: 'open' },
  (_, name) => markup`<slots-light><slot name=${name} slot="icon"></slot><slot></slot></slots-light>`,
);
slotsElement(
  'slots-light-passing',
  'none',
  (_, name) => markup`<slots-light><slot name=${name} slot="icon"></slot><slot></slot></slots-light>`,
);
const tags = ['slots-open', 'slots-light', 'slots-passing', 'slots-mixed', 'slots-light-passing'];

const isIn = (node: ChildNode, name: string) =>
  node.nodeType === 1 ? (node as Element).slot === name : node.nodeType === 3 && name === '';

/** What an element says of a slot, from its content. */
function expected({ shadowRoot }: SlotsElement, content: readonly ChildNode[], name: string): string {
  const nodes = content.filter(node => isIn(node, name));
  const elements = nodes.filter((node): node is Element & ChildNode => node.nodeType === 1);
  // Without a shadow root content is in a slot whether it is shown or not.
  const isThere = !shadowRoot || [...shadowRoot.querySelectorAll('slot')].some(slot => slot.name === name);
  const isFilled = elements.length > 0 || nodes.some(node => node.nodeValue?.trim());
  return `${isThere ? ids(elements) : ''} ${isFilled}`;
}

const programs = 100;
const steps = 14;

it(`${programs} random programs of ${steps} changes`, async () => {
  const root = await stage<HTMLElement>('<main></main>');
  let made = 0;
  for (let program = 0; program < programs; program++) {
    const next = random(program + 1);
    const elements = [0, 1, 2].map(() => document.createElement(tags[next(tags.length)]!) as SlotsElement);
    root.append(...elements);
    await settled();
    const content = new Map<SlotsElement, ChildNode[]>(elements.map(element => [element, []]));
    const all: ChildNode[] = [];
    const done: string[] = [];
    const nameOf = (node: Node) =>
      (node as Element).id || `${node.nodeName.toLowerCase()} ${elements.indexOf(node as SlotsElement)}`;
    const fresh = () => {
      const what = next(6);
      const node: ChildNode =
        what === 0
          ? document.createTextNode(next(2) ? ' ' : 'text')
          : what === 1
            ? document.createComment('')
            : Object.assign(document.createElement('i'), { id: `i${made++}`, slot: names[next(names.length)] });
      all.push(node);
      return node;
    };
    const leave = (node: ChildNode) => {
      for (const list of content.values()) if (list.includes(node)) list.splice(list.indexOf(node), 1);
    };
    const change = () => {
      const element = elements[next(elements.length)]!;
      const node = next(3) === 0 || all.length === 0 ? fresh() : all[next(all.length)]!;
      const home = elements.find(one => content.get(one)!.includes(node));
      const what = next(8);
      if (what < 2) {
        leave(node);
        content.get(element)!.push(node);
        element.append(node);
        return `${nameOf(node)} into ${nameOf(element)}`;
      }
      if (what === 2 && home) {
        const added = fresh();
        const list = content.get(home)!;
        list.splice(list.indexOf(node), 0, added);
        node.before(added);
        return `${nameOf(added)} before ${nameOf(node)}`;
      }
      if (what === 3) {
        leave(node);
        node.remove();
        return `remove ${nameOf(node)}`;
      }
      if (what === 4) {
        if (node.nodeType === 1) (node as Element).slot = names[next(names.length)]!;
        else node.nodeValue = next(2) ? ' ' : 'other text';
        return `change ${nameOf(node)}`;
      }
      if (what === 5) element.hides = !element.hides;
      else if (what === 6) element.turns = !element.turns;
      else if (element.isConnected) element.remove();
      else root.append(element);
      return `${nameOf(element)}: ${['hides', 'turns', 'leaves or comes back'][what - 5] ?? 'leaves or comes back'}`;
    };
    for (let step = 0; step < steps; step++) {
      done.push(change());
      await settled();
      const why = `program ${program}: ${done.join('; ')}`;
      for (const element of elements) {
        if (!element.isConnected) continue;
        const inner = (element.shadowRoot ?? element).querySelectorAll<SlotsElement>('slots-open, slots-light');
        for (const one of [element, ...inner]) assert.equal(one.shown, one.state, `${nameOf(one)}, ${why}`);
        for (const name of names)
          assert.equal(
            `${ids(element.slotted(name))} ${element.isFilled(name)}`,
            expected(element, content.get(element)!, name),
            `${nameOf(element)}, "${name}", ${why}`,
          );
      }
    }
    for (const element of elements) element.remove();
  }
});
