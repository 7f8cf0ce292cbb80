/** Behaviours with the engines' own observers, and requests that hang, fail and come out of order. */
import assert from 'node:assert/strict';
import { afterEach, describe, it, mock } from 'node:test';
import { contract, effect, markup, settled, signal, stylesheet, text } from 'eltrix';
import {
  clock,
  lines,
  media,
  type RequestState,
  request,
  retry,
  serverEvents,
  shared,
  watchSize,
  watchTimings,
  watchTree,
  watchVisibility,
  watchVisibilityOf,
  within,
} from 'eltrix/behaviours';
import { environment, leaves, respond, stage, user } from 'eltrix-tool/testing';

/** Firefox lays nothing out in a page that is behind others; input brings it to the front. */
const toFront = () => (environment.engine === 'firefox' ? user.press('Shift') : undefined);

const until = async (what: () => unknown, ms = 8000): Promise<void> => {
  const end = performance.now() + ms;
  for (let tries = 1; !what(); tries++) {
    if (performance.now() > end) throw new Error(`never: ${what}`);
    await new Promise(resolve => setTimeout(resolve, 5));
    if (tries % 50 === 0) await toFront();
  }
};

let renders = 0;

class SizedBox extends contract('sized-box', { attributes: { name: text() } }) {
  static styleSheets = [stylesheet`:host { display: block; width: 120px } p { margin: 0 }`];
  size = watchSize(this);
  border = watchSize(this, { box: 'border' });
  count() {
    renders++;
    return this.name;
  }
  view() {
    return markup`<p>${() => `${this.size.get().width}/${this.border.get().width}`}</p><i>${() => this.count()}</i>`;
  }
}
SizedBox.define();

afterEach(() => mock.restoreAll());

describe('sizes', () => {
  it('update the expression that shows them, and are no longer observed without subscribers', async () => {
    const box = await stage<SizedBox>('<sized-box></sized-box>');
    box.style.padding = '10px';
    const shown = () => box.shadowRoot!.querySelector('p')!.textContent;
    await until(() => shown() === '120/140');
    renders = 0;
    box.style.width = '200px';
    await until(() => shown() === '200/220');
    assert.equal(renders, 0);
    const parent = box.parentElement!;
    box.remove();
    box.style.width = '90px';
    parent.append(box);
    await until(() => shown() === '90/110');
  });

  it('are shared by subscribers of the same element', async () => {
    const box = await stage<HTMLElement>('<div>Something to paint</div>');
    // WebKit makes no frame where nothing that is seen changes.
    box.style.background = 'beige';
    const told: string[][] = [[], []];
    const stops = told.map(list => {
      const size = watchSize(box);
      return effect(() => void list.push(`${size.get().width}`));
    });
    box.style.width = '50px';
    await until(() => told.every(list => list.at(-1) === '50'));
    stops[0]!();
    box.style.width = '60px';
    await until(() => told[1]!.at(-1) === '60');
    assert.equal(told[0]!.at(-1), '50');
    stops[1]!();
  });

  it('of many elements need one observer, without a loop warning', async () => {
    let made = 0;
    const Real = ResizeObserver;
    const errors: string[] = [];
    const hear = (event: ErrorEvent) => void errors.push(event.message);
    addEventListener('error', hear);
    globalThis.ResizeObserver = class extends Real {
      constructor(callback: ResizeObserverCallback) {
        super(callback);
        made++;
      }
    };
    try {
      const box = document.createElement('div');
      box.append(...Array.from({ length: 500 }, () => document.createElement('sized-box')));
      document.body.append(box);
      const last = box.lastElementChild as SizedBox;
      await until(() => last.shadowRoot!.querySelector('p')!.textContent === '120/120', 8000);
      assert.ok(made <= 2, `${made} observers`);
      box.remove();
    } finally {
      globalThis.ResizeObserver = Real;
      removeEventListener('error', hear);
    }
    assert.deepEqual(errors, []);
  });
});

