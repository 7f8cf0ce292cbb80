/**
 * Random trees of all that a view can hold, each inside the others: lists, conditions, promises, regions that fail and
 * recover, elements with and without a root, fields. What shows depends on the present values alone.
 */
import { computed, contract, data, each, handle, integer, markup, type Signal, signal, slot, sync, text } from 'eltrix';
import { ask, context, offer } from 'eltrix/context';
import { leaving, promised, region } from 'eltrix/views';

export type Next = (below: number) => number;

export interface Part {
  /** Its structure, for messages. */
  readonly words: string;
  /** What an expression shows: a value, or a function. */
  show(): unknown;
  /** Whether the function is one of the library, which is live in any place. */
  readonly isLive?: boolean;
  /** The text that it shows, elements in brackets. @throws Error if it fails to the outside. */
  text(): string;
}

/** How often a part has said that it fails. */
let count = 0;

/** Whether a part fails, inside a region or not. */
export function hasFailed(part: Part): boolean {
  count = 0;
  part.text();
  return count > 0;
}

function fail(): never {
  count++;
  throw new Error('expected');
}

class ComposedRoot extends contract('composed-root', {
  attributes: { label: text() },
  slots: { '': slot('Anything.') },
}) {
  view() {
    return markup`<q>${() => this.label}</q><slot></slot>`;
  }
}

class ComposedLight extends contract('composed-light', {
  shadow: 'none',
  attributes: { label: text() },
  slots: { '': slot('Anything.') },
}) {
  view() {
    return markup`<q>${() => this.label}</q><slot></slot>`;
  }
}

export class ComposedPart extends contract('composed-part', {
  properties: { tree: data<Part | undefined>(() => undefined), label: data(() => '') },
}) {
  view() {
    return markup`<q>${() => this.label}</q>${() => this.tree && inPlace(this.tree)}`;
  }
}

/** Shows only its own attribute, so that a build gives it no graph. Of 3 it fails. */
class ComposedLevel extends contract('composed-level', { attributes: { level: integer() } }) {
  view() {
    return markup`<s>${() => 'x'.repeat(2 - this.level)}</s>`;
  }
}

const key = context<string>('composed');

class ComposedOffer extends contract('composed-offer', {
  properties: { tree: data<Part | undefined>(() => undefined), offer: data(() => '') },
}) {
  readonly stop = offer(
    this,
    key,
    computed(() => this.offer),
  );

  view() {
    return markup`${() => this.tree && inPlace(this.tree)}`;
  }
}

class ComposedAsk extends contract('composed-ask', {}) {
  readonly asked = ask(this, key);

  view() {
    return markup`${() => this.asked.get() ?? 'none'}`;
  }
}

/** Defines each of the elements. */
export const definitions: readonly (() => unknown)[] = [
  () => ComposedRoot.define(),
  () => ComposedLight.define(),
  () => ComposedPart.define(),
  () => ComposedLevel.define(),
  () => ComposedOffer.define(),
  () => ComposedAsk.define(),
];

/** What is offered around the part whose text is asked for. */
let offered = 'none';

/** For places where an author's function is not live: in what a live expression returns. */
export function inPlace(part: Part): unknown {
  const shown = part.show();
  return typeof shown === 'function' && !part.isLive ? markup`${shown}` : shown;
}

/** All that are in a place: if one fails, all fail. */
export const together = (parts: readonly Part[]) => parts.map(part => part.text()).join('');

/** A promise and its outcome. */
interface Given {
  readonly promise: Promise<string> | string;
  outcome: 'pending' | 'fulfilled' | 'rejected';
  readonly name: string;
  settle?: ((outcome: 'fulfilled' | 'rejected') => void) | undefined;
}

function given(name: string, isValue: boolean): Given {
  if (isValue) return { promise: name, outcome: 'fulfilled', name };
  let settle!: Given['settle'];
  const promise = new Promise<string>((resolve, reject) => {
    settle = outcome => {
      if (made.outcome !== 'pending') return;
      made.outcome = outcome;
      (outcome === 'fulfilled' ? resolve : reject)(name);
    };
  });
  promise.catch(() => {});
  const made: Given = { promise, outcome: 'pending', name, settle };
  return made;
}

/** Makes the parts of a tree, the signals that they read, and the changes of these. */
export class Maker {
  readonly changes: ((next: Next) => string)[] = [];
  readonly signals: Signal<unknown>[] = [];
  readonly #numbers: [name: string, value: Signal<number>][] = [];
  #made = 0;
  readonly promises: Signal<Given>[] = [];

  constructor(readonly next: Next) {}

