/** Lists inside expressions that run again: each time with another function for the rows. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { each, liveObject, markup, on, settled, signal } from 'eltrix';
import { heard, place } from './support.ts';

const items = signal<readonly string[]>([]);
const suffix = signal('');
const texts = (root: ShadowRoot) => Array.from(root.querySelectorAll('li'), li => li.textContent);
const nodes = (root: ShadowRoot) => new Map(Array.from(root.querySelectorAll('li'), li => [li.dataset['key'], li]));

/** The ways to write a list whose function for the rows is another one each time. */
const ways = {
  'inside conditional markup': () =>
    markup`${() => {
      const end = suffix.get();
      return (
        items.get().length > 0 &&
        markup`<ul>${each(
          () => items.get(),
          key => key,
          key =>
            markup`<li data-key=${key()} class=${end} onclick=${() => log.push(key() + end)}>${() => key()}${end}</li>`,
        )}</ul>`
      );
    }}`,
  'as the value of an expression': () =>
    markup`<ul>${() => {
      const end = suffix.get();
      return each(
        items.get(),
        key => key,
        key => markup`<li data-key=${key()} class=${end} onclick=${() => log.push(key() + end)}>${key()}${end}</li>`,
      );
    }}</ul>`,
  'with an array, inside conditional markup': () =>
    markup`${() => {
      const end = suffix.get();
      return markup`<ul>${each(
        items.get(),
        key => key,
        key => markup`<li data-key=${key()} class=${end} onclick=${() => log.push(key() + end)}>${key()}${end}</li>`,
      )}</ul>`;
    }}`,
  'inside a row of another list': () =>
    markup`${each(
      () => [suffix.get()],
      () => 0,
      end =>
        markup`${() => {
          const now = end();
          return markup`<ul>${each(
            () => items.get(),
            key => key,
            key =>
              markup`<li data-key=${key()} class=${now} onclick=${() => log.push(key() + now)}>${key()}${now}</li>`,
          )}</ul>`;
        }}`,
    )}`,
  'in an array of values': () =>
    markup`${() => {
      const end = suffix.get();
      return [
        markup`<ul>${each(
          items.get(),
          key => key,
          key => markup`<li data-key=${key()} class=${end} onclick=${() => log.push(key() + end)}>${key()}${end}</li>`,
        )}</ul>`,
        'x',
      ];
    }}`,
};
let log: string[] = [];

describe('a list inside an expression that runs again', () => {
  for (const [way, view] of Object.entries(ways))
    it(`keeps the rows of keys that stay, and shows what the new function makes, ${way}`, async () => {
      items.set(['a', 'b', 'c']);
      suffix.set('!');
      const root = place(view);
      let seed = 11;
      const next = (below: number) => (seed = (seed * 1_103_515_245 + 12_345) % 2_147_483_648) % below;
      for (let round = 0; round < 120; round++) {
        const before = nodes(root);
        if (next(3) > 0) items.set([...new Set(Array.from({ length: 1 + next(6) }, () => 'abcdefgh'[next(8)]!))]);
        if (next(3) > 0) suffix.set('!?.'[next(3)]!);
        await settled();
        const end = suffix.peek();
        assert.deepEqual(
          texts(root),
          items.peek().map(key => key + end),
          `round ${round}`,
        );
        for (const [key, node] of nodes(root)) {
          if (before.has(key)) assert.equal(node, before.get(key), `row ${key}, round ${round}`);
          assert.equal(node.className, end);
          log = [];
          node.click();
          assert.deepEqual(log, [key + end]);
        }
      }
    });

  it('runs what the new function makes, and not what the old one made', async () => {
    const rows = signal([{ id: 1, name: 'Sage' }]);
    let runs: string[] = [];
    let round = 0;
    const run = (which: string, made: number, name: string) => {
      runs.push(`${which} of ${made}: ${name}`);
      return name;
    };
    const root = place(
      () =>
        markup`${() => {
          round++;
          return (
            rows.get().length > 0 &&
            markup`<ul>${each(
              () => rows.get(),
              ({ id }) => id,
              (row, index) => {
                const made = round;
                return markup`<li class=${() => run('class', made, row().name)} title="at ${() => run('title', made, row().name)}">${() =>
                  run(
                    'text',
                    made,
                    row().name,
                  )}${() => run('markup', made, row().name) && markup`<b>${() => run('inner', made, row().name)}</b>`} ${() => index()}</li>`;
              },
            )}</ul>`
          );
        }}`,
    );
    for (const name of ['Sage', 'Rue', 'Yarrow']) {
      rows.set(
        [
          { id: 2, name: 'Other' },
          { id: 1, name },
        ].slice(round % 2),
      );
      await settled();
      runs = [];
      rows.set([{ id: 1, name: `${name}!` }]);
      await settled();
      assert.deepEqual(texts(root), [`${name}!${name}! 0`]);
      assert.deepEqual(
        runs.sort(),
        ['class', 'inner', 'markup', 'text', 'title'].map(which => `${which} of ${round}: ${name}!`),
      );
    }
  });

  it('makes a row again if its template is another one, and reports a row that throws', async () => {
    items.set(['a', 'b', 'c']);
    suffix.set('p');
    const root = place(
      () =>
        markup`<ul>${() => {
          const kind = suffix.get();
          return each(
            items.get(),
            key => key,
            key => {
              if (kind === 'throw' && key() === 'b') throw new Error('No bees.');
              return kind === 'p'
                ? markup`<li data-key=${key()}><p>${key()}</p></li>`
                : markup`<li data-key=${key()}><b>${key()}</b></li>`;
            },
          );
        }}</ul>`,
    );
    const first = nodes(root).get('a');
    suffix.set('b');
    await settled();
    assert.equal(root.querySelectorAll('li > b').length, 3);
    assert.notEqual(nodes(root).get('a'), first);
    const { errors } = await heard(() => suffix.set('throw'));
    assert.equal(errors.length, 1);
    assert.match(String(errors[0]), /No bees/);
    assert.deepEqual(texts(root), ['a', 'c']);
    suffix.set('b');
    await settled();
    assert.deepEqual(texts(root), ['a', 'b', 'c']);
  });

  it('keeps the focus, the text in a field and listeners of a row', async () => {
    const rows = liveObject([
      { id: 1, name: 'Sage' },
      { id: 2, name: 'Rue' },
    ]);
    const heardOf: number[] = [];
    const root = place(
      () =>
        markup`${() =>
          rows.length > 0 &&
          markup`<p>${rows.length} hives</p>${each(
            () => rows,
            ({ id }) => id,
            row => markup`<input ${on('input', () => heardOf.push(row().id))} aria-label=${() => row().name}>`,
          )}`}`,
    );
    const field = root.querySelector<HTMLInputElement>('[aria-label=Rue]')!;
    field.focus();
    field.value = 'calm';
    rows.push({ id: 3, name: 'Thyme' });
    await settled();
    assert.equal(root.activeElement, field);
    assert.equal(root.querySelector('p')!.textContent, '3 hives');
    rows.shift();
    await settled();
    assert.equal(root.activeElement, field);
    assert.equal(field.value, 'calm');
    field.dispatchEvent(new Event('input'));
    assert.deepEqual(heardOf, [2]);
    rows.splice(0);
    await settled();
    assert.equal(root.querySelector('input'), null);
  });
});