describe('visibility', () => {
  it('is observed for an element in its scroller', async () => {
    // The policy of these pages lets no style attribute through.
    const scroller = await stage('<div><div></div><b>x</b></div>');
    Object.assign(scroller.style, { height: '100px', overflow: 'auto' });
    (scroller.firstElementChild as HTMLElement).style.height = '500px';
    const seen = watchVisibility(scroller.querySelector('b')!, { root: scroller });
    const values: boolean[] = [];
    const stop = effect(() => void values.push(seen.get().isVisible));
    await until(() => values.length > 0);
    scroller.scrollTop = 500;
    await until(() => values.at(-1) === true);
    scroller.scrollTop = 0;
    await until(() => values.at(-1) === false);
    stop();
  });

  it('is observed for each of a changing set', async () => {
    const list = await stage('<ul><li>a</li></ul>');
    const seen = watchVisibilityOf(list, 'li');
    const stop = effect(() => void seen.get());
    await until(() => seen.peek().get(list.firstElementChild!)?.isVisible);
    const second = document.createElement('li');
    second.textContent = 'b';
    list.append(second);
    await until(() => seen.peek().get(second)?.isVisible);
    second.remove();
    await until(() => !seen.peek().has(second));
    stop();
  });
});

/** Observed in a root that no script reaches. */
class ClosedRows extends contract('closed-rows', { shadow: { mode: 'closed' } }) {
  readonly rows = watchVisibilityOf(this, 'li');

  view() {
    return markup`<ul><li>a</li><li>b</li></ul>`;
  }
}
ClosedRows.define();

describe('the visibility of rows in a closed root', () => {
  it('is observed like that in an open one', {
    skip: environment.engine === 'simulated' && 'nothing is laid out',
  }, async () => {
    const host = await stage<ClosedRows>('<closed-rows></closed-rows>');
    const stop = effect(() => void host.rows.get());
    await until(() => [...host.rows.peek().values()].filter(({ isVisible }) => isVisible).length === 2);
    stop();
  });
});

describe('other watchers', () => {
  it('follow the light tree, media, timings and the clock', async () => {
    const box = await stage('<div><b>a</b></div>');
    const tree = watchTree(box);
    const wide = media('(min-width: 1px)');
    const time = clock(20);
    const timings = watchTimings(['measure', 'no-such-type']);
    const seen: unknown[] = [];
    const stop = effect(
      () => void seen.push([tree.get().children.length, wide.get(), time.get(), timings.get().length]),
    );
    box.append(document.createElement('i'));
    performance.measure('told');
    await until(() => tree.peek().children.length === 2 && timings.peek().some(({ name }) => name === 'told'));
    const before = time.peek();
    await until(() => time.peek() > before);
    assert.equal(wide.peek(), true);
    // The runner would report an interval that stays.
    stop();
  });
});

interface Call {
  readonly url: string;
  readonly signal: AbortSignal;
  answer(body: unknown, status?: number): void;
  fail(error: Error): void;
}

/** Requests that are answered by hand, in whatever order. */
function byHand(): Call[] {
  const calls: Call[] = [];
  mock.method(
    globalThis,
    'fetch',
    ((url: string, { signal }: { signal: AbortSignal }) =>
      new Promise((resolve, reject) => {
        signal.addEventListener('abort', () => reject(signal.reason));
        calls.push({
          url,
          signal,
          answer: (body, status = 200) => resolve(new Response(JSON.stringify(body), { status })),
          fail: reject,
        });
      })) as typeof fetch,
  );
  return calls;
}

class WeatherLine extends contract('weather-line', { attributes: { place: text() } }) {
  weather = request<{ sun: string }>(() => this.place && `/weather/${this.place}`, {
    send: shared,
    again: retry(1, { pause: 5 }),
  });
  view() {
    const { weather } = this;
    return markup`<p>${() => (weather.isPending ? 'asking ' : '') + (weather.value?.sun ?? 'nothing') + (weather.error ? ` ${weather.error.message}` : '')}</p>`;
  }
}
WeatherLine.define();

const textOf = (line: Element) => line.shadowRoot!.querySelector('p')!.textContent;

