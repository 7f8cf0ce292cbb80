/** Stores: readers, history, storage that is full or corrupt, other tabs. */
import assert from 'node:assert/strict';
import { afterEach, describe, it, mock } from 'node:test';
import { effect, settled } from 'eltrix';
import { autosave, followTabs, history, type StoreProblem, store } from 'eltrix/store';
import { environment, leaves } from 'eltrix-tool/testing';
import { production } from './support.ts';

interface Ledger {
  readonly jars: number;
  readonly notes: readonly string[];
}

const made = () =>
  store({ jars: 0, notes: [] } as Ledger, {
    fill: (state, count: number) => ({ ...state, jars: state.jars + count }),
    note: (state, text: string) => ({ ...state, notes: [...state.notes, text] }),
    spoil: () => {
      throw new RangeError('no');
    },
    nothing: () => undefined,
  });

leaves('storage');
afterEach(() => {
  mock.restoreAll();
  localStorage.clear();
  sessionStorage.clear();
});

describe('a store', () => {
  it('notifies only subscribers of changed fields', async () => {
    const ledger = made();
    const runs = { jars: 0, notes: 0, double: 0 };
    const count = (name: keyof typeof runs, _: unknown) => void runs[name]++;
    const double = ledger.select(({ jars }) => jars * 2);
    const stops = [
      effect(() => count('jars', ledger.state.jars)),
      effect(() => count('notes', ledger.state.notes)),
      effect(() => count('double', double.get())),
    ];
    ledger.change('fill', 3);
    await settled();
    assert.deepEqual(runs, { jars: 2, notes: 1, double: 2 });
    ledger.change('note', 'lime');
    await settled();
    assert.deepEqual(runs, { jars: 2, notes: 2, double: 2 });
    assert.deepEqual({ ...ledger.state }, { jars: 3, notes: ['lime'] });
    for (const stop of stops) stop();
  });

  it('dispatches events, and is unchanged after a change that throws', () => {
    const ledger = made();
    const heard: unknown[] = [];
    ledger.addEventListener('change', event =>
      heard.push((event as CustomEvent<{ name: string; args: unknown }>).detail),
    );
    ledger.change('fill', 2);
    const before = ledger.peek();
    assert.throws(() => ledger.change('spoil'), RangeError);
    ledger.change('nothing');
    assert.equal(ledger.peek(), before);
    assert.equal(heard.length, 1);
    assert.deepEqual((heard[0] as { args: unknown }).args, [2]);
    assert.throws(
      () => (ledger as unknown as { change(name: string): void }).change('fil'),
      production ? /change-unknown/ : /change-unknown.*fill, note/,
    );
    // What is shipped does not spend time on freezing.
    if (!production) assert.throws(() => ((ledger.peek() as { jars: number }).jars = 9), TypeError);
  });

  it('takes nothing but an object for a state, and has only the changes that it was given', () => {
    const loose = store(
      { jars: 1 } as object,
      {
        late: async () => ({ jars: 2 }),
        number: () => 3,
        none: () => null,
      } as unknown as Record<string, (state: object) => object>,
    );
    for (const name of ['late', 'number', 'none']) assert.throws(() => loose.change(name), /change-result/, name);
    assert.throws(() => loose.replace('text' as unknown as object, 'x'), /change-result/);
    for (const name of ['constructor', 'toString']) assert.throws(() => loose.change(name), /change-unknown/, name);
    assert.deepEqual(loose.peek(), { jars: 1 });
  });

  it('has fields that are tracked however they are asked for, and cannot be changed', async () => {
    const loose = store({ jars: 1 } as Record<string, number>, {
      add: (state, name: string) => ({ ...state, [name]: 1 }),
    });
    const seen: boolean[] = [];
    const stop = effect(() => void seen.push(Object.hasOwn(loose.state, 'lids')));
    loose.change('add', 'lids');
    await settled();
    assert.deepEqual(seen, [false, true]);
    assert.equal(Object.hasOwn(loose.state, 'toString'), false);
    assert.equal(Reflect.defineProperty(loose.state, 'jars', { value: 5 }), false);
    assert.equal(Reflect.deleteProperty(loose.state, 'jars'), false);
    assert.deepEqual({ ...loose.state }, { jars: 1, lids: 1 });
    stop();
  });

  it('goes back, forth, and to any entry; a new change drops undone ones', () => {
    const ledger = made();
    const past = history(ledger, { limit: 4, label: ({ name, args }) => `${name} ${args.join()}` });
    for (const count of [1, 2, 3]) ledger.change('fill', count);
    past.undo();
    past.undo();
    assert.equal(ledger.peek().jars, 1);
    past.redo();
    assert.equal(ledger.peek().jars, 3);
    ledger.change('fill', 10);
    assert.equal(past.canRedo, false);
    assert.deepEqual(
      past.peek().entries.map(({ label }) => label),
      ['begin', 'fill 1', 'fill 2', 'fill 10'],
    );
    ledger.change('fill', 1);
    assert.equal(past.peek().entries.length, 4, 'bounded');
    past.jump(0);
    assert.equal(ledger.peek().jars, 1);
    assert.throws(() => past.jump(9), /history-index/);
    past.stop();
  });
});

