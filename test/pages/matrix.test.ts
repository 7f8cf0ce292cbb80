/**
 * Every kind of binding at every event of its life, whatever it reads and whatever root it stands in, compared with what a
 * plain function of the value says.
 */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import {
  computed,
  contract,
  data,
  each,
  handle,
  live,
  type Markup,
  markup,
  on,
  settled,
  signal,
  sync,
  text,
  untracked,
} from 'eltrix';
import './support.ts';

// What is shown, and where.

let show: (host: Host) => Markup;

interface Host extends HTMLElement {
  value: string;
  content: string;
  notes: string[];
  readonly inside: ShadowRoot | HTMLElement;
}

class MatrixOpen extends contract('matrix-open', {
  attributes: { value: text() },
  properties: { content: data(() => 'a'), notes: live(() => ['a']) },
}) {
  view() {
    return show(this);
  }
  get inside() {
    return this.shadowRoot!;
  }
}
class MatrixClosed extends contract('matrix-closed', {
  attributes: { value: text() },
  properties: { content: data(() => 'a'), notes: live(() => ['a']) },
  shadow: { mode: 'closed' },
}) {
  view() {
    return show(this);
  }
  get inside() {
    return this.internals.shadowRoot!;
  }
}
class MatrixNone extends contract('matrix-none', {
  attributes: { value: text() },
  properties: { content: data(() => 'a'), notes: live(() => ['a']) },
  shadow: 'none',
}) {
  view() {
    return show(this);
  }
  get inside() {
    return this as HTMLElement;
  }
}
MatrixOpen.define();
MatrixClosed.define();
MatrixNone.define();
const roots: Record<string, new () => Host> = { open: MatrixOpen, closed: MatrixClosed, none: MatrixNone };

// What is read: `row` is the item of the row that the binding stands in.

type Read = () => string;

interface Source {
  read(row: () => Item): string;
  set(value: string): void;
}

interface Item {
  readonly id: number;
  readonly value: string;
}

const sources: Record<string, (host: Host, items: { get(): Item[]; set(items: Item[]): void }) => Source> = {
  signal() {
    const value = signal('a');
    return { read: () => value.get(), set: given => value.set(given) };
  },
  computed() {
    const value = signal('a');
    const derived = computed(() => `${value.get()}`);
    return { read: () => derived.get(), set: given => value.set(given) };
  },
  data: host => ({ read: () => host.content, set: given => (host.content = given) }),
  live: host => ({ read: () => host.notes.join(''), set: given => host.notes.splice(0, 1, given) }),
  attribute(host) {
    host.value = 'a';
    return { read: () => host.value, set: given => host.setAttribute('value', given) };
  },
  'row item': (_, items) => ({
    read: row => row().value,
    set: given => items.set(items.get().map(({ id }) => ({ id, value: given }))),
  }),
};

// What binds: its markup, and what can be seen of it.

interface Binding {
  markup(read: Read, set: (value: string) => void): Markup;
  /** The same template with a plain value; undefined where there are none. */
  plain?(value: string): Markup;
  seen(element: Element): string;
  expected?(value: string): string;
  /** Whether nothing of it runs while it is shown. */
  isQuiet?: boolean;
}

const cell = (inside: unknown) => markup`<p class="cell">${inside}</p>`;
const attribute = (value: unknown) => markup`<p class="cell" title=${value}></p>`;
const mixed = (value: unknown) => markup`<p class="cell" title="a ${value} b"></p>`;
const classes = (value: unknown) => markup`<p class=${value}></p>`;
const styles = (value: unknown) => markup`<p class="cell" style=${value}></p>`;
const property = (value: unknown) => markup`<p class="cell" ${{ title: value }}></p>`;
const field = (value: unknown) => markup`<input class="cell" ${{ value }}>`;
const row = (item: () => string) => markup`<i>${item}</i>`;
const handles = new WeakMap<Element, ReturnType<typeof handle>>();

function templateOf(value: string): HTMLTemplateElement {
  const template = document.createElement('template');
  template.content.append(value);
  return template;
}

let clicked = '';
function click(element: Element): string {
  clicked = '';
  element.dispatchEvent(new Event('click'));
  return clicked;
}