describe('requests', () => {
  it('show pending, value and error; the last good value stays', async () => {
    const calls = byHand();
    const line = await stage<WeatherLine>('<weather-line></weather-line>');
    assert.equal(textOf(line), 'nothing');
    line.place = 'orchard';
    await until(() => textOf(line) === 'asking nothing');
    calls[0]!.answer({ sun: 'bright' });
    await until(() => textOf(line) === 'bright');
    line.place = 'meadow';
    await until(() => calls.length === 2);
    calls[1]!.answer({}, 503);
    await until(() => calls.length === 3, 4000);
    assert.match(textOf(line)!, /^asking bright \/weather\/meadow answered with status 503/);
    calls[2]!.fail(new Error('no line'));
    await until(() => textOf(line) === 'bright no line');
    line.weather.again();
    await until(() => calls.length === 4);
    calls[3]!.answer({ sun: 'dim' });
    await until(() => textOf(line) === 'dim');
  });

  it('that are answered out of order show the answer to the last one', async () => {
    const calls = byHand();
    const line = await stage<WeatherLine>('<weather-line place="first"></weather-line>');
    await until(() => calls.length === 1);
    line.place = 'second';
    await until(() => calls.length === 2);
    assert.equal(calls[0]!.signal.aborted, true);
    calls[1]!.answer({ sun: 'second' });
    calls[0]!.answer({ sun: 'first' });
    await until(() => textOf(line) === 'second');
  });

  it('that are equal are sent once, and aborted with the last subscriber', async () => {
    const calls = byHand();
    const box = await stage(
      '<div><weather-line place="a"></weather-line><weather-line place="a"></weather-line></div>',
    );
    await until(() => calls.length === 1);
    await settled();
    assert.equal(calls.length, 1);
    box.firstElementChild!.remove();
    assert.equal(calls[0]!.signal.aborted, false);
    box.lastElementChild!.remove();
    assert.equal(calls[0]!.signal.aborted, true);
  });

  it('that are equal get a copy of the answer each; another header or body makes them different', async () => {
    const calls = byHand();
    const ask = (init: RequestInit) => request<number>(() => '/same', { send: shared, ...init });
    const asked = [{}, {}, { headers: { accept: 'a' } }, { headers: new Headers({ accept: 'b' }) }, { body: 'x' }].map(
      init => ask(init),
    );
    const stop = effect(() => asked.forEach(({ value }) => void value));
    await until(() => calls.length === 4);
    for (const [i, call] of calls.entries()) call.answer(i);
    await until(() => asked.every(one => one.peek().status === 200 && !one.peek().isPending));
    assert.deepEqual(
      asked.map(one => one.peek().value),
      [0, 0, 1, 2, 3],
    );
    asked[0]!.again();
    await until(() => calls.length === 5);
    stop();
  });

  it('that fail are retried after doubled delays, then at their interval', () => {
    const failed = new Error('no');
    const again = retry(2, { pause: 10, every: 1000 });
    assert.deepEqual(
      [0, 1, 2, 3, 4, 5].map(tries => again(failed, tries, 500)),
      [10, 20, 1000, 10, 20, 1000],
    );
    assert.equal(again(undefined, 0, 200), 1000);
    assert.equal(retry(1)(undefined, 0, 200), undefined);
  });

  it('are neither retried nor polled without subscribers', async () => {
    const calls = byHand();
    const left = request(() => '/left', { again: () => 5 });
    const stop = effect(() => void left.value);
    await until(() => calls.length === 1);
    stop();
    left.again();
    await settled();
    assert.equal(calls.length, 1);
  });

  it('end with the error of an `again` that throws, and keep their value', async () => {
    for (const status of [200, 500]) {
      const calls = byHand();
      let asked = 0;
      const own = request<number>(() => '/own', {
        again: () => {
          asked++;
          throw new Error('no plan');
        },
      });
      const stop = effect(() => void own.get());
      await until(() => calls.length === 1);
      calls[0]!.answer(7, status);
      await until(() => own.peek().error);
      const { value, error, isPending } = own.peek();
      assert.deepEqual(
        [value, error!.message, isPending, asked],
        [status === 200 ? 7 : undefined, 'no plan', false, 1],
      );
      stop();
    }
  });

  it('that hang are aborted', async () => {
    byHand();
    const slow = request(() => '/slow', { send: within(20) });
    let state: RequestState<unknown> | undefined;
    const stop = effect(() => void (state = slow.get()));
    await until(() => state?.error);
    assert.match(state!.error!.message, /gave no answer in 20 ms/);
    stop();
  });

  it('poll, and carry a status', async () => {
    const calls = byHand();
    const poll = request<number>(() => '/count', { again: () => 5 });
    const seen: unknown[] = [];
    const stop = effect(() => void seen.push(poll.status, poll.error?.message));
    for (let i = 0; i < 3; i++) {
      await until(() => calls.length === i + 1);
      calls[i]!.answer(i, i === 1 ? 404 : 200);
    }
    await until(() => poll.peek().value === 2);
    assert.ok(seen.includes(404) && seen.includes('/count answered with status 404.'));
    stop();
  });

  it('read streams of lines and of events as they come', async () => {
    const body = (parts: string[]) =>
      new ReadableStream({
        async start(controller) {
          for (const part of parts) controller.enqueue(new TextEncoder().encode(part));
          controller.close();
        },
      });
    mock.method(
      globalThis,
      'fetch',
      (async (url: string) =>
        new Response(
          body(url === '/lines' ? ['a\nb', 'c\n', 'd'] : [':hi\n\ndata: 1\n', '\nevent: bee\ndata: x\ndata: y\n\n']),
        )) as unknown as typeof fetch,
    );
    const read = request<string[]>(() => '/lines', { as: lines });
    const events = request(() => '/events', { as: serverEvents });
    const stop = effect(() => void [read.value, events.value]);
    await until(() => read.peek().status === 200 && events.peek().status === 200);
    assert.deepEqual(read.peek().value, ['a', 'bc', 'd']);
    assert.deepEqual(events.peek().value, [
      { type: 'message', data: '1', id: '' },
      { type: 'bee', data: 'x\ny', id: '' },
    ]);
    stop();
  });

  it('work over the network', async t => {
    if (environment.engine === 'simulated') return t.skip('nothing answers there');
    const file = request(() => `${environment.project}package.json`, { as: answer => answer.text() });
    const stop = effect(() => void file.value);
    await until(() => file.peek().value);
    assert.match(file.peek().value!, /"name": "eltrix-workspace"/);
    stop();
  });
});