describe('autosave', () => {
  it('saves after a delay or at once on flush, and loads', async () => {
    for (const where of [
      'local',
      'session',
      ...(environment.engine === 'simulated' ? [] : (['indexed'] as const)),
    ] as const) {
      // A database stays until its profile goes.
      const key = crypto.randomUUID();
      const first = made();
      const saving = autosave(first, { key, in: where, after: 5 });
      await saving.ready;
      first.change('fill', 4);
      await saving.flush();
      await saving.stop();
      const second = made();
      const loading = autosave(second, { key, in: where });
      await loading.ready;
      assert.equal(second.peek().jars, 4, where);
      await loading.stop();
    }
  });

  it('migrates an earlier version', async () => {
    localStorage.setItem('ledger', JSON.stringify({ version: 1, state: { count: 7 } }));
    const ledger = made();
    const saving = autosave(ledger, {
      key: 'ledger',
      version: 2,
      migrate: saved => ({ jars: (saved as { count: number }).count, notes: [] }),
    });
    assert.equal(ledger.peek().jars, 7);
    await saving.stop();
  });

  const problems = (ledger: EventTarget): StoreProblem[] => {
    const found: StoreProblem[] = [];
    ledger.addEventListener('problem', event => {
      event.preventDefault();
      found.push((event as CustomEvent<StoreProblem>).detail);
    });
    return found;
  };

  it('keeps an unreadable state under another key', async () => {
    for (const [text, options] of [
      ['{ broken', {}],
      ['{"version":1,"state":{}}', { version: 2 }],
      ['[]', {}],
    ] as const) {
      localStorage.setItem('ledger', text);
      const ledger = made();
      const found = problems(ledger);
      const saving = autosave(ledger, { key: 'ledger', ...options });
      await Promise.resolve();
      assert.equal(found[0]?.code, 'saved-unreadable', text);
      assert.equal(localStorage.getItem('ledger.aside'), text);
      assert.equal(ledger.peek().jars, 0);
      await saving.stop();
    }
  });

  it('reports a full storage once, and continues in memory', async () => {
    const ledger = made();
    const found = problems(ledger);
    const saving = autosave(ledger, { key: 'ledger', after: 1 });
    mock.method(Storage.prototype, 'setItem', () => {
      throw new DOMException('full', 'QuotaExceededError');
    });
    ledger.change('fill', 1);
    await saving.flush();
    ledger.change('fill', 1);
    await saving.flush();
    assert.deepEqual(
      found.map(({ code }) => code),
      ['save-failed'],
    );
    assert.match(found[0]!.message, production ? /^save-failed$/ : /"ledger" cannot be saved: full/);
    assert.equal(ledger.peek().jars, 2);
    mock.restoreAll();
    ledger.change('fill', 1);
    await saving.stop();
    assert.equal((JSON.parse(localStorage.getItem('ledger')!) as { state: Ledger }).state.jars, 3);
  });

  it('saves when the page is closed', async () => {
    const ledger = made();
    const saving = autosave(ledger, { key: 'ledger', after: 10_000 });
    ledger.change('fill', 5);
    dispatchEvent(new Event('pagehide'));
    assert.match(localStorage.getItem('ledger')!, /"jars":5/);
    await saving.stop();
  });
});