  #source<T>(what: string, value: T, change: (next: Next, present: T) => T): [string, Signal<T>] {
    const name = `${what}${this.#made++}`;
    const source = signal(value);
    this.signals.push(source as Signal<unknown>);
    this.changes.push(next => {
      source.set(change(next, source.peek()));
      return `${name}=${source.peek()}`;
    });
    return [name, source];
  }

  /** Now and then one that other parts read. */
  number(): [string, Signal<number>] {
    const { next } = this;
    if (this.#numbers.length > 0 && next(3) === 0) return this.#numbers[next(this.#numbers.length)]!;
    const made = this.#source('n', next(3), next => next(6));
    this.#numbers.push(made);
    return made;
  }

  list(): [string, Signal<readonly number[]>] {
    const start: readonly number[] = [1, 2, 3].slice(this.next(4));
    return this.#source('l', start, next => [1, 2, 3, 4, 5].filter(() => next(2) > 0).sort(() => next(3) - 1));
  }

  flag(): [string, Signal<boolean>] {
    return this.#source('f', false, next => next(3) === 0);
  }

  word(): [string, Signal<string>] {
    return this.#source('w', 'a', next => `b${next(9)}`);
  }

  promise(): [string, Signal<Given>] {
    let count = 0;
    const [name, source] = this.#source('p', given('first', this.next(2) === 0), next =>
      given(`g${count++}`, next(4) === 0),
    );
    this.promises.push(source);
    this.changes.push(next => {
      source.peek().settle?.(next(2) === 0 ? 'fulfilled' : 'rejected');
      return `${name} is ${source.peek().outcome}`;
    });
    return [name, source];
  }

  part(depth: number): Part {
    const { next } = this;
    const inner = () => this.part(depth - 1);
    const [number, value] = this.number();
    const kind = depth === 0 ? next(5) : next(23);
    switch (kind) {
      case 0:
        return { words: number, show: () => () => value.get(), text: () => `${value.peek()}` };
      case 1:
        return {
          words: `fails(${number})`,
          show: () => () => {
            if (value.get() % 4 === 3) throw new Error('expected');
            return `f${value.get()}`;
          },
          text() {
            if (value.peek() % 4 === 3) fail();
            return `f${value.peek()}`;
          },
        };
      case 2: {
        const [name, word] = this.word();
        return { words: name, show: () => markup`<input ${sync(word)}>`, text: () => `<${word.peek()}>` };
      }
      case 3: {
        const level = () => Math.min(value.get(), 3);
        return {
          words: `level(${number})`,
          show: () => markup`<composed-level level=${level}></composed-level>`,
          text() {
            if (value.peek() >= 3) fail();
            return `{[${'x'.repeat(2 - value.peek())}]}`;
          },
        };
      }
      case 4:
        return { words: 'asks', show: () => markup`<composed-ask></composed-ask>`, text: () => `{${offered}}` };
      case 5: {
        const parts = Array.from({ length: 1 + next(3) }, inner);
        return {
          words: `(${parts.map(({ words }) => words).join(' ')})`,
          show: () => markup`<b>${parts.map(inPlace)}</b>`,
          text: () => `[${together(parts)}]`,
        };
      }
      case 6:
      case 7: {
        const [odd, even] = [inner(), inner()];
        const made = next(2) === 0 ? [inPlace(even), inPlace(odd)] : undefined;
        return {
          words: `${made ? 'kept ' : ''}${number} ? ${odd.words} : ${even.words}`,
          show: () => () => made?.[value.get() % 2] ?? inPlace(value.get() % 2 === 1 ? odd : even),
          text: () => (value.peek() % 2 === 1 ? odd : even).text(),
        };
      }
      case 8: {
        const part = inner();
        return {
          words: `again(${number}, ${part.words})`,
          show: () => () => markup`<i class=${value.get()}>${value.get()}${part.show()}</i>`,
          text: () => `[${value.peek()}${part.text()}]`,
        };
      }
      case 9: {
        const [name, list] = this.list();
        const part = inner();
        return {
          words: `rows(${name}, ${part.words})`,
          show: () =>
            markup`<ul>${each(
              () => list.get(),
              item => item,
              (item, index) => markup`<li>${() => `${item()}@${index()}`}${part.show()}</li>`,
            )}</ul>`,
          text: () =>
            `[${list
              .peek()
              .map((item, index) => `[${item}@${index}${part.text()}]`)
              .join('')}]`,
        };
      }
      case 10: {
        const [name, list] = this.list();
        const part = inner();
        return {
          words: `wide rows(${name}, ${part.words})`,
          isLive: true,
          show: () =>
            each(
              () => list.get(),
              item => item,
              item => markup`<u>${() => item()}</u>${part.show()}`,
            ),
          text: () =>
            list
              .peek()
              .map(item => `[${item}]${part.text()}`)
              .join(''),
        };
      }
      case 11: {
        const [name, list] = this.list();
        const part = inner();
        return {
          words: `map(${name}, ${part.words})`,
          show: () => () => list.get().map(item => markup`<u>${item}${part.show()}</u>`),
          text: () =>
            list
              .peek()
              .map(item => `[${item}${part.text()}]`)
              .join(''),
        };
      }
      case 12:
      case 13: {
        const part = inner();
        const [viewFlag, viewFails] = this.flag();
        const [fallbackFlag, fallbackFails] = this.flag();
        const tell = (fails: boolean, show: () => unknown) => {
          if (fails) throw new Error('expected');
          return show();
        };
        return {
          words: `region(${viewFlag}, ${fallbackFlag}, ${part.words})`,
          show: () =>
            region(
              () => tell(viewFails.get(), () => inPlace(part)),
              () => tell(fallbackFails.get(), () => '(fallback)'),
            ),
          text() {
            try {
              if (!viewFails.peek()) return part.text();
            } catch {}
            if (fallbackFails.peek()) fail();
            return '(fallback)';
          },
        };
      }
      case 14:
      case 15: {
        const [name, source] = this.promise();
        const part = inner();
        const isCaught = next(2) === 0;
        const views = {
          fulfilled: (value: string) => markup`<s>${value}${part.show()}</s>`,
          ...(next(2) === 0 && { pending: (last: string | undefined) => markup`<em>${last}</em>` }),
          ...(isCaught && { rejected: (error: unknown) => `no ${error}` }),
        };
        return {
          words: `promised(${name}, ${part.words})`,
          isLive: true,
          show: () => promised(() => source.get().promise, views),
          text() {
            const { outcome, name } = source.peek();
            if (outcome !== 'rejected') return `[${name}${part.text()}]`;
            if (!isCaught) fail();
            return `no ${name}`;
          },
        };
      }
      case 16: {
        const part = inner();
        return {
          words: `record(${number}, ${part.words})`,
          show: () => () => markup`<abbr ${{ title: `t${value.get()}` }}>${part.show()}</abbr>`,
          text: () => `[t${value.peek()}:${part.text()}]`,
        };
      }
      case 17: {
        const part = inner();
        const label = () => `p${value.get()}`;
        return {
          words: `element(${number}, ${part.words})`,
          show: () => markup`<composed-part ${{ tree: part, label }}></composed-part>`,
          text: () => `{[p${value.peek()}]${part.text()}}`,
        };
      }
      case 18: {
        const part = inner();
        const [name, list] = this.list();
        const item = (item: number) => markup`<u>${item}</u>`;
        const items = () =>
          list
            .peek()
            .map(item => `[${item}]`)
            .join('');
        const shown: readonly [unknown: () => unknown, text: () => string][] = [
          [() => 'text', () => 'text'],
          [
            () =>
              each(
                () => list.get(),
                n => n,
                n => item(n()),
              ),
            items,
          ],
          [() => list.get().map(item), items],
          [() => inPlace(part), () => part.text()],
          [() => null, () => ''],
          [
            () =>
              region(
                () => inPlace(part),
                () => '(other)',
              ),
            () => {
              try {
                return part.text();
              } catch {
                return '(other)';
              }
            },
          ],
        ];
        return {
          words: `any(${number}, ${name}, ${part.words})`,
          show: () => () => shown[value.get()]![0](),
          text: () => shown[value.peek()]![1](),
        };
      }
      case 19: {
        const part = inner();
        const offer = () => `o${value.get()}`;
        return {
          words: `offers(${number}, ${part.words})`,
          show: () => markup`<composed-offer ${{ offer, tree: part }}></composed-offer>`,
          text() {
            const outer = offered;
            offered = `o${value.peek()}`;
            try {
              return `{${part.text()}}`;
            } finally {
              offered = outer;
            }
          },
        };
      }
      case 20: {
        const [name, list] = this.list();
        const part = inner();
        return {
          words: `leaving rows(${name}, ${part.words})`,
          isLive: true,
          show: () =>
            each(
              () => list.get(),
              item => item,
              item => markup`<u ${leaving(() => Promise.resolve())}>${() => item()}${part.show()}</u>`,
            ),
          text: () =>
            list
              .peek()
              .map(item => `[${item}${part.text()}]`)
              .join(''),
        };
      }
      case 21: {
        const part = inner();
        return {
          words: `handle(${part.words})`,
          show: () => {
            const box = handle();
            return markup`<b ${box}>${part.show()}</b>${() => box.element?.localName}`;
          },
          text: () => `[${part.text()}]b`,
        };
      }
      default: {
        const part = inner();
        const isLight = next(2) === 0;
        return {
          words: `${isLight ? 'light' : 'slotted'}(${number}, ${part.words})`,
          show: () =>
            isLight
              ? markup`<composed-light label=${() => value.get()}>${part.show()}</composed-light>`
              : markup`<composed-root label="${() => value.get()}">${part.show()}</composed-root>`,
          text: () => `{[${value.peek()}]${part.text()}}`,
        };
      }
    }
  }
}
