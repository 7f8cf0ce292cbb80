// Lists whose rows other scripts move, as drag libraries do: long ones notice it, short ones look.
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { contract, data, each, markup, settled } from 'eltrix';
import { stage } from 'eltrix-tool/testing';
import { random } from '../support/random.ts';

class DragList extends contract('drag-list', { properties: { items: data<readonly number[]>(() => []) } }) {
  view() {
    return markup`<ul>${each(
      () => this.items,
      item => item,
      item => markup`<li id=${() => `r${item()}`}>${() => item()}</li>`,
    )}</ul>`;
  }
}
DragList.define();

/** Each row has white space around it, as formatters write it. */
class SpacedList extends contract('spaced-list', { properties: { items: data<readonly number[]>(() => []) } }) {
  view() {
    return markup`<ul>${each(
      () => this.items,
      item => item,
      item => markup`
        <li id=${() => `r${item()}`}>${() => item()}</li>
      `,
    )}</ul>`;
  }
}
SpacedList.define();

/** Each row has two nodes. */
class PairList extends contract('pair-list', { properties: { items: data<readonly number[]>(() => []) } }) {
  view() {
    return markup`<dl>${each(
      () => this.items,
      item => item,
      item => markup`<dt>${() => item()}</dt><dd>${() => item()}</dd>`,
    )}</dl>`;
  }
}
PairList.define();

/** Leaves the page as soon as it comes, if its number is odd. */
class OddLeaver extends HTMLElement {
  connectedCallback() {
    if (Number(this.id) % 2) this.remove();
  }
}
customElements.define('odd-leaver', OddLeaver);

class LeaverList extends contract('leaver-list', { properties: { items: data<readonly number[]>(() => []) } }) {
  view() {
    return markup`<div>${each(
      () => this.items,
      item => item,
      item => markup`<odd-leaver id=${item()}></odd-leaver>`,
    )}</div>`;
  }
}
LeaverList.define();

const numbers = (length: number) => [...new Array<undefined>(length).keys()];

describe('a list whose rows others move', () => {
  for (const [tag, length] of [
    ...[3, 99, 100, 101, 160].map(length => ['drag-list', length] as const),
    ['spaced-list', 3],
    ['spaced-list', 160],
  ] as const)
    it(`of ${length} rows shows its items in order: ${tag}`, async t => {
      const seed = Math.floor(Math.random() * 2 ** 31);
      t.diagnostic(`seed ${seed}`);
      const below = random(seed);
      const list = await stage<DragList | SpacedList>(`<${tag}></${tag}>`);
      const parent = list.shadowRoot!.querySelector('ul')!;
      const stranger = document.createElement('hr');
      let items = numbers(length);
      let last = length;
      list.items = items;
      await settled();
      const disturb = [
        () => parent.append(parent.children[below(parent.children.length)] ?? ''),
        () => parent.prepend(parent.children[below(parent.children.length)] ?? ''),
        () => parent.querySelectorAll('li')[below(length)]?.remove(),
        () => parent.insertBefore(stranger, parent.children[below(parent.children.length)] ?? null),
        () => stranger.remove(),
        () => {},
      ];
      const change = [
        () => items.toSpliced(below(items.length), 1),
        () => items.toSpliced(below(items.length), 0, last++),
        () => items.toReversed(),
        () => [...items.slice(1), ...items.slice(0, 1)],
        () => [],
        () => numbers(length).map(() => last++),
      ];
      for (let step = 0; step < 60; step++) {
        disturb[below(disturb.length)]!();
        if (below(2)) await settled();
        if (below(2)) disturb[below(disturb.length)]!();
        const hadStranger = stranger.isConnected;
        items = change[below(step % 10 === 9 ? change.length : 4)]!();
        list.items = items;
        await settled();
        const shown = [...parent.querySelectorAll('li')].map(row => Number(row.textContent));
        assert.deepEqual(shown, items, `step ${step}`);
        // What stands between the nodes of a row belongs to it.
        if (tag === 'drag-list')
          assert.equal(stranger.isConnected, hadStranger, `step ${step}: what others have inserted stays`);
        if (items.length < 2) items = list.items = numbers(length);
        await settled();
      }
    });

  it('takes back rows that leave while they are inserted', async () => {
    const list = await stage<LeaverList>('<leaver-list></leaver-list>');
    const parent = list.shadowRoot!.querySelector('div')!;
    list.items = numbers(300);
    await settled();
    assert.equal(parent.children.length, 150);
    list.items = numbers(301);
    await settled();
    list.items = [];
    await settled();
    assert.equal(parent.children.length, 0);
  });

  it('follows its rows into another parent', async () => {
    const list = await stage<DragList>('<drag-list></drag-list>');
    list.items = numbers(200);
    await settled();
    const other = document.createElement('ol');
    list.shadowRoot!.append(other);
    other.append(...list.shadowRoot!.querySelector('ul')!.childNodes);
    list.items = numbers(201).toReversed();
    await settled();
    assert.deepEqual(
      [...other.children].map(row => Number(row.textContent)),
      list.items,
    );
    assert.equal(list.shadowRoot!.querySelector('ul')!.children.length, 0);
  });

  it('of rows with two nodes brings them together again', async t => {
    const seed = Math.floor(Math.random() * 2 ** 31);
    t.diagnostic(`seed ${seed}`);
    const below = random(seed);
    const list = await stage<PairList>('<pair-list></pair-list>');
    const parent = list.shadowRoot!.querySelector('dl')!;
    const { children } = parent;
    for (let step = 0; step < 60; step++) {
      list.items = numbers(6).filter(() => below(4));
      await settled();
      const pairs = list.items.flatMap(item => [`DT${item}`, `DD${item}`]);
      assert.deepEqual(
        { step, shown: [...children].map(node => node.nodeName + node.textContent) },
        { step, shown: pairs },
      );
      const moved = children[below(children.length)];
      if (moved) parent.insertBefore(moved, children[below(children.length + 1)] ?? null);
    }
  });
});
