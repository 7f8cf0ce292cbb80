/** Random trees whose elements offer, withdraw and move: each shows the value of the nearest one that offers, through slots. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, flag, handle, markup, settled, signal } from 'eltrix';
import { ask, context, offer } from 'eltrix/context';
import { stage } from 'eltrix-tool/testing';
import { random } from '../support/random.ts';

const key = context<string>('tree');
let made = 0;

/** Connected elements, with what leads from their content to them. */
interface TreeElement extends HTMLElement {
  offers: boolean;
  readonly shown: string;
  readonly value: { set(value: string): void; peek(): string };
  /** The slot of its view, or undefined. */
  readonly slotOf: HTMLSlotElement | undefined;
}

function tree(tag: `tree-${Lowercase<string>}`, mode: 'open' | 'closed', moves: boolean, inner?: string) {
  class Tree extends contract(tag, { attributes: { offers: flag() }, shadow: { mode } }) {
    readonly value = signal(`v${made++}`);
    readonly asked = ask(this, key);
    readonly text = handle<HTMLElement>();
    readonly place = handle<HTMLSlotElement>();

    view() {
      const slot = markup`<slot ${this.place}></slot>`;
      const around = inner === 'tree-inner' ? markup`<tree-inner>${slot}</tree-inner>` : markup`<div>${slot}</div>`;
      return markup`<p ${this.text}>${() => this.asked.get() ?? 'none'}</p>${around}`;
    }

    connected(scope: import('eltrix').Scope) {
      // As an author writes it: what the effect returns withdraws the offer.
      scope.effect(() => (this.offers ? offer(this, key, this.value) : undefined));
    }

    get shown() {
      return this.text.element!.textContent!;
    }

    get slotOf() {
      return this.place.element ?? undefined;
    }
  }
  if (moves) Object.assign(Tree.prototype, { moved() {} });
  Tree.define();
  return Tree as new () => Tree & TreeElement;
}

tree('tree-inner', 'open', false);
const classes = [
  tree('tree-open', 'open', false),
  tree('tree-closed', 'closed', false),
  tree('tree-moving', 'open', true),
  tree('tree-wrapped', 'open', false, 'tree-inner'),
  tree('tree-closed-wrapped', 'closed', false, 'tree-inner'),
];
const isTree = (node: Node | null | undefined): node is TreeElement =>
  node instanceof HTMLElement && node.localName.startsWith('tree-');

/** The way of an event from a node (DOM §2.9, get the parent), also through closed roots. */
function* pathOf(node: Node): Generator<Node> {
  for (let at: Node | null = node; at; ) {
    const parent: Node | null = at.parentNode;
    at = (isTree(parent) && parent.slotOf) || parent || ((at as Partial<ShadowRoot>).host ?? null);
    if (at) yield at;
  }
}

function expected(element: TreeElement): string {
  for (const node of pathOf(element)) if (isTree(node) && node.offers && node.isConnected) return node.value.peek();
  return 'none';
}

const programs = 150;
const steps = 16;

it(`${programs} random programs of ${steps} changes`, async () => {
  const root = await stage<HTMLElement>('<main></main>');
  for (let program = 0; program < programs; program++) {
    const next = random(program + 1);
    const outer: TreeElement[] = Array.from({ length: 6 }, () => new classes[next(classes.length)]!());
    const all = () =>
      outer.flatMap(element => {
        const inner = element.slotOf?.parentElement;
        return isTree(inner) ? [element, inner] : [element];
      });
    const done: string[] = [];
    const nameOf = (element: TreeElement) =>
      `${element.localName}${outer.includes(element) ? outer.indexOf(element) : ''}`;
    root.append(...outer);
    await settled();
    for (let step = 0; step < steps; step++) {
      const list = all();
      const one = list[next(list.length)]!;
      const mover = outer[next(outer.length)]!;
      const parents = [root, ...outer].filter(parent => !mover.contains(parent) && parent.isConnected);
      const parent = parents[next(parents.length)]!;
      const what = next(8);
      if (what < 3) {
        done.push(`${nameOf(one)} ${one.offers ? 'withdraws' : 'offers'}`);
        one.offers = !one.offers;
      } else if (what === 3) {
        done.push(`${nameOf(one)} sets`);
        one.value.set(`w${made++}`);
      } else if (what < 6) {
        done.push(`${nameOf(mover)} into ${isTree(parent) ? nameOf(parent) : 'the page'}`);
        parent.append(mover);
      } else if (what === 6) {
        done.push(`remove ${nameOf(mover)}`);
        mover.remove();
      } else if ('moveBefore' in parent && mover.isConnected) {
        done.push(`move ${nameOf(mover)} into ${isTree(parent) ? nameOf(parent) : 'the page'}`);
        (parent as unknown as { moveBefore(node: Node, before: Node | null): void }).moveBefore(mover, null);
      }
      await settled();
      const connected = all().filter(({ isConnected }) => isConnected);
      assert.deepEqual(
        connected.map(element => `${nameOf(element)} ${element.shown}`),
        connected.map(element => `${nameOf(element)} ${expected(element)}`),
        `program ${program}: ${done.join('; ')}`,
      );
    }
    for (const element of outer) element.remove();
  }
});
