/** Random programs of hot replacement: after each new version an element shows its state as that version's view does. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, data, each, flag, integer, live, markup, type Scope, settled, signal, text } from 'eltrix';
import { environment, stage } from 'eltrix-tool/testing';
import { random } from '../support/random.ts';
import { production } from './support.ts';

/** What a version of the inner and of the outer element has. */
interface Version {
  readonly number: number;
  readonly hasLevel: boolean;
  readonly hasRows: boolean;
  readonly hasCount: boolean;
  readonly isLive: boolean;
}

/** Connections of each element that were not released. */
const connected = new Map<Element, string[]>();

function hooks(host: HTMLElement, version: Version, scope: Scope): void {
  const list = connected.get(host) ?? [];
  connected.set(host, list);
  const entry = `${version.number}`;
  list.push(entry);
  scope.use(() => list.splice(list.indexOf(entry), 1));
}

function define(tag: 'hot-inner' | 'hot-outer', version: Version): void {
  const { number, hasLevel, hasRows, hasCount, isLive } = version;
  const isInner = tag === 'hot-inner';
  const members = {
    attributes: {
      name: text(),
      ...(hasLevel && { level: integer(), wide: flag() }),
    },
    properties: { ...(hasRows && { rows: isLive ? live<number[]>(() => []) : data<number[]>(() => []) }) },
  };
  type Host = HTMLElement & {
    name: string;
    level?: number;
    wide?: boolean;
    rows?: number[];
    count?: { get(): number };
  };
  const line = (host: Host) =>
    [
      number,
      host.name,
      host.level,
      host.wide,
      hasRows ? host.rows!.join('+') : undefined,
      hasCount ? host.count?.get() : undefined,
    ]
      .map(String)
      .join(' ');
  const view = (host: Host) =>
    isInner
      ? markup`<p title=${() => line(host)}>${() => line(host)}</p><slot></slot>`
      : markup`<p title=${() => line(host)}>${() => line(host)}</p><ol>${each(
          () => (hasRows ? host.rows! : [0]),
          row => row,
          row =>
            markup`<li><hot-inner name=${() => `${host.name}${row()}`} ${{ rows: () => (hasRows ? host.rows : []) }}></hot-inner></li>`,
        )}</ol>`;
  class Plain extends contract(tag, { ...members, ...(isInner && { shadow: 'none' }) }) {
    connected(scope: Scope) {
      hooks(this as never, version, scope);
    }
    view() {
      return view(this as never);
    }
  }
  class Counted extends Plain {
    readonly count = signal(7);
  }
  (hasCount ? Counted : Plain).define();
}

const programs = 24;
const steps = 14;

it(`${programs} random programs of ${steps} changes`, {
  skip: (production || environment.engine === 'simulated') && 'nothing is replaced there',
}, async () => {
  Object.assign(globalThis, { [Symbol.for('eltrix.hot.1')]: true });
  let number = 0;
  const made = (next: (below: number) => number): Version => ({
    number: ++number,
    hasLevel: next(3) > 0,
    hasRows: next(4) > 0,
    hasCount: next(3) > 0,
    isLive: next(2) > 0,
  });
  for (let program = 0; program < programs; program++) {
    const next = random(program + 1);
    let inner = made(next);
    let outer = made(next);
    define('hot-inner', inner);
    define('hot-outer', outer);
    const page = await stage('<main></main>');
    const card = document.createElement('hot-outer') as HTMLElement & {
      rows: number[];
      count: { set(value: number): void };
    };
    page.append(card);
    // biome-ignore lint/suspicious/noExplicitAny: its class changes.
    const alone: any = document.createElement('hot-inner');
    alone.append('given');
    page.append(alone);
    const state = [card, alone].map(() => ({ name: '', level: '', wide: false, rows: [] as number[], count: 7 }));
    const done = [`outer ${JSON.stringify(outer)}, inner ${JSON.stringify(inner)}`];
    for (let step = 0; step < steps; step++) {
      const at = next(2);
      // biome-ignore lint/suspicious/noExplicitAny: its class changes.
      const host: any = [card, alone][at]!;
      const own = state[at]!;
      const version = at === 0 ? outer : inner;
      const what = next(9);
      if (what === 0) {
        own.name = `n${step}`;
        host.name = own.name;
      } else if (what === 1) {
        own.level = String(step);
        host.setAttribute('level', own.level);
      } else if (what === 2) {
        own.wide = !own.wide;
        host.toggleAttribute('wide');
      } else if (what === 3 && version.hasRows) {
        own.rows = [step, ...own.rows.slice(0, next(3))];
        host.rows = [...own.rows];
      } else if (what === 4 && version.hasRows && version.isLive) {
        own.rows.push(100 + step);
        host.rows.push(100 + step);
      } else if (what === 5 && version.hasCount) {
        own.count = step;
        host.count.set(step);
      } else if (what === 6) {
        if (host.isConnected) host.remove();
        else page.append(host);
      } else if (what > 6) {
        const version = made(next);
        done.push(`version ${JSON.stringify(version)}`);
        if (at === 0) outer = version;
        else inner = version;
        define(at === 0 ? 'hot-outer' : 'hot-inner', version);
      }
      done.push(`${what} of ${at}`);
      await settled();
      const journey = `program ${program}: ${done.join('; ')}`;
      const line = ({ number, hasLevel, hasRows, hasCount }: Version, of: (typeof state)[number]) =>
        [
          number,
          of.name,
          hasLevel ? Number(of.level) : undefined,
          hasLevel ? of.wide : undefined,
          hasRows ? of.rows.join('+') : undefined,
          hasCount ? of.count : undefined,
        ]
          .map(String)
          .join(' ');
      const [first, second] = [state[0]!, state[1]!];
      if (card.isConnected) {
        const shown = card.shadowRoot!.querySelector('p')!;
        const wanted = line(outer, first);
        assert.deepEqual(
          { journey, text: shown.textContent, title: shown.title },
          { journey, text: wanted, title: wanted },
        );
        const rows = outer.hasRows ? first.rows : [0];
        assert.deepEqual(
          { journey, rows: [...card.shadowRoot!.querySelectorAll('hot-inner')].map(({ textContent }) => textContent) },
          {
            journey,
            rows: rows.map(row =>
              line(inner, {
                name: `${first.name}${row}`,
                level: '',
                wide: false,
                rows: outer.hasRows ? first.rows : [],
                count: 7,
              }),
            ),
          },
        );
      }
      if (alone.isConnected)
        assert.deepEqual({ journey, alone: alone.textContent }, { journey, alone: `${line(inner, second)}given` });
      for (const [element, list] of connected)
        assert.deepEqual(
          { journey, tag: element.localName, list },
          {
            journey,
            tag: element.localName,
            list: element.isConnected ? [`${element.localName === 'hot-outer' ? outer.number : inner.number}`] : [],
          },
        );
    }
    page.remove();
    await settled();
    connected.clear();
  }
});