describe('tabs', () => {
  it('follow each other; the later of two changes wins', async t => {
    if (typeof BroadcastChannel === 'undefined') return t.skip('there is no BroadcastChannel');
    const here = made();
    const there = made();
    const stops = [followTabs(here, 'ledger'), followTabs(there, 'ledger')];
    const told = new Promise(resolve => there.addEventListener('change', resolve, { once: true }));
    here.change('fill', 2);
    await told;
    assert.equal(there.peek().jars, 2);
    const back = new Promise(resolve => here.addEventListener('change', resolve, { once: true }));
    there.change('fill', 3);
    await back;
    assert.equal(here.peek().jars, 5);
    // Somebody else's message from before is not followed.
    const channel = new BroadcastChannel('eltrix.store.ledger');
    channel.postMessage({ state: { jars: 99, notes: [] }, at: 1, tab: 'z' });
    await new Promise(resolve => setTimeout(resolve, 30));
    assert.equal(here.peek().jars, 5);
    channel.close();
    for (const stop of stops) stop();
  });
});

describe('a store with history, storage and tabs', () => {
  it('keeps names of changes separate from the library’s', () => {
    const named = store(
      { count: 0 },
      {
        loaded: state => ({ count: state.count + 1 }),
        tab: state => ({ count: state.count + 1 }),
        history: state => ({ count: state.count + 1 }),
      },
    );
    const past = history(named);
    for (const name of ['loaded', 'tab', 'history'] as const) named.change(name);
    assert.deepEqual(
      past.peek().entries.map(({ label }) => label),
      ['begin', 'loaded', 'tab', 'history'],
    );
    past.undo();
    assert.equal(named.peek().count, 2);
  });

  it('continues after a rejected change inside a computed', () => {
    const ledger = made();
    const heard: string[] = [];
    ledger.addEventListener('change', ({ detail: { name, origin } }) => heard.push(`${origin} ${name}`));
    const bad = ledger.select(() => ledger.change('fill', 1));
    assert.throws(() => bad.get(), /set-in-computed/);
    assert.equal(ledger.peek().jars, 0);
    ledger.change('fill', 2);
    assert.deepEqual(heard, ['change fill']);
  });

  it('cannot undo a loaded state, nor a change of another tab', async t => {
    localStorage.setItem('past', JSON.stringify({ version: 1, state: { jars: 5, notes: [] } }));
    const ledger = made();
    const past = history(ledger);
    const saving = autosave(ledger, { key: 'past' });
    assert.equal(ledger.peek().jars, 5);
    assert.equal(past.canUndo, false);
    past.undo();
    assert.equal(ledger.peek().jars, 5);
    await saving.stop();
    if (typeof BroadcastChannel === 'undefined') return t.skip();
    ledger.change('fill', 1);
    ledger.replace({ jars: 9, notes: [] }, 'tab', 'tab');
    assert.equal(past.canUndo, false);
    past.stop();
  });

  it('applies changes made before a late load, adds missing fields, and rejects another shape', async () => {
    const keep = autosave(made(), { key: 'late', in: 'indexed', after: 0 });
    await keep.ready;
    const first = made();
    first.change('fill', 3);
    const saving = autosave(first, { key: 'late-2', in: 'indexed', after: 0 });
    first.change('fill', 4);
    await saving.flush();
    await saving.stop();
    await keep.stop();
    const second = made();
    const again = autosave(second, { key: 'late-2', in: 'indexed' });
    second.change('note', 'early');
    await again.ready;
    assert.deepEqual(second.peek(), { jars: 7, notes: ['early'] });
    await again.stop();

    localStorage.setItem('shape', JSON.stringify({ version: 1, state: { jars: 2 } }));
    const lacking = made();
    await autosave(lacking, { key: 'shape' }).stop();
    assert.deepEqual(lacking.peek(), { jars: 2, notes: [] });

    localStorage.setItem('shape', JSON.stringify({ version: 1, state: { jars: 'many' } }));
    const wrong = made();
    const isLedger = (state: unknown) => typeof (state as Ledger).jars === 'number';
    const saved = autosave(wrong, { key: 'shape', check: isLedger });
    // Who listens right after has not missed it.
    const problem = new Promise<StoreProblem>(resolve =>
      wrong.addEventListener('problem', event => {
        event.preventDefault();
        resolve(event.detail);
      }),
    );
    assert.equal((await problem).code, 'saved-unreadable');
    assert.equal(wrong.peek().jars, 0);
    await saved.stop();
  });

  it('leaves out an early change that fails on the loaded state, and waits for a save that is on its way', async t => {
    if (environment.engine === 'simulated') return t.skip('there is no database');
    const key = crypto.randomUUID();
    const strict = () =>
      store(
        { names: ['lime'] },
        {
          add: (state, name: string) => ({ names: [...state.names, name] }),
          remove(state, name: string) {
            if (!state.names.includes(name)) throw new RangeError(`There is no ${name}.`);
            return { names: state.names.filter(other => other !== name) };
          },
        },
      );
    const first = strict();
    const keeping = autosave(first, { key, in: 'indexed', after: 0 });
    await keeping.ready;
    first.change('remove', 'lime');
    await new Promise(resolve => setTimeout(resolve, 1));
    await keeping.flush();
    const second = strict();
    const found: string[] = [];
    second.addEventListener('problem', event => {
      event.preventDefault();
      found.push(event.detail.code);
    });
    const loading = autosave(second, { key, in: 'indexed' });
    second.change('remove', 'lime');
    second.change('add', 'heather');
    await loading.ready;
    await Promise.resolve();
    assert.deepEqual(second.peek(), { names: ['heather'] });
    assert.deepEqual(found, ['early-change']);
    await loading.stop();
    await keeping.stop();
  });

  it('waits in flush() for a save that has begun', async t => {
    if (environment.engine === 'simulated') return t.skip('there is no database');
    const underWay = new Set<IDBTransaction>();
    const { transaction } = IDBDatabase.prototype;
    mock.method(
      IDBDatabase.prototype,
      'transaction',
      function (this: IDBDatabase, ...args: Parameters<typeof transaction>) {
        const begun = transaction.apply(this, args);
        underWay.add(begun);
        begun.addEventListener('complete', () => underWay.delete(begun));
        return begun;
      },
    );
    const ledger = made();
    const saving = autosave(ledger, { key: crypto.randomUUID(), in: 'indexed', after: 0 });
    await saving.ready;
    ledger.change('fill', 1);
    const end = performance.now() + 5000;
    while (underWay.size === 0 && performance.now() < end) await new Promise(resolve => setTimeout(resolve));
    assert.equal(underWay.size, 1, 'the save has begun');
    await saving.flush();
    assert.equal(underWay.size, 0);
    await saving.stop();
  });

  it('reports a state that other tabs cannot get', async t => {
    if (typeof BroadcastChannel === 'undefined') return t.skip();
    const odd = store({ render: undefined } as { render: unknown }, { set: (_, render: unknown) => ({ render }) });
    const stop = followTabs(odd, 'odd');
    const found = new Promise<string>(resolve =>
      odd.addEventListener('problem', event => {
        event.preventDefault();
        resolve(event.detail.code);
      }),
    );
    odd.change('set', () => {});
    assert.equal(await found, 'tabs-failed');
    stop();
  });

  it('ignores tabs of another version', async t => {
    if (typeof BroadcastChannel === 'undefined') return t.skip();
    const [old, now] = [made(), made()];
    const stops = [followTabs(old, 'versions'), followTabs(now, 'versions', { version: 2 })];
    old.change('fill', 1);
    await new Promise(resolve => setTimeout(resolve, 50));
    assert.equal(now.peek().jars, 0);
    for (const stop of stops) stop();
  });
});
