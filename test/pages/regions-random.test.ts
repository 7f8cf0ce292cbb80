/** Random trees of regions whose parts fail and recover: what shows depends on the present values alone. */
import assert from 'node:assert/strict';
import { afterEach, it } from 'node:test';
import { batch, contract, each, integer, markup, type Signal, settled, signal } from 'eltrix';
import { handleErrors, region } from 'eltrix/views';
import { random } from '../support/random.ts';

/** A part of a view: text, markup with parts, a list, a nested element, or a region. */
type Part =
  | { readonly kind: 'text'; readonly name: string; readonly fails: Signal<boolean>; readonly value: Signal<number> }
  | { readonly kind: 'branch'; readonly on: Signal<boolean>; readonly parts: readonly Part[] }
  | { readonly kind: 'rows'; readonly keys: Signal<readonly number[]>; readonly bad: Signal<number> }
  | { readonly kind: 'element'; readonly inner: Part }
  | { readonly kind: 'level'; readonly level: Signal<number> }
  | {
      readonly kind: 'region';
      readonly name: string;
      readonly viewFails: Signal<boolean>;
      readonly fallbackFails: Signal<boolean>;
      readonly parts: readonly Part[];
    };

/** What an element inside shows. It is set before the element is connected. */
class RegionInner extends contract('region-inner', {}) {
  content: Part | undefined;

  view() {
    return markup`${this.content && show(this.content)}`;
  }
}
RegionInner.define();

/** Shows only its own attribute, so that a build gives it no graph. */
class RegionLevel extends contract('region-level', { attributes: { level: integer() } }) {
  view() {
    // Of 3 it fails.
    return markup`<s>${() => 'x'.repeat(2 - this.level)}</s>`;
  }
}
RegionLevel.define();

function show(part: Part): unknown {
  switch (part.kind) {
    case 'text':
      return markup`<i title=${() => `t${part.value.get()}`}>${() => {
        if (part.fails.get()) throw new Error(part.name);
        return `${part.name}${part.value.get()}`;
      }}</i>`;
    case 'branch':
      return markup`<b>${() => part.on.get() && markup`${part.parts.map(show)}`}</b>`;
    case 'rows':
      return markup`<ul>${each(
        () => part.keys.get(),
        key => key,
        key =>
          markup`<li>${() => {
            if (part.bad.get() === key()) throw new Error(`row ${key()}`);
            return key();
          }}</li>`,
      )}</ul>`;
    case 'element':
      return markup`<region-inner ${{ content: part.inner }}></region-inner>`;
    case 'level':
      return markup`<region-level level=${() => part.level.get()}></region-level>`;
    default:
      return region(
        () => {
          if (part.viewFails.get()) throw new Error(part.name);
          return markup`<u>${part.parts.map(show)}</u>`;
        },
        () => {
          if (part.fallbackFails.get()) throw new Error(`fallback of ${part.name}`);
          return `(${part.name})`;
        },
      );
  }
}

/** The text that shows; null if it fails to the outside. */
function expected(part: Part): string | null {
  const joined = (parts: readonly Part[]) => {
    const texts = parts.map(expected);
    return texts.includes(null) ? null : texts.join('');
  };
  switch (part.kind) {
    case 'text':
      return part.fails.peek() ? null : `${part.name}${part.value.peek()}`;
    case 'branch':
      return part.on.peek() ? joined(part.parts) : '';
    case 'rows':
      return part.keys.peek().includes(part.bad.peek()) ? null : part.keys.peek().join('');
    case 'level':
      return part.level.peek() > 2 ? null : 'x'.repeat(2 - part.level.peek());
    case 'element':
      return expected(part.inner);
    default: {
      const inside = part.viewFails.peek() ? null : joined(part.parts);
      if (inside !== null) return inside;
      return part.fallbackFails.peek() ? null : `(${part.name})`;
    }
  }
}

