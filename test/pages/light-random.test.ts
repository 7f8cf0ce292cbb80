/** Random changes of children: what stands in each slot without a shadow root is what a shadow root would show there. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, flag, markup, settled } from 'eltrix';
import { random } from '../support/random.ts';

const view = (isWide: () => boolean) =>
  markup`<h4><slot name="head"><i>no head</i></slot></h4>${() => isWide() && markup`<slot name="more"></slot>`}<div><slot></slot></div>`;

class InShadow extends contract('in-shadow', { attributes: { wide: flag() } }) {
  view() {
    return view(() => this.wide);
  }
}
class InLight extends contract('in-light', { shadow: 'none', attributes: { wide: flag() } }) {
  view() {
    return view(() => this.wide);
  }
}
InShadow.define();
InLight.define();

const slots = ['', 'head', 'more', 'unknown'] as const;
const channel = new MessageChannel();
/** A task of its own; timers of a page that is not in front may wait for a second. */
const turn = () =>
  new Promise(resolve => {
    channel.port1.onmessage = resolve;
    channel.port2.postMessage(0);
  });

/** The text of a child, by slot. */
function inShadow(element: InShadow): Record<string, string[]> {
  const found = [...element.shadowRoot!.querySelectorAll('slot')];
  return Object.fromEntries(
    found.map(slot => [slot.name, slot.assignedNodes().map(({ textContent }) => textContent!)]),
  );
}

function inLight(element: InLight): Record<string, string[]> {
  const found = [...element.querySelectorAll('slot')];
  return Object.fromEntries(
    found.map(slot => {
      const given = [...slot.childNodes].filter(node =>
        node instanceof HTMLElement ? node.localName === 'u' : node.textContent,
      );
      return [slot.name, given.map(({ textContent }) => textContent!)];
    }),
  );
}

interface Way {
  readonly element: InShadow | InLight;
  readonly children: Map<string, HTMLElement | Text>;
}

/** One change, the same on both. */
function step(
  next: (below: number) => number,
  count: number,
  known: readonly string[],
): readonly [string, (way: Way) => void] {
  const slot = slots[next(10) < 5 ? 0 : next(slots.length)]!;
  const name = `c${count}`;
  const other = known[next(known.length || 1)];
  const made = (way: Way, where = slot) => {
    const child = document.createElement('u');
    child.textContent = name;
    if (where) child.slot = where;
    way.children.set(name, child);
    return child;
  };
  const what = next(10);
  if (what < 3 || other === undefined) return [`append ${name} "${slot}"`, way => way.element.append(made(way))];
  if (what === 3)
    return [
      `append text ${name}`,
      way => {
        const text = document.createTextNode(name);
        way.children.set(name, text);
        way.element.append(text);
      },
    ];
  if (what === 4)
    return [
      `remove ${other}`,
      way => {
        way.children.get(other)!.remove();
        way.children.delete(other);
      },
    ];
  if (what === 5) return [`append ${other} again`, way => way.element.append(way.children.get(other)!)];
  if (what === 6)
    return [
      `slot of ${other} "${slot}"`,
      way => {
        const child = way.children.get(other)!;
        if (child instanceof HTMLElement) child.slot = slot;
      },
    ];
  if (what === 7)
    return [
      `${name} before ${other}`,
      way => {
        const at = way.children.get(other)!;
        at.before(made(way, at instanceof HTMLElement ? (at.slot as typeof slot) : ''));
      },
    ];
  if (what === 8)
    return [
      `replace all by ${name} "${slot}"`,
      way => {
        way.children.clear();
        way.element.replaceChildren(made(way));
      },
    ];
  return ['wide', way => void (way.element.wide = !way.element.wide)];
}

it('50 random programs of 16 changes of children', async () => {
  for (let program = 0; program < 50; program++) {
    const next = random(program);
    const ways: Way[] = [new InShadow(), new InLight()].map(element => ({ element, children: new Map() }));
    document.body.append(...ways.map(({ element }) => element));
    const done: string[] = [];
    for (let count = 0; count < 16; count++) {
      const [name, change] = step(next, count, [...ways[0]!.children.keys()]);
      done.push(name);
      for (const way of ways) change(way);
      await settled();
      await turn();
      const [shadow, light] = [inShadow(ways[0]!.element as InShadow), inLight(ways[1]!.element as InLight)];
      assert.deepEqual(light, shadow, `program ${program}: ${done.join(', ')}`);
    }
    for (const { element } of ways) element.remove();
  }
});
