/** Context by the community's protocol, among elements of whatever make; and configuration that a page writes. */
import assert from 'node:assert/strict';
import { afterEach, describe, it, mock } from 'node:test';
import {
  choice,
  computed,
  contract,
  data,
  effect,
  flag,
  integer,
  markup,
  type Scope,
  type Signal,
  settled,
  signal,
  text,
} from 'eltrix';
import { ask, context, offer, readConfiguration } from 'eltrix/context';
import { store } from 'eltrix/store';
import { stage } from 'eltrix-tool/testing';
import { tells } from './support.ts';

const apiary = context<string>('apiary');

class ApiaryRoom extends contract('apiary-room', { attributes: { name: text() } }) {
  name_ = signal('');
  connected(scope: Scope) {
    scope.effect(() => this.name_.set(this.name));
    scope.use(offer(this, apiary, this.name_));
  }
  view() {
    return markup`<slot></slot>`;
  }
}

class ApiaryGuest extends contract('apiary-guest', {}) {
  apiary = ask(this, apiary);
  view() {
    return markup`<p>${() => this.apiary.get() ?? 'nowhere'}</p>`;
  }
}

ApiaryRoom.define();
ApiaryGuest.define();

const shown = (guest: Element) => guest.shadowRoot!.querySelector('p')!.textContent;

afterEach(() => mock.restoreAll());

describe('context', () => {
  it('comes from the nearest provider, follows changes and moves, and ends', async () => {
    const outer = await stage<ApiaryRoom>(
      '<apiary-room name="Thistlecombe"><apiary-room name="Inner"><apiary-guest></apiary-guest></apiary-room></apiary-room>',
    );
    const [inner, guest] = [outer.querySelector('apiary-room')!, outer.querySelector('apiary-guest')!];
    assert.equal(shown(guest), 'Inner');
    inner.setAttribute('name', 'Changed');
    await settled();
    assert.equal(shown(guest), 'Changed');
    outer.append(guest);
    await settled();
    assert.equal(shown(guest), 'Thistlecombe');
    outer.parentElement!.append(guest);
    await settled();
    assert.equal(shown(guest), 'nowhere');
  });

  it('comes from later and nearer providers', async () => {
    const outer = await stage('<div><section><apiary-guest></apiary-guest></section></div>');
    const guest = outer.querySelector('apiary-guest')!;
    assert.equal(shown(guest), 'nowhere');
    const stop = offer(outer, apiary, 'late');
    await settled();
    assert.equal(shown(guest), 'late');
    const nearer = offer(outer.firstElementChild!, apiary, 'nearer');
    await settled();
    assert.equal(shown(guest), 'nearer');
    nearer();
    stop();
  });

  it('gives on as it is what only looks like a signal: a store, a list that is read from its end', async () => {
    class Stack {
      readonly items = ['Rosemary'];
      get() {
        return this.items.pop();
      }
      peek() {
        return this.items.at(-1);
      }
    }
    const stack = new Stack();
    const shelf = store({ jars: 3 }, { fill: ({ jars }) => ({ jars: jars + 1 }) });
    const theme = signal('light');
    const [stacks, shelves, themes] = [
      context<Stack>('stack'),
      context<typeof shelf>('shelf'),
      context<Signal<string>>('theme'),
    ];
    class OfferedThings extends contract('offered-things', {}) {
      readonly stack = ask(this, stacks);
      readonly shelf = ask(this, shelves);
      readonly theme = ask(this, themes);
      view() {
        return markup`<p>${() => this.stack.get()?.items.length} ${() => this.shelf.get()?.state.jars} ${() => this.theme.get()?.get()}</p>`;
      }
    }
    OfferedThings.define();
    const host = await stage('<div><section></section></div>');
    offer(host, stacks, stack);
    offer(host, shelves, shelf);
    // A signal whose value is a signal.
    offer(
      host,
      themes,
      computed(() => theme),
    );
    const guest = new OfferedThings();
    host.firstElementChild!.append(guest);
    assert.equal(shown(guest), '1 3 light');
    assert.equal(guest.shelf.get(), shelf);
    shelf.change('fill');
    guest.theme.get()!.set('dark');
    await settled();
    assert.equal(shown(guest), '1 4 dark');
    assert.deepEqual(stack.items, ['Rosemary']);
  });

  it('does not depend on signals that the provider reads', async () => {
    const box = await stage('<div></div>');
    const inner = signal('inner');
    box.addEventListener('context-request', event => {
      inner.get();
      (event as Event & { callback: (value: string) => void }).callback('fixed');
    });
    // The first who reads is in whose evaluation the question is asked.
    box.append(document.createElement('b'));
    const asked = ask(box.firstElementChild!, apiary);
    let runs = 0;
    const stop = effect(() => {
      runs++;
      asked.get();
    });
    inner.set('changed');
    await settled();
    assert.equal(asked.peek(), 'fixed');
    assert.equal(runs, 1);
    stop();
  });

  it('works with other implementations of the protocol', async () => {
    const room = await stage<ApiaryRoom>('<apiary-room name="Open"><b></b></apiary-room>');
    const values: string[] = [];
    let stop: (() => void) | undefined;
    const event = Object.assign(new Event('context-request', { bubbles: true, composed: true }), {
      context: apiary,
      subscribe: true,
      callback: (value: string, end: () => void) => {
        values.push(value);
        stop = end;
      },
    });
    room.firstElementChild!.dispatchEvent(event);
    room.name = 'Closed';
    await settled();
    await settled();
    assert.deepEqual(values, ['Open', 'Closed']);
    stop!();
    room.name = 'Gone';
    await settled();
    assert.equal(values.length, 2);

    const box = await stage('<div></div>');
    box.addEventListener('context-request', event => {
      const { context, callback } = event as Event & { context?: unknown; callback?: (value: string) => void };
      if (context !== apiary) return;
      event.stopPropagation();
      callback!('by hand');
    });
    const guest = document.createElement('apiary-guest');
    box.append(guest);
    await settled();
    assert.equal(shown(guest), 'by hand');
  });
});

