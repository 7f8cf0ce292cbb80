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
import { random } from '../support/random.ts';
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
  /** Another value than before; the one given, or one that nobody has had. */
  change(value?: string): void;
  /** Everything has settled and shows the value, or a text in its place; at once or after that. */
  shows(place?: string, atOnce?: boolean): Promise<void>;
}

type Life = (cell: Cell) => Promise<void>;

const frame = document.createElement('iframe');
document.body.append(frame);

/** By hand: what querySelectorAll found before, WebKit finds again after a root has been in another document and back. */
function all(node: Node, name: string): Element[] {
  const found: Element[] = [];
  for (const child of node.childNodes) {
    if (child instanceof Element && child.classList.contains(name)) found.push(child);
    found.push(...all(child, name));
  }
  return found;
}

/** Each begins and ends with the live value shown in each row, so that they can follow each other. */
const lives: Record<string, Life> = {
  async 'placed, then changed'({ change, shows }) {
    await shows();
    change();
    await shows();
  },
  async 'rendered again'({ render, change, shows }) {
    render('live');
    await shows();
    change();
    render('live');
    await shows();
    change();
    await shows();
  },
  async 'other values of the same template'({ render, change, shows }) {
    render({ plain: 'p' });
    await shows('p');
    render({ plain: 'q' });
    change();
    await shows('q');
    render('live');
    await shows();
    change();
    await shows();
  },
  async 'row moved'({ items, change, shows }) {
    items.set(items.get().toReversed());
    await shows();
    change();
    items.set(items.get().toReversed());
    await shows();
  },
  async 'row removed'({ items, change, shows }) {
    const [first, second] = items.get();
    items.set([second!]);
    change();
    await shows();
    items.set([...items.get(), { ...first!, value: items.get()[0]!.value }]);
    await shows();
    change();
    await shows();
  },
  async 'rows moved by others'({ host, items, change, shows }) {
    const [first] = all(host.inside, 'row');
    first!.parentElement!.append(first!);
    change();
    await shows();
    items.set(items.get().toReversed());
    change();
    await shows();
  },
  async 'suspended and resumed'({ host, change, shows }) {
    const parent = host.parentElement!;
    host.remove();
    change();
    await settled();
    parent.append(host);
    await shows(undefined, true);
    change();
    await shows();
  },
  async 'moved with its state'({ host, change, shows }) {
    const [from, to] = [host.parentElement!, document.createElement('div')];
    from.before(to);
    to.moveBefore(host, null);
    change();
    await shows();
    to.remove();
    from.append(host);
  },
  async 'adopted by another document'({ host, change, shows }) {
    const parent = host.parentElement!;
    change();
    frame.contentDocument!.body.append(host);
    await shows();
    change();
    await shows();
    parent.append(host);
    change();
    await shows();
  },
  async 'disposed while queued'({ render, change, shows }) {
    change();
    render(undefined);
    await settled();
    change();
    render('live');
    await shows();
    change();
    await shows();
  },
  async 'threw and recovered'({ change, shows }) {
    change('throw');
    await settled();
    change();
    await shows();
  },
};

/** Why a cell cannot be, or undefined. */
function impossible(binding: Binding, life: string): string | undefined {
  if (life === 'other values of the same template' && !binding.plain) return 'it takes no plain value';
  if (life === 'threw and recovered' && binding.isQuiet) return 'nothing of it runs while it is shown';
  if (life === 'moved with its state' && !('moveBefore' in document.body)) return 'this engine has no moveBefore';
  return undefined;
}

/** Carries out what happens in one cell, one after the other. */
async function run(Root: new () => Host, source: string, binding: Binding, happens: readonly Life[]): Promise<void> {
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
  let now = 'a';
  let changes = 0;
  const cell: Cell = {
    host,
    items,
    render: what => rendered.set({ what }),
    change(value = `v${++changes}`) {
      now = value;
      from.set(value);
    },
    async shows(inItsPlace, atOnce) {
      const look = () =>
        assert.deepEqual(
          all(host.inside, 'cell').map(binding.seen),
          items.get().map(() => expected(inItsPlace ?? now)),
        );
      if (atOnce) look();
      await settled();
      look();
    },
  };
  try {
    for (const life of happens) await life(cell);
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

/** Carries it out; errors that nobody caught fail it, unless one was to be thrown. */
async function trial(root: string, source: string, binding: Binding, happens: readonly string[]): Promise<void> {
  const errors: unknown[] = [];
  const listen = (event: ErrorEvent) => {
    errors.push(event.error ?? event.message);
    event.preventDefault();
  };
  window.addEventListener('error', listen);
  try {
    await run(
      roots[root]!,
      source,
      binding,
      happens.map(life => lives[life]!),
    );
    const told = errors.map(error => (error as Error).message);
    if (happens.includes('threw and recovered')) assert.ok(told.length > 0, 'the error is told');
    else assert.deepEqual(told, []);
  } finally {
    window.removeEventListener('error', listen);
  }
}

describe('every binding at every event of its life', () => {
  for (const [kind, binding] of Object.entries(bindings))
    it(kind, async () => {
      const wrong: string[] = [];
      for (const { life, source, root } of cellsOf(binding).cells)
        try {
          await trial(root, source, binding, [life]);
        } catch (error) {
          wrong.push(`${life}, ${source}, ${root}: ${(error as Error).message.replace(/\s+/g, ' ').slice(0, 200)}`);
        }
      assert.deepEqual(wrong, []);
    });

  it('covers all possible cells', t => {
    const all = Object.values(bindings).map(cellsOf);
    const count = all.reduce((sum, { cells }) => sum + cells.length, 0);
    t.diagnostic(`${count} cells`);
    for (const reason of new Set(all.flatMap(({ left }) => [...left.keys()])))
      t.diagnostic(`${all.reduce((sum, { left }) => sum + (left.get(reason) ?? 0), 0)} cannot be: ${reason}`);
    assert.ok(count > 2500);
  });

  it('works in random sequences', async t => {
    const seed = Math.floor(Math.random() * 2 ** 31);
    t.diagnostic(`seed ${seed}`);
    const next = random(seed);
    const pick = <T>(list: readonly T[]): T => list[next(list.length)]!;
    for (let i = 0; i < 150; i++) {
      const [kind, binding] = pick(Object.entries(bindings));
      const possible = Object.keys(lives).filter(life => !impossible(binding, life));
      let happens = Array.from({ length: 6 }, () => pick(possible));
      const [root, source] = [pick(Object.keys(roots)), pick(Object.keys(sources))];
      const failure = async (happens: readonly string[]) =>
        trial(root, source, binding, happens).then(
          () => undefined,
          (error: unknown) => error as Error,
        );
      let failed = await failure(happens);
      if (!failed) continue;
      // The shortest that still fails: what can be left out is left out.
      for (let k = 0; k < happens.length; ) {
        const fewer = happens.toSpliced(k, 1);
        const again = fewer.length > 0 ? await failure(fewer) : undefined;
        if (again) [happens, failed] = [fewer, again];
        else k++;
      }
      assert.fail(`${kind}, ${source}, ${root}: ${happens.join(', then ')}: ${failed.message}`);
    }
  });
});
