/** Two features at once: each pair worked alone and failed together. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import {
  batch,
  choice,
  contract,
  custom,
  data,
  each,
  handle,
  json,
  live,
  type Markup,
  markup,
  on,
  plain,
  type Scope,
  settled,
  signal,
  sync,
  text,
} from 'eltrix';
import { heard, html, messages, place, put } from './support.ts';

const type = (field: HTMLInputElement, value: string) => {
  field.value = value;
  field.dispatchEvent(new Event('input'));
};

describe('markup that an outer live expression renders again', () => {
  it('synchronizes a field with its signal, and accepts another signal', async () => {
    const [first, second, outer] = [signal('a'), signal('x'), signal(0)];
    const chosen = signal(first);
    const root = place(() => markup`${() => markup`<i>${outer.get()}</i><input ${sync(chosen.get())}>`}`);
    const field = root.querySelector('input')!;
    outer.set(1);
    await settled();
    assert.equal(root.querySelector('input'), field);
    assert.equal(field.value, 'a');
    type(field, 'b');
    assert.equal(first.peek(), 'b');
    chosen.set(second);
    await settled();
    assert.equal(field.value, 'x');
    type(field, 'y');
    assert.deepEqual([first.peek(), second.peek()], ['b', 'y']);
    first.set('c');
    await settled();
    assert.equal(field.value, 'y');
  });

  it('keeps a listener with options for another handler, and replaces it for another type', async () => {
    const heardOf: string[] = [];
    const outer = signal(0);
    const kind = signal('ping');
    const root = place(
      () =>
        markup`${() => {
          const count = outer.get();
          return markup`<b ${on(kind.get(), () => void heardOf.push(`${count}`), { passive: true })}></b>`;
        }}`,
    );
    const element = root.querySelector('b')!;
    element.dispatchEvent(new Event('ping'));
    const { errors } = await heard(() => outer.set(1));
    assert.deepEqual(errors, []);
    element.dispatchEvent(new Event('ping'));
    kind.set('pong');
    await settled();
    element.dispatchEvent(new Event('ping'));
    element.dispatchEvent(new Event('pong'));
    assert.deepEqual(heardOf, ['0', '1', '1']);
  });

  it('sets another handle, and clears the previous one', async () => {
    const [a, b] = [handle(), handle()];
    const first = signal(true);
    const root = place(() => markup`${() => markup`<p ${first.get() ? a : b}></p>`}`);
    assert.equal(a.element, root.querySelector('p'));
    first.set(false);
    await settled();
    assert.deepEqual([a.element, b.element], [null, root.querySelector('p')]);
  });

  it('changes from a record of properties to a listener and to nothing', async () => {
    const step = signal(0);
    let clicks = 0;
    const values = [{ title: 'one' }, on('click', () => void clicks++), null, { title: 'four' }];
    const root = place(() => markup`${() => markup`<p ${values[step.get()]}></p>`}`);
    const element = root.querySelector('p')!;
    assert.equal(element.title, 'one');
    for (const next of [1, 2]) {
      step.set(next);
      await settled();
      element.click();
    }
    assert.equal(clicks, 1);
    step.set(3);
    await settled();
    assert.equal(element.title, 'four');
  });

  it('shows a plain value in place of a live one that was queued', async () => {
    const [open, price] = [signal(true), signal(7)];
    const cell = (value: unknown) => markup`<td>${value}</td>`;
    const root = place(() => markup`${() => cell(open.get() ? () => price.get() : 'closed')}`);
    assert.equal(root.textContent, '7');
    batch(() => {
      open.set(false);
      price.set(0);
    });
    await settled();
    assert.equal(root.textContent, 'closed');
  });

  it('keeps a plain value in place of a live one while the element is away', async () => {
    const [open, price] = [signal(true), signal(7)];
    const cell = (value: unknown) => markup`<td class=${value} ${{ title: value }}>${value}</td>`;
    const root = place(() => markup`${() => cell(open.get() ? () => price.get() : 'closed')}`);
    open.set(false);
    await settled();
    const { host } = root;
    const parent = host.parentNode!;
    host.remove();
    parent.append(host);
    await settled();
    const { className, title, textContent } = root.querySelector('td')!;
    assert.deepEqual([className, title, textContent], ['closed', 'closed', 'closed']);
  });
});

describe('live data shown as a whole', () => {
  class LiveShown extends contract('live-shown', {
    properties: { notes: live<string[]>(() => ['a']), look: live<Record<string, unknown>>(() => ({ warm: true })) },
  }) {
    view(): Markup {
      return markup`<p class=${() => this.look}>${() => this.notes}</p><b class=${() => this.notes} style=${() => ({ ...this.look })}></b><i style=${() => this.look}></i><u title="${() => this.notes}!"></u>`;
    }
  }
  LiveShown.define();

  it('follows items and fields that change in place', async () => {
    const element = put<LiveShown>('<live-shown></live-shown>');
    const show = () =>
      [...element.shadowRoot!.querySelectorAll('p, b, u')].map(
        one => `${one.textContent}|${one.className || (one as HTMLElement).title}`,
      );
    assert.deepEqual(show(), ['a|warm', '|a', '|a!']);
    element.notes.push('b');
    element.look['cold'] = true;
    element.look['color'] = 'red';
    await settled();
    assert.deepEqual(show(), ['ab|warm cold color', '|a b', '|a,b!']);
    assert.equal(element.shadowRoot!.querySelector('i')!.style.color, 'red');
    element.notes[0] = 'z';
    await settled();
    assert.deepEqual(show(), ['zb|warm cold color', '|z b', '|z,b!']);
  });

  it('stores no proxy in assigned values', () => {
    class LiveHives extends contract('live-hives', {
      properties: {
        hives: live(() => [{ name: 'Rosemary' }, { name: 'Bramble' }]),
        chosen: live<{ name: string }[]>(() => []),
      },
    }) {}
    LiveHives.define();
    const element = new LiveHives();
    element.chosen = element.hives.filter(({ name }) => name !== 'Bramble');
    assert.ok(element.chosen.includes(element.chosen[0]!));
    assert.equal(element.chosen.indexOf(element.hives[0]!), 0);
    assert.deepEqual(structuredClone(plain(element.chosen)), [{ name: 'Rosemary' }]);
  });

  it('returns an object frozen later unchanged, and does not change prototypes', () => {
    class LiveDeep extends contract('live-deep', {
      properties: { tree: live(() => ({ inner: { size: 1 }, size: 2 })) },
    }) {}
    LiveDeep.define();
    const element = new LiveDeep();
    Object.freeze(plain(element.tree));
    assert.equal(element.tree.inner.size, 1);
    const other = new LiveDeep();
    const derived = Object.create(other.tree) as { size: number };
    derived.size = 9;
    assert.deepEqual([other.tree.size, derived.size], [2, 9]);
  });
});

describe('a list whose rows another script moved', () => {
  const list = (names: string) => {
    const items = signal([...names]);
    const root = place(
      () =>
        markup`<ul>${each(
          () => items.get(),
          name => name,
          name => markup`<li>${name}</li>`,
        )}</ul><ol></ol>`,
    );
    const ul = root.querySelector('ul')!;
    return {
      items,
      root,
      ul,
      shown: () => ul.textContent,
      row: (name: string) => [...root.querySelectorAll('li')].find(one => one.textContent === name)!,
    };
  };

  it('ends in the order of the data, and moves nothing that is there already', async () => {
    const { items, ul, shown, row } = list('abc');
    ul.append(row('b'));
    const observer = new MutationObserver(() => {});
    observer.observe(ul, { childList: true });
    items.set(['a', 'c', 'b']);
    await settled();
    assert.equal(shown(), 'acb');
    assert.equal(observer.takeRecords().length, 0);
    items.set(['b', 'a', 'c', 'd']);
    await settled();
    assert.equal(shown(), 'bacd');
  });

  it('is removed completely, wherever its rows are', async () => {
    const { items, ul, root, row } = list('abc');
    ul.append(row('b'));
    items.set([]);
    await settled();
    assert.equal(ul.querySelectorAll('li').length, 0);
    items.set(['a', 'b', 'c']);
    await settled();
    root.querySelector('ol')!.append(row('b'));
    items.set([]);
    await settled();
    assert.equal(root.querySelectorAll('li').length, 0);
    items.set(['x']);
    await settled();
    assert.equal(ul.textContent, 'x');
  });

  it('agrees with its data after random moves by hand and by data', async () => {
    let state = 7;
    const next = (below: number) => {
      state = (Math.imul(state, 1_103_515_245) + 12_345) & 0x7fffffff;
      return (state >>> 8) % below;
    };
    for (let round = 0; round < 300; round++) {
      const { items, ul, root } = list('abcdef'.slice(0, 1 + next(6)));
      for (let step = 0; step < 4; step++) {
        const rows = [...root.querySelectorAll('li')];
        const [row, before] = [rows[next(rows.length)], rows[next(rows.length)]];
        if (next(5) === 0 && row) root.querySelector('ol')!.append(row);
        else if (next(6) === 0) row?.remove();
        else if (row && row !== before) ul.insertBefore(row, next(2) && before?.parentNode === ul ? before : null);
        const wanted = [...'abcdef'].filter(() => next(2)).sort(() => next(3) - 1);
        items.set(wanted);
        await settled();
        assert.equal(ul.textContent, wanted.join(''), `round ${round}, step ${step}`);
        assert.equal(root.querySelector('ol')!.textContent, '', `round ${round}, step ${step}`);
      }
      (root.host as HTMLElement).remove();
    }
  });
});

describe('a form field that is defined later', () => {
  it('is synchronized with its signal after its definition', async () => {
    const value = signal('early');
    const root = place(() => markup`<late-field ${sync(value)}></late-field>`);
    const field = root.querySelector('late-field') as HTMLElement & { value: string };
    assert.equal(field.textContent, '');
    class LateField extends contract('late-field', { attributes: { value: text({ reflect: false }) } }) {}
    LateField.define();
    await customElements.whenDefined('late-field');
    await settled();
    assert.deepEqual([field.value, field.textContent], ['early', '']);
    field.value = 'typed';
    field.dispatchEvent(new Event('input'));
    assert.equal(value.peek(), 'typed');
    value.set('set');
    await settled();
    assert.equal(field.value, 'set');
  });
});

describe('addresses in attributes', () => {
  it('keep parameters named like character references', () => {
    const [q, region] = ['honey', 'south'];
    const root = place(
      () =>
        markup`<a href="/s?q=${q}&region=${region}&copy=${1}&param=${2}&timestamp=${3}&amp;not=${4}" title="&eacute;${q}&lt;">x</a>`,
    );
    const link = root.querySelector('a')!;
    assert.equal(link.getAttribute('href'), '/s?q=honey&region=south&copy=1&param=2&timestamp=3&not=4');
    assert.equal(link.title, 'éhoney<');
  });

  it('are checked and set as the same text', async () => {
    let asked = 0;
    const shifty = { toString: () => (asked++ === 0 ? 'https://example.org/' : 'javascript:globalThis.pwned = 1') };
    let root!: ShadowRoot;
    await heard(() => {
      root = place(() => markup`<a href=${shifty}>x</a><a href="${shifty}#">y</a><a ${{ href: shifty }}>z</a>`);
    });
    for (const link of root.querySelectorAll('a')) assert.doesNotMatch(link.getAttribute('href') ?? '', /javascript/);
  });

  it('are rejected in a script or a style of SVG', async () => {
    for (const view of [
      () => markup`<svg><script>${'globalThis.pwned = 1'}</script></svg>`,
      () => markup`<svg><style>${'* { color: red }'}</style></svg>`,
    ]) {
      const { errors } = await heard(() => place(view));
      assert.match(messages(errors).join(), /hole-in-(?:script|style)/);
    }
  });
});

describe('an element without a view', () => {
  it('shows its content, with any root', () => {
    class BareLight extends contract('bare-light', { shadow: 'none', properties: { items: data(() => []) } }) {}
    class BareShadow extends contract('bare-shadow', { attributes: { name: text() } }) {}
    BareLight.define();
    BareShadow.define();
    const [light, shadow] = [put('<bare-light><b>one</b></bare-light>'), put('<bare-shadow><b>two</b></bare-shadow>')];
    assert.equal(light.innerHTML, '<b>one</b>');
    assert.ok(shadow.querySelector('b')!.getClientRects().length > 0, 'it is shown');
  });
});

describe('hooks that move or remove their element', () => {
  it('an element that removes itself in assembled gets no connected', async () => {
    const calls: string[] = [];
    class LeavesEarly extends contract('leaves-early', {}) {
      view() {
        return markup`<p>here</p>`;
      }
      assembled() {
        calls.push('assembled');
        this.remove();
      }
      connected(scope: Scope) {
        calls.push('connected');
        scope.use(() => calls.push('ended'));
      }
      disconnected() {
        calls.push('disconnected');
      }
    }
    LeavesEarly.define();
    const element = new LeavesEarly();
    document.body.append(element);
    assert.deepEqual(calls, ['assembled']);
    document.body.append(element);
    assert.deepEqual(calls, ['assembled', 'connected']);
    element.remove();
    assert.deepEqual(calls, ['assembled', 'connected', 'ended', 'disconnected']);
  });

  it('an element that moves itself in connected has one scope at a time', () => {
    const calls: string[] = [];
    let moves = 0;
    class Restless extends contract('rest-less', {}) {
      connected(scope: Scope) {
        const at = ++moves;
        calls.push(`connected ${at}`);
        scope.use(() => calls.push(`ended ${at}`));
        if (at === 1) document.body.prepend(this);
      }
    }
    class MoreRestless extends Restless {
      override connected() {
        calls.push('child');
      }
    }
    MoreRestless.define('more-restless');
    const element = new MoreRestless();
    document.body.append(element);
    assert.deepEqual(calls, ['connected 1', 'ended 1', 'connected 2', 'child']);
    element.remove();
    assert.deepEqual(calls.slice(4), ['ended 2']);
  });

  it('a live expression that removes its element leaves no dependency', async () => {
    const gone = signal(false);
    const other = signal(0);
    let runs = 0;
    class RemovesItself extends contract('removes-itself', {}) {
      view() {
        return markup`<p>${() => {
          runs++;
          if (gone.get()) this.remove();
          return other.get();
        }}</p>`;
      }
    }
    RemovesItself.define();
    document.body.append(new RemovesItself());
    gone.set(true);
    await settled();
    const before = runs;
    other.set(1);
    await settled();
    assert.equal(runs, before);
  });
});

describe('an element that is first connected in another document', () => {
  it('has form values and states there', async () => {
    const frame = document.createElement('iframe');
    document.body.append(frame);
    class AbroadField extends contract('abroad-field', {
      form: true,
      states: { ripe: 'It is ripe.' },
      attributes: { value: text() },
    }) {
      formValue() {
        return this.value;
      }
    }
    AbroadField.define();
    const element = new AbroadField();
    element.setAttribute('name', 'where');
    element.value = 'abroad';
    const inner = frame.contentDocument!;
    const form = inner.createElement('form');
    inner.body.append(form);
    form.append(element);
    element.states.add('ripe');
    assert.equal(element.form, form);
    assert.equal(element.validity.valid, true);
    assert.equal(element.states.has('ripe'), true);
    const { FormData: Entries } = frame.contentWindow as Window & typeof globalThis;
    assert.equal(new Entries(form).get('where'), 'abroad');
    frame.remove();
  });
});

describe('values that throw', () => {
  it('keep the last assigned value', () => {
    class DatedNote extends contract('dated-note', {
      attributes: {
        since: custom({
          parse: given => {
            if (given === 'bad') throw new RangeError('not a number');
            return Number(given);
          },
          print: String,
        }),
        tags: json<string[]>({ default: () => [] }),
      },
    }) {}
    DatedNote.define();
    const element = new DatedNote();
    element.since = 7;
    element.setAttribute('since', 'bad');
    assert.equal(element.since, 7);
    element.tags = ['a'];
    element.setAttribute('tags', '[');
    assert.deepEqual(element.tags, ['a']);
  });

  it('throw to each reader of data, and do not depend on the default’s signals', async () => {
    const source = signal(0);
    let tries = 0;
    class MakesData extends contract('makes-data', {
      properties: {
        list: data(() => {
          tries++;
          if (source.get() === 0) throw new RangeError('not yet');
          return [source.get()];
        }),
      },
    }) {}
    MakesData.define();
    const element = new MakesData();
    assert.throws(() => element.list, /not yet/);
    assert.throws(() => element.list, /not yet/);
    source.set(1);
    assert.deepEqual(element.list, [1]);
    source.set(2);
    assert.deepEqual([element.list, tries], [[1], 3]);
  });

  it('nullable text converts document.all to text, like built-in elements', () => {
    class NullText extends contract('null-text', {
      attributes: { note: text({ nullable: true }), mood: choice(['calm'], { nullable: true }) },
    }) {}
    NullText.define();
    const element = new NullText();
    const all = (document as unknown as { all: string }).all;
    const built = document.createElement('p');
    built.ariaLabel = all;
    Object.assign(element, { note: all, mood: all });
    assert.deepEqual(
      [element.getAttribute('note'), element.getAttribute('mood')],
      [built.getAttribute('aria-label'), built.getAttribute('aria-label')],
    );
  });
});

describe('a closed root that the page sent', () => {
  it('is used by an element whose contract does not mention it', () => {
    const host = document.createElement('div');
    (host as unknown as { setHTMLUnsafe(text: string): void }).setHTMLUnsafe(
      html('<sent-closed><template shadowrootmode="closed"><p>sent</p></template></sent-closed>'),
    );
    document.body.append(host);
    class SentClosed extends contract('sent-closed', { attributes: { name: text() } }) {
      view() {
        return markup`<b>${() => this.name}</b>`;
      }
    }
    SentClosed.define();
    const element = host.firstElementChild as SentClosed;
    element.name = 'Rue';
    assert.equal(element.matches(':defined'), true);
    assert.ok(element instanceof SentClosed);
  });
});