class SetCard extends contract('set-card', {
  attributes: { apiUrl: text(), count: integer() },
  properties: { names: data<readonly string[]>(() => []) },
}) {
  read: string[] = [];
  connected() {
    this.read = readConfiguration(this);
  }
}
SetCard.define();

describe('configuration', () => {
  it('is read from JSON and data attributes, in any case style', async () => {
    for (const key of ['api-url', 'apiUrl', 'api_url']) {
      const card = await stage<SetCard>(
        `<set-card><script type="application/json">{ "${key}": "/x", "names": ["Rosemary"], "count": 3 }</script></set-card>`,
      );
      assert.deepEqual([card.apiUrl, card.names, card.count], ['/x', ['Rosemary'], 3]);
    }
    const outer = await stage(
      '<div data-api-url="/far" data-count="4"><section data-api-url="/near"><set-card count="9"></set-card></section></div>',
    );
    const card = outer.querySelector('set-card') as SetCard;
    assert.deepEqual([card.apiUrl, card.count], ['/near', 9]);
  });

  it('reports unknown keys, and reads the rest', async () => {
    const told: string[] = [];
    mock.method(globalThis, 'reportError', (error: Error) => void told.push(error.message));
    const card = await stage<SetCard>(
      '<set-card><script type="application/json">{ "api_uri": "/x", "count": 2 }</script></set-card>',
    );
    assert.equal(card.count, 2);
    tells(
      told[0],
      /\(configuration-key\): <set-card>: "api_uri" .* looked for as "apiuri"\. There are apiUrl or api-url/,
    );
    await stage('<set-card><script type="application/json">{ oops }</script></set-card>');
    tells(told[1], /\(configuration-json\)/);
  });
});

it('a subscription may end in its first call', () => {
  const [host, asker] = [document.createElement('div'), document.createElement('p')];
  host.append(asker);
  const end = offer(host, apiary, signal('x'));
  const values: unknown[] = [];
  asker.dispatchEvent(
    Object.assign(new Event('context-request', { bubbles: true, composed: true }), {
      context: apiary,
      contextTarget: asker,
      subscribe: true,
      callback(value: unknown, stop: () => void) {
        values.push(value);
        stop();
      },
    }),
  );
  assert.deepEqual(values, ['x']);
  end();
});

it('requesters use the next provider when one ends', async () => {
  const outer = await stage<ApiaryRoom>(
    '<apiary-room name="Outer"><div><apiary-guest></apiary-guest></div></apiary-room>',
  );
  const [middle, guest] = [outer.querySelector('div')!, outer.querySelector('apiary-guest')!];
  assert.equal(shown(guest), 'Outer');
  const end = offer(middle, apiary, 'Middle');
  await settled();
  assert.equal(shown(guest), 'Middle');
  end();
  await settled();
  assert.equal(shown(guest), 'Outer');
  const own = document.createElement('div');
  outer.parentElement!.append(own);
  const last = offer(own, apiary, 'Last');
  own.append(guest);
  await settled();
  assert.equal(shown(guest), 'Last');
  last();
  await settled();
  assert.equal(shown(guest), 'nowhere');
});

class ShopItem extends contract('shop-item', {
  attributes: {
    soldOut: flag(),
    count: integer({ default: 3 }),
    size: choice(['small', 'large'], { invalid: 'small', missing: 'small' }),
    name: text(),
  },
}) {
  read: string[] = [];
  connected() {
    this.read = readConfiguration(this);
  }
}
ShopItem.define();

it('configuration that does not fit its property is reported, and an empty flag is true', async () => {
  const messages: string[] = [];
  const listen = (event: ErrorEvent) => {
    event.preventDefault();
    messages.push((event.error as Error).message);
  };
  addEventListener('error', listen);
  const fine = await stage<ShopItem>(
    '<shop-item data-sold-out="" data-count="7" data-size="large" data-name="12"></shop-item>',
  );
  assert.deepEqual([fine.soldOut, fine.count, fine.size, fine.name], [true, 7, 'large', '12']);
  const off = await stage<ShopItem>('<shop-item data-sold-out="false"></shop-item>');
  assert.equal(off.soldOut, false);
  assert.deepEqual(messages, []);
  const bad = await stage<ShopItem>(
    '<shop-item data-count="many" data-size="huge" data-sold-out="perhaps"></shop-item>',
  );
  removeEventListener('error', listen);
  assert.deepEqual([bad.soldOut, bad.count, bad.size], [false, 3, 'small']);
  assert.equal(messages.length, 3);
  for (const message of messages) assert.match(message, /configuration-value/);
});
