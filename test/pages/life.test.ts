/** What lives and dies: leaks, and two copies of the library on one page. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { contract, each, live, markup, matches, type Scope, settled, signal, text } from 'eltrix';
import { environment, leaves } from 'eltrix-tool/testing';
import { heard, inside } from './support.ts';

const outside = signal(0);
const chosen = signal(1);
const isChosen = matches(chosen);

class LeakCard extends contract('leak-card', {
  attributes: { name: text() },
  properties: { rows: live(() => [{ id: 1 }, { id: 2 }]) },
}) {
  view() {
    return markup`<p class=${() => isChosen(1) && 'chosen'}>${() => this.name} ${() => outside.get()}</p>${each(
      () => this.rows,
      row => row.id,
      row =>
        markup`<i onclick=${() => {}} class=${() => isChosen(row().id) && 'chosen'}>${() => row().id + outside.get()}</i>`,
    )}`;
  }
  connected(scope: Scope) {
    scope.on(document, 'leak-check', () => {});
    scope.every(1000, () => {});
    scope.effect(() => void outside.get());
  }
}
LeakCard.define();

const readers = (source: unknown) => {
  let count = 0;
  for (let link = (source as { targets?: { nextTarget: never } }).targets; link; link = link.nextTarget) count++;
  return count;
};

describe('leaks', () => {
  it('10,000 connections and disconnections leave no listener, timer or subscriber', async () => {
    const { setInterval: every, clearInterval: clear } = globalThis;
    const add = document.addEventListener;
    const remove = document.removeEventListener;
    let timers = 0;
    let listeners = 0;
    Object.assign(globalThis, {
      setInterval(...args: Parameters<typeof setInterval>) {
        timers++;
        return every(...args);
      },
      clearInterval(id: number) {
        timers--;
        clear(id);
      },
    });
    document.addEventListener = (...args: Parameters<typeof add>) => {
      listeners++;
      add.apply(document, args);
    };
    document.removeEventListener = (...args: Parameters<typeof remove>) => {
      listeners--;
      remove.apply(document, args);
    };
    try {
      const card = new LeakCard();
      for (let i = 0; i < 10_000; i++) {
        document.body.append(card);
        card.remove();
      }
      assert.deepEqual([timers, listeners], [0, 0]);
      assert.deepEqual([readers(outside), readers(chosen)], [0, 0]);
      document.body.append(card);
      assert.equal(inside(card, 'p').className, 'chosen');
      card.rows.push({ id: 3 });
      outside.set(outside.peek() + 1);
      await settled();
      assert.equal(card.shadowRoot!.querySelectorAll('i').length, 3);
      const count = readers(outside);
      card.rows.length = 1;
      await settled();
      assert.equal(readers(outside), count - 2);
      card.remove();
    } finally {
      Object.assign(globalThis, { setInterval: every, clearInterval: clear });
      document.addEventListener = add;
      document.removeEventListener = remove;
    }
  });

  it('1,000 dropped elements are collected', async t => {
    const collect = (globalThis as { gc?: () => void }).gc;
    if (!collect) return t.skip('this engine cannot be told to collect');
    const refs: WeakRef<object>[] = [];
    (() => {
      for (let i = 0; i < 1000; i++) {
        const card = new LeakCard();
        document.body.append(card);
        refs.push(new WeakRef(card));
        card.remove();
      }
    })();
    outside.set(outside.peek() + 1);
    await settled();
    const alive = () => refs.filter(ref => ref.deref()).length;
    for (let i = 0; i < 20 && alive() > 0; i++) {
      await new Promise(resolve => setTimeout(resolve, 10));
      collect();
    }
    // The engine's own stack may hold one of them by chance.
    assert.ok(alive() <= 1, `${alive()} are alive`);
  });
});

describe('two copies of the library', () => {
  it('share signals and markup, and nest', async () => {
    type Library = typeof import('eltrix');
    // Each copy of the library listens for errors as it is loaded.
    leaves('listeners');
    const load = (copy: string) => {
      const folder = environment.project.replace(/project\/$/, `project~${copy}/`);
      return import(/* @vite-ignore */ `${folder}packages/eltrix/dist/development/index.js`) as Promise<Library>;
    };
    const [a, b] = await Promise.all([load('a'), load('b')]);
    assert.notEqual(a.signal, b.signal);
    const count = a.signal(1);
    const double = b.computed(() => count.get() * 2);
    const { errors, warnings } = await heard(async () => {
      class CopyInner extends a.contract('copy-inner', {
        attributes: { n: a.integer() },
        events: { tick: a.event<number>() },
      }) {
        view() {
          return a.markup`<b>${() => this.n}</b>`;
        }
      }
      CopyInner.define();
      class CopyOuter extends b.contract('copy-outer', { attributes: { name: b.text() } }) {
        last = 0;
        view() {
          return b.markup`${() => a.markup`<i>${() => double.get()}</i>`}<copy-inner ${{ n: () => double.get() }} ontick=${(
            event: CustomEvent<number>,
          ) => {
            this.last = event.detail;
          }}></copy-inner>`;
        }
      }
      CopyOuter.define();
      const outer = new CopyOuter();
      document.body.append(outer);
      const inner = inside<CopyInner>(outer, 'copy-inner');
      assert.equal(inside(outer, 'i').textContent, '2');
      count.set(4);
      await a.settled();
      await b.settled();
      assert.equal(inside(outer, 'i').textContent, '8');
      assert.equal(inside(inner, 'b').textContent, '8');
      inner.emit('tick', 5);
      assert.equal(outer.last, 5);
      const followed: number[] = [];
      const stop = b.effect(() => void followed.push(inner.n));
      inner.setAttribute('n', '9');
      await b.settled();
      stop();
      assert.deepEqual(followed, [8, 9]);
      class CopyInnerAgain extends b.contract('copy-inner', {
        attributes: { n: b.integer() },
        events: { tick: b.event<number>() },
      }) {}
      Object.defineProperty(CopyInnerAgain, 'name', { value: 'CopyInner' });
      CopyInnerAgain.define();
      assert.equal(customElements.get('copy-inner'), CopyInner);
    });
    assert.deepEqual(errors, []);
    assert.deepEqual(warnings, [
      'Warning (tag-copy): <copy-inner>: a second copy of CopyInner was loaded; the first one stays in use. Load its module from one address; `npm ls` shows whether two versions are installed.',
    ]);
  });
});