/** The tree in words, for messages. */
function structure(part: Part): string {
  if (part.kind === 'text') return part.name;
  if (part.kind === 'rows' || part.kind === 'level') return part.kind;
  if (part.kind === 'element') return `<${structure(part.inner)}>`;
  return `${part.kind === 'branch' ? 'if' : part.name}(${part.parts.map(structure).join(' ')})`;
}

const programs = 250;
const steps = 14;
let made = 0;

function part(
  next: (below: number) => number,
  depth: number,
  all: ((next: (below: number) => number) => string)[],
): Part {
  const name = `p${made++}`;
  const flagOf = (what: string, start: boolean) => {
    const flag = signal(start);
    all.push(() => {
      flag.set(!flag.peek());
      return `${what} ${flag.peek()}`;
    });
    return flag;
  };
  const parts = () => Array.from({ length: 1 + next(3) }, () => part(next, depth - 1, all));
  const what = depth === 0 ? next(2) * 2 : next(7);
  if (what === 1) return { kind: 'branch', on: flagOf(`${name} on`, next(2) === 0), parts: parts() };
  if (what === 2 && depth < 3) {
    const keys = signal<readonly number[]>([1, 2, 3]);
    const bad = signal(0);
    all.push(next => {
      keys.set([1, 2, 3, 4].filter(() => next(3) > 0).sort(() => next(3) - 1));
      return `${name} rows ${keys.peek()}`;
    });
    all.push(next => {
      bad.set(next(5));
      return `${name} bad row ${bad.peek()}`;
    });
    return { kind: 'rows', keys, bad };
  }
  if (what === 6) {
    const level = signal(0);
    all.push(next => {
      level.set(next(4));
      return `${name} level ${level.peek()}`;
    });
    return { kind: 'level', level };
  }
  if (what === 3) return { kind: 'element', inner: part(next, depth - 1, all) };
  if (what > 3)
    return {
      kind: 'region',
      name,
      viewFails: flagOf(`view of ${name} fails`, next(6) === 0),
      fallbackFails: flagOf(`fallback of ${name} fails`, false),
      parts: parts(),
    };
  const value = signal(0);
  all.push(() => {
    value.set(value.peek() + 1);
    return `${name} counts`;
  });
  return { kind: 'text', name, fails: flagOf(`${name} fails`, next(8) === 0), value };
}

function textOf(node: Node): string {
  if (node instanceof RegionInner || node instanceof RegionLevel) return textOf(node.shadowRoot!);
  return node instanceof Text ? node.data : [...node.childNodes].map(textOf).join('');
}

let stop = () => {};
afterEach(() => stop());

it(`${programs} random programs of ${steps} changes`, async () => {
  stop = handleErrors(() => true);
  for (let program = 0; program < programs; program++) {
    const next = random(program + 1);
    const changes: ((next: (below: number) => number) => string)[] = [];
    // The outermost region never fails, so what it shows is known.
    const inside = [part(next, 3, changes), part(next, 2, changes)];
    const whole: Part = {
      kind: 'region',
      name: 'whole',
      viewFails: signal(false),
      fallbackFails: signal(false),
      parts: inside,
    };
    const element = new RegionInner();
    element.content = whole;
    const done: string[] = [];
    document.body.append(element);
    for (let step = 0; step <= steps; step++) {
      await settled();
      assert.equal(
        textOf(element.shadowRoot!).trim(),
        expected(whole),
        `program ${program}, ${structure(whole)}: ${done.join('; ')}`,
      );
      const count = 1 + next(2);
      // Some changes come while it is away.
      const isAway = next(6) === 0;
      if (isAway) {
        done.push('away');
        element.remove();
      }
      batch(() => {
        for (let i = 0; i < count; i++) done.push(changes[next(changes.length)]!(next));
      });
      if (isAway) {
        await settled();
        document.body.append(element);
        done.push('back');
      }
    }
    element.remove();
  }
});