const bindings: Record<string, Binding> = {
  text: { markup: cell, plain: cell, seen: element => element.textContent! },
  attribute: { markup: attribute, plain: attribute, seen: element => element.getAttribute('title')! },
  'mixed attribute': {
    markup: mixed,
    plain: mixed,
    seen: element => element.getAttribute('title')!,
    expected: value => `a ${value} b`,
  },
  'class list': {
    markup: read => classes(() => ['cell', read()]),
    plain: value => classes(['cell', value]),
    seen: element => element.className,
    expected: value => `cell ${value}`,
  },
  'class record': {
    markup: read => classes(() => ({ cell: true, [read()]: true })),
    plain: value => classes({ cell: true, [value]: true }),
    seen: element => element.className,
    expected: value => `cell ${value}`,
  },
  'style record': {
    markup: read => styles(() => ({ '--mine': read() })),
    plain: value => styles({ '--mine': value }),
    seen: element => (element as HTMLElement).style.getPropertyValue('--mine'),
  },
  'property record': { markup: property, plain: property, seen: element => (element as HTMLElement).title },
  'field in a record': { markup: field, plain: field, seen: element => (element as HTMLInputElement).value },
  listener: {
    markup: read => markup`<button class="cell" onclick=${() => (clicked = read())}></button>`,
    seen: click,
    isQuiet: true,
  },
  on: {
    markup: read => markup`<button class="cell" ${on('click', () => (clicked = read()), { passive: true })}></button>`,
    seen: click,
    isQuiet: true,
  },
  handle: {
    markup() {
      const mine = handle<HTMLButtonElement>();
      return markup`<button class="cell" ${mine} onclick=${() => mine.element && handles.set(mine.element, mine)}></button>`;
    },
    seen(element) {
      element.dispatchEvent(new Event('click'));
      return `${handles.get(element)?.element === element}`;
    },
    expected: () => 'true',
    isQuiet: true,
  },
  sync: {
    markup: (read, set) => markup`<input class="cell" ${sync({ get: read, set })}>`,
    seen: element => (element as HTMLInputElement).value,
  },
  each: {
    markup: read =>
      markup`<p class="cell">${each(
        () => ['-', read()],
        item => item,
        row,
      )}</p>`,
    plain: value => markup`<p class="cell">${each(['-', value], item => item, row)}</p>`,
    seen: element => element.textContent!,
    expected: value => `-${value}`,
  },
  'nested markup': {
    markup: read => cell(() => markup`<b>${read()}</b>`),
    plain: value => cell(markup`<b>${value}</b>`),
    seen: element => element.querySelector('b')!.textContent!,
  },
  'nested live markup': {
    markup: read => cell(() => markup`<b title=${read}>${() => read()}</b>`),
    plain: value => cell(markup`<b title=${value}>${value}</b>`),
    seen: element => [element.querySelector('b')!.title, element.textContent].join(),
    expected: value => `${value},${value}`,
  },
  list: {
    markup: read => cell(() => ['-', read(), markup`<b>${read}</b>`]),
    plain: value => cell(['-', value, markup`<b>${value}</b>`]),
    seen: element => element.textContent!,
    expected: value => `-${value}${value}`,
  },
  'template element': {
    markup: read => cell(() => templateOf(read())),
    plain: value => cell(templateOf(value)),
    seen: element => element.textContent!,
  },
};

// What happens to it.

interface Cell {
  readonly host: Host;
  readonly items: { get(): Item[]; set(items: Item[]): void };
  /** Renders the whole again: undefined takes it away, a text stands in place of what is live. */
  render(what: 'live' | undefined | { plain: string }): void;
  set(value: string): void;
  /** Everything has settled and shows the value, at once or after that. */
  shows(value: string, atOnce?: boolean): Promise<void>;
}

type Life = (cell: Cell) => Promise<void>;

const frame = document.createElement('iframe');
document.body.append(frame);

interface Moving {
  moveBefore?(node: Node, child: Node | null): void;
}

const lives: Record<string, Life> = {
  async 'placed, then changed'({ set, shows }) {
    await shows('a');
    set('b');
    await shows('b');
  },
  async 'rendered again'({ render, set, shows }) {
    render('live');
    await shows('a');
    set('b');
    render('live');
    await shows('b');
    set('c');
    await shows('c');
  },
  async 'other values of the same template'({ render, set, shows }) {
    render({ plain: 'p' });
    await shows('p');
    render({ plain: 'q' });
    set('b');
    await shows('q');
    render('live');
    await shows('b');
    set('c');
    await shows('c');
  },
  async 'row moved'({ items, set, shows }) {
    items.set(items.get().toReversed());
    await shows('a');
    set('b');
    items.set(items.get().toReversed());
    await shows('b');
  },
  async 'row removed'({ items, set, shows }) {
    const [first, second] = items.get();
    items.set([second!]);
    set('b');
    await shows('b');
    items.set([...items.get(), { ...first!, value: 'b' }]);
    await shows('b');
    set('c');
    await shows('c');
  },
  async 'rows moved by others'({ host, items, set, shows }) {
    const [first] = host.inside.querySelectorAll('.row');
    first!.parentElement!.append(first!);
    set('b');
    await shows('b');
    items.set(items.get().toReversed());
    set('c');
    await shows('c');
  },
  async 'suspended and resumed'({ host, set, shows }) {
    const parent = host.parentElement!;
    host.remove();
    set('b');
    await settled();
    parent.append(host);
    await shows('b', true);
    set('c');
    await shows('c');
  },
  async 'moved with its state'({ host, set, shows }) {
    const [from, to] = [host.parentElement!, document.createElement('div')];
    from.before(to);
    (to as Moving).moveBefore!(host, null);
    set('b');
    await shows('b');
    to.remove();
    from.append(host);
  },
  async 'adopted by another document'({ host, set, shows }) {
    const parent = host.parentElement!;
    set('b');
    frame.contentDocument!.body.append(host);
    await shows('b');
    set('c');
    await shows('c');
    parent.append(host);
    set('d');
    await shows('d');
  },
  async 'disposed while queued'({ render, set, shows }) {
    set('b');
    render(undefined);
    await settled();
    set('c');
    render('live');
    await shows('c');
    set('d');
    await shows('d');
  },
  async 'threw and recovered'({ set, shows }) {
    set('throw');
    await settled();
    set('b');
    await shows('b');
  },
};

