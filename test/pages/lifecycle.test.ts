import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import {
  contract,
  data,
  effect,
  event,
  handle,
  integer,
  markup,
  type Scope,
  settled,
  signal,
  stylesheet,
  text,
} from 'eltrix';
import { environment } from 'eltrix-tool/testing';
import { heard, html, inside, messages, put } from './support.ts';

let log: string[] = [];
const take = () => log.splice(0).join(' ');

class LifeLog extends contract('life-log', {
  attributes: { name: text(), size: integer() },
  properties: { extra: data(() => '') },
}) {
  readonly box = handle();
  view() {
    log.push('view');
    return markup`<i ${this.box}>${() => this.name}</i><slot></slot>`;
  }
  assembled() {
    log.push(`assembled:${this.box.element?.localName}`);
  }
  connected() {
    log.push(`connected:${inside(this, 'i').textContent}`);
  }
  disconnected() {
    log.push('disconnected');
  }
  adopted(from: Document, to: Document) {
    log.push(`adopted:${from === to}`);
  }
  attributeChanged(name: string, before: string | null, after: string | null) {
    const value = (this as unknown as Record<string, unknown>)[name];
    log.push(`${name}:${before}>${after}=${value}`);
  }
}
LifeLog.define();

/** How an element comes into the page, and the calls in order: the table of docs/lifecycle.md. */
const ways: Record<string, { make: () => Node; calls: string }> = {
  'innerHTML and the parser': {
    make: () => {
      put('<life-log name="a"></life-log>');
      return document.createDocumentFragment();
    },
    calls: 'name:null>a=a view assembled:i connected:a',
  },
  createElement: {
    make: () => {
      const element = document.createElement('life-log');
      element.setAttribute('name', 'a');
      return element;
    },
    calls: 'name:null>a=a view assembled:i connected:a',
  },
  new: { make: () => new LifeLog(), calls: 'view assembled:i connected:' },
  cloneNode: {
    make: () => {
      const source = document.createElement('life-log');
      source.setAttribute('name', 'a');
      log = [];
      return source.cloneNode(true);
    },
    calls: 'name:null>a=a view assembled:i connected:a',
  },
  importNode: {
    make: () => {
      const template = document.createElement('template');
      template.innerHTML = html('<life-log name="a"></life-log>');
      return document.importNode(template.content, true);
    },
    calls: 'name:null>a=a view assembled:i connected:a',
  },
};