leaves('globals');

describe('combinations of behaviours', () => {
  it('sizes are physical, also in vertical writing modes', async () => {
    const box = await stage<SizedBox>('<sized-box></sized-box>');
    // As an attribute the page's policy refuses it.
    Object.assign(box.style, { writingMode: 'vertical-rl', height: '30px' });
    await until(() => box.size.get().height === 30);
    assert.equal(box.shadowRoot!.querySelector('p')!.textContent, '120/120');
  });

  it('options of a watched tree add to the default ones', async () => {
    const host = await stage('<div><p>a</p></div>');
    const tree = watchTree(host, { attributeOldValue: true });
    const seen: (string | null)[] = [];
    const stop = effect(() => void seen.push(...tree.get().records.map(({ oldValue, type }) => `${type} ${oldValue}`)));
    host.firstElementChild!.setAttribute('title', 'x');
    host.append('more');
    await until(() => seen.length === 2);
    assert.deepEqual(seen, ['attributes null', 'childList null']);
    stop();
  });

  it('a request has its source and its error, and recovers with a valid URL', async () => {
    const place = signal<{ name: string } | undefined>(undefined);
    respond(/\/a$/, 'A');
    respond(/\/b$/, () => new Response('no such place', { status: 404 }));
    const statuses: number[] = [];
    const asked = request(() => `/${place.get()!.name}`, {
      as: answer => answer.text(),
      again: (_, __, status) => void statuses.push(status),
    });
    const states: RequestState<string>[] = [];
    const stop = effect(() => void states.push(asked.get()));
    await until(() => asked.peek().error instanceof TypeError);
    place.set({ name: 'a' });
    await until(() => asked.peek().value === 'A' && !asked.peek().isPending);
    assert.match(asked.peek().from!, /^\/a$/);
    assert.equal(asked.peek().error, undefined);
    place.set({ name: 'b' });
    await until(() => asked.peek().error !== undefined && !asked.peek().isPending);
    const { value, from, error, status } = asked.peek();
    assert.deepEqual([value, from, status], ['A', '/a', 404]);
    assert.equal(await error!.answer!.text(), 'no such place');
    assert.deepEqual(statuses, [200, 404]);
    stop();
  });

  it('lines that arrive together are one list', async () => {
    let told = 0;
    const text = Array.from({ length: 5000 }, (_, line) => `line ${line}`).join('\n');
    const all = await lines(new Response(text), () => void told++);
    assert.equal(all.length, 5000);
    assert.ok(told < 50, `${told} lists`);
  });
});
