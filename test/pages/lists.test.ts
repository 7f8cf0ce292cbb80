import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { contract, data, each, markup, settled, signal } from 'eltrix';
import { promised, region } from 'eltrix/views';
import { heard, messages, place, put, warns } from './support.ts';

const tick = () => new Promise(resolve => setTimeout(resolve));

describe('each', () => {
  const list = signal<{ id: number; label?: string }[]>([]);
  const rows = (root: ShadowRoot) => [...root.querySelectorAll('li')];
  const view = () =>
    markup`<ul>${each(
      () => list.get(),
      item => item.id,
      (item, index) => markup`<li>${() => item().id}${() => item().label}</li>${() => index()}`,
    )}</ul>`;

  it('stands in a condition, as a promise does', async () => {
    const [open, value] = [signal(true), signal('a')];
    const root = place(
      () =>
        markup`<ol>${() =>
          open.get() &&
          each(
            () => list.get(),
            item => item.id,
            item => markup`<li>${() => item().id}</li>`,
          )}</ol><p>${() => (open.get() ? promised(() => value.get(), { fulfilled: text => text }) : 'closed')}</p>`,
    );
    list.set([{ id: 1 }, { id: 2 }]);
    await settled();
    const [first] = rows(root);
    list.set([{ id: 3 }, { id: 1 }]);
    value.set('b');
    await settled();
    assert.equal(root.textContent, '31b');
    assert.equal(rows(root)[1], first);
    open.set(false);
    await settled();
    assert.equal(root.textContent, 'closed');
    open.set(true);
    await settled();
    assert.equal(root.textContent, '31b');
  });

  it('any permutation, insertion and removal keeps the rows of remaining keys', async () => {
    const root = place(view);
    let seed = 7;
    const next = (below: number) => (seed = (seed * 1_103_515_245 + 12_345) % 2_147_483_648) % below;
    for (let round = 0; round < 300; round++) {
      const known = new Map(list.peek().map((item, i) => [item.id, rows(root)[i]]));
      const ids = [...new Set(Array.from({ length: next(14) }, () => next(16)))];
      const expected = round % 3 ? ids : ids.sort((a, b) => a - b);
      list.set(expected.map(id => ({ id })));
      await settled();
      assert.equal(
        root.querySelector('ul')!.textContent,
        expected.map((id, i) => `${id}${i}`).join(''),
        `round ${round}`,
      );
      for (const [i, id] of expected.entries()) if (known.has(id)) assert.equal(rows(root)[i], known.get(id));
    }
    list.set([]);
    await settled();
    assert.equal(root.querySelector('ul')!.childNodes.length, 1);
  });

  it('moves as few nodes as possible', async () => {
    const root = place(view);
    list.set(Array.from({ length: 20 }, (_, id) => ({ id })));
    await settled();
    const records: MutationRecord[] = [];
    new MutationObserver(more => void records.push(...more)).observe(root.querySelector('ul')!, { childList: true });
    const order = list.peek().slice();
    order.splice(15, 0, order.splice(2, 1)[0]!);
    order.splice(6, 0, order.splice(17, 1)[0]!);
    list.set(order);
    await settled();
    await tick();
    const moved = new Set(records.flatMap(record => [...record.addedNodes]).filter(node => node instanceof Element));
    assert.equal(moved.size, 2);
  });

  it('a row with the focus keeps it, wherever it moves', async () => {
    const keys = signal<readonly string[]>([...'abcdef']);
    const root = place(
      () =>
        markup`<p>x</p>${each(
          () => keys.get(),
          key => key,
          key => markup`<input aria-label=${key()}><b>${key()}</b>`,
        )}`,
    );
    const shown = () => Array.from(root.querySelectorAll('input'), field => field.ariaLabel).join('');
    let seed = 5;
    const next = (below: number) => (seed = (seed * 1_103_515_245 + 12_345) % 2_147_483_648) % below;
    const orders = ['bacdef', 'abcdef', 'fabcde', 'fedcba', 'abcdef', 'dbcaef', 'xaby'];
    for (let round = 0; round < 60; round++) orders.push([...'abcdefgh'].sort(() => next(3) - 1).join(''));
    for (const order of orders) {
      const fields = [...root.querySelectorAll('input')].filter(field => order.includes(field.ariaLabel!));
      const field = fields[next(fields.length)]!;
      field.focus();
      let blurs = 0;
      field.onblur = () => blurs++;
      keys.set([...order]);
      await settled();
      assert.equal(shown(), order);
      assert.equal(root.activeElement, field, order);
      assert.equal(blurs, 0);
      field.onblur = null;
    }
  });

  it('both rows of a duplicate key are shown, with a warning', async () => {
    const root = place(view);
    const { warnings } = await heard(() => list.set([{ id: 1, label: 'a' }, { id: 1, label: 'b' }, { id: 2 }]));
    assert.deepEqual(
      rows(root).map(row => row.textContent),
      ['1a', '1b', '2'],
    );
    warns(warnings.slice(0, 1), [
      /^Warning \(duplicate-key\): <markup-\d+>, line 1 of the markup, expression 1 .*: two items have the key 1\./,
    ]);
    await heard(() => list.set([{ id: 2 }, { id: 1, label: 'b' }, { id: 1, label: 'c' }]));
    assert.deepEqual(
      rows(root).map(row => row.textContent),
      ['2', '1b', '1c'],
    );
  });

  it('a key function that throws leaves the list unchanged', async () => {
    const root = place(view);
    const told = () => rows(root).map(row => row.textContent);
    const [one, two, three, four] = [{ id: 1 }, { id: 2 }, { id: 3 }, { id: 4 }];
    const none = null as unknown as { id: number };
    for (const [before, wrong] of [
      [
        [one, two],
        [one, two, three, four, none],
      ],
      [
        [one, two],
        [three, none, one, two],
      ],
      [[], [one, two, none]],
      [
        [one, two, three, four],
        [four, { id: 2, label: 'x' }, { id: 3, label: 'y' }, none, one],
      ],
      [
        [one, two, three, four],
        [{ id: 5 }, { id: 3, label: 'y' }, none, { id: 2, label: 'x' }],
      ],
    ]) {
      list.set(before!);
      await settled();
      const was = told();
      const { errors } = await heard(() => list.set(wrong!));
      assert.equal(errors.length > 0, true);
      assert.deepEqual(told(), was);
      for (const after of [before!, [two, one], [one, two, three]]) {
        list.set([...after]);
        await settled();
        assert.deepEqual(
          told(),
          after.map(({ id }) => `${id}`),
        );
      }
    }
  });

  it('keeps focus on reorder where the engine supports it, nests, and survives a row that throws', async () => {
    list.set([{ id: 1 }, { id: 2 }, { id: 3 }]);
    const root = place(
      () =>
        markup`<ul>${each(
          () => list.get(),
          item => item.id,
          item =>
            markup`<li><input id=${`i${item().id}`}>${each(
              [1, 2],
              n => n,
              n => markup`<s>${n()}</s>`,
            )}</li>`,
        )}</ul>`,
    );
    const input = root.querySelector<HTMLInputElement>('#i3')!;
    input.focus();
    list.set([{ id: 3 }, { id: 1 }, { id: 2 }]);
    await settled();
    if ('moveBefore' in Element.prototype) assert.equal(root.activeElement, input);
    assert.equal(root.querySelectorAll('s').length, 6);
    const { errors } = await heard(() => {
      const broken = place(
        () =>
          markup`<ul>${each(
            [1, 2, 3],
            n => n,
            n => {
              if (n() === 2) throw new Error('row two');
              return markup`<li>${n()}</li>`;
            },
          )}</ul>`,
      );
      assert.deepEqual(
        rows(broken).map(row => row.textContent),
        ['1', '3'],
      );
    });
    assert.match(messages(errors)[0]!, /row two/);
  });

  it('rows follow the properties of the element at any depth', async () => {
    const root = put<RowReader>('<row-reader></row-reader>');
    const shown = () => [...root.shadowRoot!.querySelectorAll('li')].map(row => row.textContent).join(' ');
    await settled();
    assert.equal(shown(), '1a-a[a]{} 2a-a[a]{}');
    root.word = 'b';
    await settled();
    assert.equal(shown(), '1b-b[b]{} 2b-b[b]{}');
    // What comes later, inside a row that stands already.
    root.more = true;
    await settled();
    assert.equal(shown(), '1b-b[b]{b} 2b-b[b]{b}');
    root.word = 'c';
    await settled();
    assert.equal(shown(), '1c-c[c]{c} 2c-c[c]{c}');
    // And what has changed while it was away.
    const { parentNode } = root;
    root.remove();
    root.word = 'd';
    rowSource.set('!');
    parentNode!.append(root);
    assert.equal(shown(), '1d-d[d]{d!} 2d-d[d]{d!}');
    rowSource.set('');
  });
});

const rowSource = signal('');

class RowReader extends contract('row-reader', {
  properties: { word: data(() => 'a'), more: data(() => false), ids: data(() => [1, 2]) },
}) {
  view() {
    return markup`<ul>${each(
      () => this.ids,
      id => id,
      id =>
        markup`<li>${id()}${() => this.word}-${each(
          [1],
          one => one,
          () => markup`${() => this.word}`,
        )}${() => [markup`[${() => this.word}]`]}${region(
          () => markup`{${() => this.more && markup`${() => this.word}${() => rowSource.get()}`}}`,
          () => 'failed',
        )}</li>`,
    )}</ul>`;
  }
}
RowReader.define();
