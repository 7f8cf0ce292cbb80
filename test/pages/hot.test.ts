/** Hot replacement: an element that is defined again gets the new class on the same nodes. */
import assert from 'node:assert/strict';
import { afterEach, beforeEach, it } from 'node:test';
import { contract, data, flag, integer, markup, type Scope, settled, signal, stylesheet, text } from 'eltrix';
import { environment, stage } from 'eltrix-tool/testing';
import { production } from './support.ts';

const hot = Symbol.for('eltrix.hot.1');
const skip = production || environment.engine === 'simulated';
beforeEach(() => {
  Object.assign(globalThis, { [hot]: true });
});
afterEach(() => {
  Object.assign(globalThis, { [hot]: false });
});

const log: string[] = [];

/** The first version of an element, and what an author makes of it. */
function versions(tag: 'hot-card' | 'hot-new') {
  class First extends contract(tag, { attributes: { name: text() }, properties: { rows: data<number[]>(() => []) } }) {
    static styleSheets = [stylesheet`p { color: red }`];
    readonly #secret = 'one';
    readonly count = signal(0);
    label = 'a';

    connected(scope: Scope) {
      log.push('first connected');
      scope.use(() => void log.push('first released'));
    }

    view() {
      return markup`<p onclick=${this.press}>${() => `${this.name} ${this.rows.length} ${this.count.get()} ${this.#secret}`}</p><input><slot></slot>`;
    }

    press() {
      this.count.set(this.count.get() + 1);
    }
  }
  class Second extends contract(tag, {
    attributes: { name: text(), open: flag(), level: integer() },
    properties: { rows: data<number[]>(() => []) },
  }) {
    static styleSheets = [stylesheet`p { color: blue }`];
    readonly #secret = 'two';
    readonly count = signal(100);
    label = 'b';

    connected() {
      log.push('second connected');
    }

    view() {
      return markup`<p onclick=${this.press}>${() => `${this.name}! ${this.rows.length} ${this.count.get()} ${this.#secret} ${this.level} ${this.open}`}</p><input><slot></slot>`;
    }

    press() {
      this.count.set(this.count.get() + 10);
    }
  }
  return { First, Second };
}

it('gives existing elements the new class, and keeps node, properties, state, focus and content', async t => {
  if (skip) return t.skip();
  const { First, Second } = versions('hot-card');
  First.define();
  const card = await stage<InstanceType<typeof Second>>('<hot-card name="Rue"><b>content</b></hot-card>');
  card.rows = [1, 2];
  const paragraph = () => card.shadowRoot!.querySelector('p')!;
  const field = () => card.shadowRoot!.querySelector('input')!;
  paragraph().click();
  field().value = 'typed';
  field().focus();
  field().setSelectionRange(2, 3);
  card.label = 'changed';
  await settled();
  assert.equal(paragraph().textContent, 'Rue 2 1 one');
  log.length = 0;
  Second.define();
  assert.ok(card instanceof Second);
  assert.equal(paragraph().textContent, 'Rue! 2 1 two 0 false');
  assert.equal(getComputedStyle(paragraph()).color, 'rgb(0, 0, 255)');
  assert.deepEqual(log, ['first released', 'second connected']);
  assert.equal(card.label, 'changed');
  assert.equal(card.shadowRoot!.activeElement, field());
  assert.deepEqual([field().value, field().selectionStart, field().selectionEnd], ['typed', 2, 3]);
  paragraph().click();
  card.name = 'Ida';
  card.setAttribute('level', '7');
  card.toggleAttribute('open');
  await settled();
  assert.equal(paragraph().textContent, 'Ida! 2 11 two 7 true');
  assert.equal(card.querySelector('b')!.assignedSlot, card.shadowRoot!.querySelector('slot'));
});

it('keeps what was chosen and opened', async t => {
  if (skip) return t.skip();
  const version = (text: string) =>
    class extends contract('hot-chosen', {}) {
      view() {
        return markup`<p>${text}</p><select><option>a</option><option selected>b</option></select>
          <select multiple><option>a</option><option selected>b</option><option>c</option></select>
          <input type="checkbox" checked><input type="radio" name="r" checked><input type="radio" name="r"><details><summary>more</summary></details>`;
      }
    };
  version('one').define();
  const card = await stage('<hot-chosen></hot-chosen>');
  const root = card.shadowRoot!;
  const all = () => {
    const fields = [...root.querySelectorAll<HTMLInputElement | HTMLSelectElement>('input, select')];
    const chosen = fields.map(field =>
      'options' in field ? [...field.options].map(({ selected }) => selected).join() : field.checked,
    );
    return [root.querySelector('p')!.textContent, ...chosen, root.querySelector('details')!.open];
  };
  const [one, many] = root.querySelectorAll('select');
  one!.value = 'a';
  many!.options[2]!.selected = true;
  for (const box of root.querySelectorAll('input')) box.checked = !box.checked;
  root.querySelector('details')!.open = true;
  const before = all();
  version('two').define();
  assert.deepEqual(all(), ['two', ...before.slice(1)]);
  assert.deepEqual(before, ['one', 'true,false', 'false,true,true', false, false, true, true]);
});

it('creates new elements of the new class, by parser and script', async t => {
  if (skip) return t.skip();
  const { First, Second } = versions('hot-new');
  const early = document.createElement('hot-new');
  document.body.append(early);
  First.define();
  assert.ok(early instanceof First, 'one that waited is upgraded');
  assert.ok(new First() instanceof First);
  Second.define();
  const made = [
    new Second(),
    document.createElement('hot-new'),
    await stage<HTMLElement>('<hot-new></hot-new>'),
    early,
  ];
  for (const one of made) {
    assert.ok(one instanceof Second);
    assert.ok(one instanceof First, 'modules that have the old class');
    assert.equal(one.localName, 'hot-new');
  }
  early.remove();
});

it('replaces elements without a shadow root, and form-associated ones', async t => {
  if (skip) return t.skip();
  const make = (word: string) =>
    class extends contract('hot-light', { shadow: 'none', attributes: { name: text() } }) {
      view() {
        return markup`<i>${word}</i><slot></slot>`;
      }
    };
  const field = (word: string) =>
    class extends contract('hot-field', { form: true, attributes: { name: text() } }) {
      formValue() {
        return word;
      }
    };
  make('one').define();
  field('one').define();
  const form = await stage<HTMLFormElement>(
    '<form><hot-light><b>given</b></hot-light><hot-field name="f"></hot-field></form>',
  );
  const light = form.querySelector('hot-light')!;
  assert.equal(light.textContent, 'onegiven');
  make('two').define();
  field('two').define();
  assert.equal(light.textContent, 'twogiven');
  assert.equal(new FormData(form).get('f'), 'two');
});

it('leaves alone what only looks like a signal', async t => {
  if (skip) return t.skip();
  /** A cache, as packages have them. */
  class Cache {
    readonly calls: string[] = [];
    name?: string;
    get() {
      this.calls.push('get');
    }
    peek() {
      this.calls.push('peek');
    }
    set() {
      this.calls.push('set');
    }
  }
  const caches: Cache[] = [];
  const version = () =>
    class extends contract('hot-cache', {}) {
      readonly cache = new Cache();
      readonly count = signal(0);
      connected() {
        caches.push(this.cache);
      }
      view() {
        return markup`<p>${() => this.count.get()}</p>`;
      }
    };
  version().define();
  await stage('<hot-cache></hot-cache>');
  version().define();
  await settled();
  for (const { calls, name } of caches) assert.deepEqual([calls, name], [[], undefined]);
  assert.ok(caches.length > 1);
});