/** Why a cell cannot be, or undefined. */
function impossible(binding: Binding, life: string): string | undefined {
  if (life === 'other values of the same template' && !binding.plain) return 'it takes no plain value';
  if (life === 'threw and recovered' && binding.isQuiet) return 'nothing of it runs while it is shown';
  if (life === 'moved with its state' && !('moveBefore' in document.body)) return 'this engine has no moveBefore';
  return undefined;
}

/** Carries out one cell. */
async function run(Root: new () => Host, source: string, binding: Binding, life: Life): Promise<void> {
  const items = signal<Item[]>([
    { id: 1, value: 'a' },
    { id: 2, value: 'a' },
  ]);
  const rendered = signal<{ what: 'live' | undefined | { plain: string } }>({ what: 'live' });
  let from!: Source;
  const one = (row: () => Item) => {
    const { what } = rendered.get();
    if (what === undefined) return '';
    if (what !== 'live') return binding.plain!(what.plain);
    const read = () => {
      const value = from.read(row);
      if (value === 'throw') throw new Error('thrown');
      return value;
    };
    return untracked(() => binding.markup(read, value => from.set(value)));
  };
  show = () =>
    markup`<section>${each(
      () => items.get(),
      item => item.id,
      item => markup`<div class="row">${() => one(item)}</div>`,
    )}</section>`;
  const host = new Root();
  from = sources[source]!(host, items);
  const place = document.createElement('div');
  document.body.append(place);
  place.append(host);
  const expected = binding.expected ?? (value => value);
  try {
    await life({
      host,
      items,
      render: what => rendered.set({ what }),
      set: value => from.set(value),
      async shows(value, atOnce) {
        const look = () =>
          assert.deepEqual(
            Array.from(host.inside.querySelectorAll('.cell'), binding.seen),
            items.get().map(() => expected(value)),
          );
        if (atOnce) look();
        await settled();
        look();
      },
    });
  } finally {
    place.remove();
  }
}

/** The cells of a kind of binding, and how many cannot be, by reason. */
function cellsOf(binding: Binding) {
  const cells: { life: string; source: string; root: string }[] = [];
  const left = new Map<string, number>();
  for (const life of Object.keys(lives))
    for (const source of Object.keys(sources))
      for (const root of Object.keys(roots)) {
        const reason = impossible(binding, life);
        if (reason) left.set(reason, (left.get(reason) ?? 0) + 1);
        else cells.push({ life, source, root });
      }
  return { cells, left };
}

describe('every binding at every event of its life', () => {
  for (const [kind, binding] of Object.entries(bindings))
    it(kind, async () => {
      const wrong: string[] = [];
      for (const { life, source, root } of cellsOf(binding).cells) {
        const errors: unknown[] = [];
        const listen = (event: ErrorEvent) => {
          errors.push(event.error ?? event.message);
          event.preventDefault();
        };
        window.addEventListener('error', listen);
        try {
          await run(roots[root]!, source, binding, lives[life]!);
          const told = errors.map(error => (error as Error).message);
          if (life === 'threw and recovered') assert.ok(told.length > 0, 'the error is told');
          else assert.deepEqual(told, []);
        } catch (error) {
          wrong.push(`${life}, ${source}, ${root}: ${(error as Error).message.replace(/\s+/g, ' ').slice(0, 200)}`);
        } finally {
          window.removeEventListener('error', listen);
        }
      }
      assert.deepEqual(wrong, []);
    });

  it('has the cells that can be', t => {
    const all = Object.values(bindings).map(cellsOf);
    const count = all.reduce((sum, { cells }) => sum + cells.length, 0);
    t.diagnostic(`${count} cells`);
    for (const reason of new Set(all.flatMap(({ left }) => [...left.keys()])))
      t.diagnostic(`${all.reduce((sum, { left }) => sum + (left.get(reason) ?? 0), 0)} cannot be: ${reason}`);
    assert.ok(count > 2500);
  });
});