describe('lifecycle', () => {
  for (const [way, { make, calls }] of Object.entries(ways)) {
    it(`by ${way}`, () => {
      log = [];
      document.body.append(make());
      assert.equal(take(), calls);
    });
  }

  it('by upgrade, with properties set before', () => {
    const early = document.createElement('life-late') as LifeLog;
    early.setAttribute('name', 'markup');
    Object.assign(early, { name: 'early', size: 4, extra: 'x' });
    document.body.append(early);
    log = [];
    class LifeLate extends contract('life-late', {}, LifeLog) {}
    LifeLate.define();
    assert.equal(take(), 'name:null>early=early size:null>4=4 view assembled:i connected:early');
    assert.equal(early.outerHTML, '<life-late name="early" size="4"></life-late>');
    assert.equal(early.extra, 'x');
  });

  it('by upgrade while disconnected: early properties are reported in a microtask', async () => {
    const early = document.createElement('life-apart');
    Object.assign(early, { size: 4 });
    class LifeApart extends contract('life-apart', {}, LifeLog) {}
    LifeApart.define();
    log = [];
    customElements.upgrade(early);
    await null;
    assert.equal(take(), 'size:null>4=4');
  });

  it('disconnecting and reconnecting, twice in a task, and into another document', () => {
    const element = new LifeLog();
    const host = document.createElement('div');
    document.body.append(host);
    host.append(element);
    log = [];
    element.remove();
    element.name = 'b';
    host.append(element);
    host.append(element);
    assert.equal(take(), 'disconnected name:null>b=b connected:b disconnected connected:b');
    const frame = document.createElement('iframe');
    frame.src = `${environment.project}../blank`;
    document.body.append(frame);
    frame.contentDocument!.body.append(element);
    assert.equal(take(), 'disconnected adopted:false connected:b');
  });

  it('a sheet is constructed again for another document', async () => {
    class SheetMove extends contract('sheet-move', {}) {
      static styleSheets = [stylesheet`i { color: rgb(1, 2, 3) }`];
      view() {
        return markup`<i>x</i>`;
      }
    }
    SheetMove.define();
    const frame = document.createElement('iframe');
    frame.src = `${environment.project}../blank`;
    document.body.append(frame);
    await new Promise(resolve => frame.addEventListener('load', resolve, { once: true }));
    const element = new SheetMove();
    document.body.append(element);
    const first = element.shadowRoot!.adoptedStyleSheets[0];
    const there = frame.contentDocument!;
    there.body.append(element);
    assert.equal(there.defaultView!.getComputedStyle(inside(element, 'i')).color, 'rgb(1, 2, 3)');
    assert.notEqual(element.shadowRoot!.adoptedStyleSheets[0], first);
    document.body.append(element);
    assert.equal(element.shadowRoot!.adoptedStyleSheets[0], first);
    assert.equal(getComputedStyle(inside(element, 'i')).color, 'rgb(1, 2, 3)');
  });

  it('moveBefore calls moved, or disconnects and connects', () => {
    class MoveKnow extends contract('move-know', {}, LifeLog) {
      moved() {
        log.push('moved');
      }
    }
    MoveKnow.define();
    const body = document.body as HTMLElement & { moveBefore?(node: Node, child: Node | null): void };
    const knows = new MoveKnow();
    const plain = new LifeLog();
    body.append(knows, plain);
    log = [];
    if (!body.moveBefore) return;
    body.moveBefore(knows, body.firstChild);
    assert.equal(take(), 'moved');
    body.moveBefore(plain, body.firstChild);
    assert.equal(take(), 'disconnected connected:');
  });

  it('disconnecting in a hook, and defining nested elements in any order', () => {
    class GoAway extends contract('go-away', {}) {
      view() {
        return markup`<p>x</p>`;
      }
      connected() {
        log.push('in');
        this.remove();
      }
      disconnected() {
        log.push('out');
      }
    }
    GoAway.define();
    log = [];
    document.body.append(new GoAway());
    assert.equal(take(), 'in out');
    put('<nest-outer></nest-outer>');
    class NestInner extends contract('nest-inner', { attributes: { n: integer() } }) {
      view() {
        return markup`<b>${() => this.n}</b>`;
      }
    }
    class NestOuter extends contract('nest-outer', {}) {
      view() {
        return markup`<nest-inner n="4"></nest-inner>`;
      }
    }
    NestOuter.define();
    NestInner.define();
    assert.equal(inside(inside(document.querySelector('nest-outer')!, 'nest-inner'), 'b').textContent, '4');
  });

  it('hooks of every class in the chain are called, parent first, without super', () => {
    class ChainA extends contract('chain-a', {}) {
      connected() {
        log.push('A');
      }
    }
    class ChainB extends contract('chain-b', {}, ChainA) {
      override connected() {
        log.push('B');
      }
    }
    ChainB.define();
    log = [];
    document.body.append(new ChainB());
    assert.equal(take(), 'A B');
  });

  it('a callback of the platform may be overridden, and pass on three arguments', async () => {
    const given: string[] = [];
    class LifePassing extends contract('life-passing', { attributes: { name: text() } }) {
      static override observedAttributes = [...super.observedAttributes, 'data-own'];
      override attributeChangedCallback(name: string, before: string | null, after: string | null): void {
        super.attributeChangedCallback(name, before, after);
        given.push(`${name} ${after}`);
      }
      attributeChanged(name: string, _before: string | null, after: string | null): void {
        given.push(`hook ${name} ${after}`);
      }
      view() {
        return markup`<b>${() => this.name}</b>`;
      }
    }
    LifePassing.define();
    const passing = put('<life-passing name="a" data-own="1"></life-passing>') as LifePassing;
    passing.name = 'b';
    await settled();
    assert.equal(inside(passing, 'b').textContent, 'b');
    assert.deepEqual(given, ['hook name a', 'name a', 'data-own 1', 'hook name b', 'name b']);
  });

  it('an exception in one hook leaves neighbours and later updates working', async () => {
    class BadHook extends contract('bad-hook', { attributes: { name: text() } }) {
      view() {
        return markup`<p>${() => this.name}</p>`;
      }
      connected() {
        throw new Error('in connected');
      }
      attributeChanged() {
        throw new Error('in attributeChanged');
      }
    }
    BadHook.define();
    const { errors } = await heard(() =>
      put('<div><bad-hook name="a"></bad-hook><life-log name="b"></life-log></div>'),
    );
    assert.deepEqual(messages(errors), ['in attributeChanged', 'in connected']);
    const bad = document.querySelector('bad-hook')! as BadHook;
    assert.equal(inside(bad, 'p').textContent, 'a');
    assert.equal(inside(bad.nextElementSibling!, 'i').textContent, 'b');
    await heard(() => void (bad.name = 'c'));
    assert.equal(inside(bad, 'p').textContent, 'c');
  });

  it('releases resources of the scope, last first, and takes them again', async () => {
    let ticks = 0;
    const source = signal(0);
    class ScopeUser extends contract('scope-user', { events: { ping: event() } }) {
      heard = 0;
      aborted: AbortSignal | undefined;
      connected(scope: Scope) {
        this.aborted = scope.signal;
        scope.on(document, 'ping', this.count);
        scope.every(1, () => ticks++);
        scope.after(1, () => ticks++);
        scope.frame(() => ticks++);
        scope.effect(() => void log.push(`effect ${source.get()}`));
        scope.use(() => log.push('function'));
        scope.use({ dispose: () => log.push('dispose') });
        scope.use(() => {
          throw new Error('cannot give back');
        });
      }
      count() {
        this.heard++;
      }
    }
    ScopeUser.define();
    const element = new ScopeUser();
    log = [];
    const { errors } = await heard(() => {
      for (let i = 0; i < 2; i++) {
        document.body.append(element);
        document.dispatchEvent(new Event('ping'));
        element.remove();
        document.dispatchEvent(new Event('ping'));
      }
    });
    assert.deepEqual(messages(errors), ['cannot give back', 'cannot give back']);
    assert.equal(element.heard, 2);
    assert.equal(element.aborted!.aborted, true);
    source.set(1);
    await settled();
    assert.equal(take(), 'effect 0 dispose function effect 0 dispose function');
    ticks = 0;
    await new Promise(resolve => setTimeout(resolve, 20));
    assert.equal(ticks, 0);
  });

  it('a disconnected element is not updated, and is up to date before connected is called', async () => {
    const outside = signal('one');
    let runs = 0;
    const read = (text: string) => {
      runs++;
      return text;
    };
    class FarReader extends contract('far-reader', { attributes: { name: text() } }) {
      seen = '';
      view() {
        return markup`<p>${() => read(`${outside.get()} ${this.name}`)}</p>`;
      }
      connected() {
        this.seen = inside(this, 'p').textContent!;
      }
    }
    FarReader.define();
    const element = new FarReader();
    document.body.append(element);
    element.remove();
    runs = 0;
    outside.set('two');
    element.name = 'new';
    await settled();
    assert.equal(runs, 0);
    assert.equal((outside as unknown as { targets: unknown }).targets, undefined);
    document.body.append(element);
    assert.equal(element.seen, 'two new');
    outside.set('three');
    await settled();
    assert.equal(inside(element, 'p').textContent, 'three new');
  });

  it('effects around an element follow its properties', async () => {
    const element = new LifeLog();
    const seen: string[] = [];
    const stop = effect(() => void seen.push(element.name));
    element.name = 'x';
    await settled();
    element.setAttribute('name', 'y');
    await settled();
    stop();
    assert.deepEqual(seen, ['', 'x', 'y']);
  });
});
