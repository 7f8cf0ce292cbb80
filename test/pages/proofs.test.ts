/** What must not happen: rows that move for nothing, updates that stick, sheets left behind, elements that are kept alive. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { computed, contract, data, each, markup, type Scope, settled, signal, stylesheet, text } from 'eltrix';
import { clock, media, watchTree } from 'eltrix/behaviours';
import { ask, context, offer } from 'eltrix/context';
import { random } from '../support/random.ts';
import { heard, inside, put } from './support.ts';

const weight = context<string>('weight of a hive');

class MovesRows extends contract('moves-rows', { properties: { ids: data<number[]>(() => []) } }) {
  view() {
    return markup`<ul>${each(
      () => this.ids,
      id => id,
      id => markup`<li>${id}</li>`,
    )}</ul>`;
  }
}
MovesRows.define();

describe('a list', () => {
  const list = put<MovesRows>('<moves-rows></moves-rows>');
  const moved = async (ids: number[]) => {
    const records: MutationRecord[] = [];
    const observer = new MutationObserver(some => records.push(...some));
    observer.observe(inside(list, 'ul'), { childList: true });
    list.ids = ids;
    await settled();
    records.push(...observer.takeRecords());
    observer.disconnect();
    assert.equal(inside(list, 'ul').textContent, ids.join(''));
    return new Set(records.flatMap(({ addedNodes }) => [...addedNodes].map(node => node.textContent))).size;
  };

  it('moves one of two swapped neighbours', async () => {
    await moved([1, 2, 3, 4, 5]);
    assert.equal(await moved([1, 3, 2, 4, 5]), 1);
    assert.equal(await moved([3, 1, 2, 4, 5]), 1);
    assert.equal(await moved([3, 1, 2, 5, 4]), 1);
    assert.equal(await moved([4, 1, 2, 5, 3]), 2);
  });

  it('moves the minimum of rows in 300 random orders', async () => {
    const next = random(7);
    let before = Array.from({ length: 9 }, (_, i) => i + 1);
    await moved(before);
    for (let i = 0; i < 300; i++) {
      const now = before.toSorted(() => next(3) - 1);
      // A longest increasing subsequence stays.
      const at = now.map(id => before.indexOf(id));
      const longest: number[] = [];
      for (const [k, index] of at.entries()) longest[k] = 1 + Math.max(0, ...longest.filter((_, j) => at[j]! < index));
      assert.equal(await moved(now), now.length - Math.max(...longest), `${before} to ${now}`);
      before = now;
    }
  });
});

describe('updates', () => {
  it('continue after the page’s queueMicrotask failed once', async () => {
    class GoesOn extends contract('goes-on', { attributes: { name: text() } }) {
      view() {
        return markup`<p>${() => this.name}</p><b>${() => shared.get()}</b>`;
      }
    }
    const shared = signal('a');
    GoesOn.define();
    const element = put<GoesOn>('<goes-on></goes-on>');
    const { queueMicrotask } = globalThis;
    globalThis.queueMicrotask = () => {
      throw new Error('patched');
    };
    await heard(() => {
      for (const change of [() => shared.set('b'), () => (element.name = 'b')])
        try {
          change();
        } catch {
          // The page's own function has failed.
        }
      globalThis.queueMicrotask = queueMicrotask;
    });
    shared.set('c');
    element.name = 'c';
    await settled();
    assert.equal(element.shadowRoot!.textContent, 'cc');
  });

  it('reach a computed after it lost its subscribers', async () => {
    const narrow = media('(max-width: 1px)');
    const tree = watchTree(document.body, { childList: true });
    const now = clock(1000);
    const derived = computed(() => [narrow.get(), tree.get().children.length, now.get()].join());
    class ReadsOutside extends contract('reads-outside', {}) {
      view() {
        return markup`<p>${() => derived.get()}</p>`;
      }
    }
    ReadsOutside.define();
    const element = put<ReadsOutside>('<reads-outside></reads-outside>');
    const parent = element.parentElement!;
    element.remove();
    await new Promise(resolve => setTimeout(resolve, 20));
    parent.append(element);
    assert.equal(inside(element, 'p').textContent, [narrow.get(), tree.get().children.length, now.get()].join());
    element.remove();
  });
});

describe('a move that keeps state', { skip: !('moveBefore' in document.body) && 'this engine has none' }, () => {
  it('keeps the style sheets and context of an element without a shadow root', async () => {
    class MovesLight extends contract('moves-light', { shadow: 'none' }) {
      static styleSheets = [stylesheet`:host { color: rgb(9, 8, 7) }`];
      moved() {}
      view() {
        return markup`<i>x</i>`;
      }
    }
    MovesLight.define();
    const roots = [0, 1].map(() => {
      const host = document.createElement('div');
      document.body.append(host);
      return host.attachShadow({ mode: 'open' });
    });
    const element = new MovesLight();
    roots[0]!.append(element);
    roots[1]!.moveBefore(element, null);
    assert.equal(getComputedStyle(element).color, 'rgb(9, 8, 7)');
    assert.equal(roots[0]!.adoptedStyleSheets.length, 0);

    class OffersWeight extends contract('offers-weight', { attributes: { weight: text() }, shadow: 'none' }) {
      connected(scope: Scope) {
        scope.use(
          offer(
            this,
            weight,
            computed(() => this.weight),
          ),
        );
      }
    }
    class AsksWeight extends contract('asks-weight', {}) {
      readonly weight = ask(this, weight);
      moved() {}
      view() {
        return markup`<p>${() => this.weight.get()}</p>`;
      }
    }
    OffersWeight.define();
    AsksWeight.define();
    put(
      '<div><offers-weight weight="1"><asks-weight></asks-weight></offers-weight><offers-weight weight="2"></offers-weight></div>',
    );
    const [, second] = document.querySelectorAll<HTMLElement>('offers-weight');
    const asks = document.querySelector('asks-weight')!;
    await settled();
    assert.equal(inside(asks, 'p').textContent, '1');
    second!.moveBefore(asks, null);
    await settled();
    assert.equal(inside(asks, 'p').textContent, '2');
    asks.parentElement!.parentElement!.remove();
  });
});

describe('an element that was never connected', () => {
  it('is not kept alive by dependencies of its validity', async t => {
    const collect = (globalThis as { gc?: () => void }).gc;
    if (!collect) return t.skip('this engine cannot be told to collect');
    const most = signal(9);
    class HoldsNothing extends contract('holds-nothing', { attributes: { name: text() }, form: true }) {
      validate() {
        return most.get() > 10 ? { flags: { customError: true }, message: 'Too many.' } : null;
      }
    }
    HoldsNothing.define();
    const refs: WeakRef<object>[] = [];
    (() => {
      for (let i = 0; i < 200; i++) {
        const element = new HoldsNothing();
        assert.equal(element.validity.valid, true);
        refs.push(new WeakRef(element));
      }
    })();
    most.set(8);
    const alive = () => refs.filter(ref => ref.deref()).length;
    for (let i = 0; i < 30 && alive() > 1; i++) {
      await new Promise(resolve => setTimeout(resolve, 10));
      collect();
    }
    assert.ok(alive() <= 1, `${alive()} are alive`);
  });

  it('releases a listener that was called once', async () => {
    const target = new EventTarget();
    let removed = 0;
    const remove = target.removeEventListener.bind(target);
    target.removeEventListener = (...args: Parameters<EventTarget['removeEventListener']>) => {
      removed++;
      remove(...args);
    };
    class ListensOnce extends contract('listens-once', {}) {
      connected(scope: Scope) {
        for (let i = 0; i < 20; i++) scope.on(target, 'ping', () => {}, { once: true });
      }
    }
    ListensOnce.define();
    const element = put<ListensOnce>('<listens-once></listens-once>');
    target.dispatchEvent(new Event('ping'));
    removed = 0;
    element.remove();
    assert.equal(removed, 0, 'nothing is left to take off');
  });
});
