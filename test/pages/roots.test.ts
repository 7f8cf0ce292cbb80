import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { contract, event, markup, settled, slot, stylesheet, sync, text } from 'eltrix';
import { environment, stage } from 'eltrix-tool/testing';
import { compiled, heard, html, inside, messages, production, put, tells, warns, whileDeveloping } from './support.ts';

const view = () => markup`<p>view</p><slot name="head">no head</slot><slot></slot>`;

class OpenRoot extends contract('under-open', {}) {
  view() {
    return view();
  }
  /** The root of the view. */
  seen() {
    return this.internals.shadowRoot;
  }
}
OpenRoot.define();
class ClosedRoot extends contract('under-closed', { shadow: { mode: 'closed' } }) {
  view() {
    return view();
  }
  seen() {
    return this.internals.shadowRoot;
  }
}
ClosedRoot.define();
class LightRoot extends contract('under-light', { shadow: 'none' }) {
  view() {
    return view();
  }
  seen() {
    return this.internals.shadowRoot;
  }
}
LightRoot.define();
const children = [
  contract('under-open-same', {}, OpenRoot),
  contract('under-open-open', { shadow: { mode: 'open' } }, OpenRoot),
  contract('under-open-closed', { shadow: { mode: 'closed' } }, OpenRoot),
  contract('under-open-light', { shadow: 'none' }, OpenRoot),
  contract('under-closed-same', {}, ClosedRoot),
  contract('under-closed-open', { shadow: { mode: 'open' } }, ClosedRoot),
  contract('under-closed-closed', { shadow: { mode: 'closed' } }, ClosedRoot),
  contract('under-closed-light', { shadow: 'none' }, ClosedRoot),
  contract('under-light-same', {}, LightRoot),
  contract('under-light-open', { shadow: { mode: 'open' } }, LightRoot),
  contract('under-light-closed', { shadow: { mode: 'closed' } }, LightRoot),
  contract('under-light-light', { shadow: 'none' }, LightRoot),
];
for (const Child of children) (class extends Child {}).define();

describe('an element made from another', () => {
  for (const parent of ['open', 'closed', 'light'])
    for (const own of ['same', 'open', 'closed', 'light'])
      it(`has the root of its own contract, or of its parent's: ${parent}, ${own}`, async () => {
        const element = put<OpenRoot>(`<under-${parent}-${own}>content</under-${parent}-${own}>`);
        await settled();
        const kind = own === 'same' ? parent : own;
        const root = element.seen();
        assert.equal(root?.mode, kind === 'light' ? undefined : kind);
        assert.equal((root ?? element).querySelector('p')?.textContent, 'view');
        assert.equal(element.textContent?.includes('view'), kind === 'light');
      });
});

describe('slots', () => {
  class SlotWatch extends contract('slot-watch', { slots: { head: slot('The head.'), '': slot('The rest.') } }) {
    view() {
      return markup`<b>${() => this.slotted().length}/${() =>
        this.slotted('head')
          .map(e => e.textContent)
          .join()}</b><slot name="head"></slot><slot></slot>`;
    }
  }
  SlotWatch.define();

  it('slotted() is tracked, also through nested slots', async () => {
    const element = put<SlotWatch>('<slot-watch><i slot="head">H</i><u>1</u><u>2</u></slot-watch>');
    await settled();
    assert.equal(inside(element, 'b').textContent, '2/H');
    element.append(document.createElement('u'));
    element.querySelector('i')!.remove();
    await settled();
    assert.equal(inside(element, 'b').textContent, '3/');
    class SlotOuter extends contract('slot-outer', {}) {
      view() {
        return markup`<slot-watch><slot></slot></slot-watch>`;
      }
    }
    SlotOuter.define();
    const outer = put<SlotOuter>('<slot-outer><u>1</u></slot-outer>');
    const inner = inside<SlotWatch>(outer, 'slot-watch');
    assert.deepEqual(
      inner.slotted('', { flatten: true }).map(e => e.localName),
      ['u'],
    );
    let seen = 0;
    inner.shadowRoot!.addEventListener('slotchange', () => seen++);
    outer.append(document.createElement('u'));
    await settled();
    assert.equal(inner.slotted('', { flatten: true }).length, 2);
    assert.ok(seen > 0);
  });

  it('warns of required and accepts, with the element and the slot', async t => {
    if (compiled) return t.skip('a built element has no words');
    const { warnings } = await heard(async () => {
      class SlotNeeds extends contract('slot-needs', {
        slots: { '': slot('The text.', { required: true }), icon: slot('A picture.', { accepts: 'img, svg' }) },
      }) {
        view() {
          return markup`<slot name="icon"></slot><slot></slot>`;
        }
      }
      SlotNeeds.define();
      put('<slot-needs><b slot="icon">x</b></slot-needs>');
      put('<slot-needs>text</slot-needs>');
      await new Promise(resolve => setTimeout(resolve, 20));
    });
    assert.deepEqual(warnings, [
      'Warning (slot-required): <slot-needs>: the default slot is required and empty (The text.). Put content between its tags.',
      'Warning (slot-accepts): <slot-needs>: the slot "icon" takes "img, svg", and <b> is in it. It is shown nevertheless; use one of the accepted elements.',
    ]);
  });
});

describe('states and events', () => {
  it('custom states match :state()', () => {
    class StateFul extends contract('state-ful', { states: { ripe: 'Ready.' } }) {
      ripen() {
        this.states.add('ripe');
      }
    }
    StateFul.define();
    const element = put<StateFul>('<state-ful></state-ful>');
    assert.equal(element.matches(':state(ripe)'), false);
    element.ripen();
    assert.equal(element.matches(':state(ripe)'), true);
  });

  it('emit uses the declared options, returns the outcome and rejects undeclared events', () => {
    class EventFul extends contract('event-ful', {
      events: { stop: event<number>({ cancelable: true }), quiet: event({ bubbles: false, composed: false }) },
    }) {}
    EventFul.define();
    const element = put<EventFul>('<event-ful></event-ful>');
    assert.equal(element.emit('stop', 4), true);
    element.addEventListener('stop', sent => sent.preventDefault(), { once: true });
    assert.equal(element.emit('stop', 4), false);
    element.addEventListener('quiet', sent =>
      assert.deepEqual([sent.bubbles, sent.composed, sent.cancelable, sent.detail], [false, false, false, null]),
    );
    assert.equal(element.emit('quiet'), true);
    if (production) return;
    assert.throws(() => (element.emit as (type: string) => void)('qiuet'), {
      name: 'TypeError',
      message:
        '(event-undeclared): <event-ful> sends "qiuet", which its contract does not declare. Add it: events: { \'qiuet\': event<…>() }. Declared are "stop", "quiet". Nothing was sent.',
    });
  });
});

describe('roots', () => {
  const kinds: Record<string, Partial<ShadowRootInit>> = {
    open: {},
    focus: { delegatesFocus: true },
    manual: { slotAssignment: 'manual' },
    clonable: { clonable: true },
    serializable: { serializable: true },
  };
  for (const [name, shadow] of Object.entries(kinds)) {
    class RootKind extends contract(`root-${name}` as 'root-x', { shadow }) {
      view = view;
    }
    RootKind.define();
    it(name, () => {
      const root = put(`<root-${name}></root-${name}>`).shadowRoot!;
      for (const [key, value] of Object.entries(shadow)) assert.equal(root[key as 'delegatesFocus'], value);
      assert.equal(root.querySelectorAll('p').length, 1);
    });
  }

  it('closed, and manual assignment', () => {
    class RootClosed extends contract('root-closed', { shadow: { mode: 'closed' } }) {
      view() {
        return markup`<p>closed</p>`;
      }
    }
    RootClosed.define();
    assert.equal(put('<root-closed></root-closed>').shadowRoot, null);
    const manual = put('<root-manual><i>a</i></root-manual>');
    const [, target] = manual.shadowRoot!.querySelectorAll('slot');
    target!.assign(manual.querySelector('i')!);
    assert.equal(manual.querySelector('i')!.assignedSlot, target);
  });

  it('a declarative root is used, open or closed, without a second view', () => {
    for (const mode of ['open', 'closed'] as const) {
      const tag = `root-declared-${mode}`;
      const page = html(`<${tag}><template shadowrootmode="${mode}"><p>from the server</p></template></${tag}>`);
      const host = document.createElement('div');
      (host as HTMLElement & { setHTMLUnsafe(html: string): void }).setHTMLUnsafe(page);
      document.body.append(host);
      const before = host.firstElementChild!.shadowRoot;
      let root: ShadowRoot | null | undefined;
      class RootDeclared extends contract(tag as 'root-x', { shadow: { mode } }) {
        view = view;
        connected() {
          root = this.shadowRoot ?? this.internals.shadowRoot;
        }
      }
      RootDeclared.define();
      if (mode === 'open') assert.equal(root, before);
      assert.deepEqual(
        [...root!.querySelectorAll('p')].map(p => p.textContent),
        ['view'],
      );
    }
  });

  it('a clone of a clonable root is not doubled', () => {
    const source = put('<root-clonable></root-clonable>');
    const copy = source.cloneNode(true) as Element;
    document.body.append(copy);
    assert.equal(copy.shadowRoot!.querySelectorAll('p').length, 1);
  });
});

describe('extends', () => {
  it('customized built-ins, or a message in engines without them', async () => {
    const { warnings, errors } = await heard(() => {
      class LoudButton extends contract('loud-button', { extends: 'button', attributes: { tone: text() } }) {
        view() {
          return markup`<b>${() => this.tone}:</b><slot></slot>`;
        }
      }
      LoudButton.define();
      put('<button is="loud-button" tone="high">Hey</button>');
    });
    assert.deepEqual(messages(errors), []);
    const button = document.querySelector('[is="loud-button"]')!;
    const isUpgraded = button.constructor !== HTMLButtonElement;
    assert.equal(button.textContent, isUpgraded ? 'high:Hey' : 'Hey');
    if (isUpgraded) assert.deepEqual(warnings, []);
    else {
      warns(warnings, [
        'Warning (extends-unsupported): <button is="loud-button">: this engine has no customized built-in elements, so it stays a plain <button>. Make it an autonomous element without "extends", or load a script that adds them, before this one.',
      ]);
    }
  });
});

describe('styles', () => {
  it('several sheets, the parent’s first, an imported one, and one that is changed later', () => {
    const imported = new CSSStyleSheet();
    imported.replaceSync('p { outline-width: 3px }');
    const text = stylesheet`p { color: rgb(1, 1, 1); margin-left: ${4}px }`;
    class StyleBase extends contract('style-base', {}) {
      static styleSheets: readonly (typeof text | CSSStyleSheet)[] = [text];
      view = view;
    }
    class StyleMore extends contract('style-more', {}, StyleBase) {
      static override styleSheets = [stylesheet`${'p { color: rgb(2, 2, 2) }'}`, imported];
    }
    StyleMore.define();
    const element = put('<style-more></style-more>');
    const style = () => getComputedStyle(inside(element, 'p'));
    assert.deepEqual([style().color, style().marginLeft], ['rgb(2, 2, 2)', '4px']);
    assert.equal(element.shadowRoot!.adoptedStyleSheets.length, 3);
    text.replace('p { margin-left: 9px }');
    imported.replaceSync('p { color: rgb(3, 3, 3) }');
    assert.deepEqual([style().color, style().marginLeft], ['rgb(3, 3, 3)', '9px']);
    assert.throws(
      () => stylesheet`p { color: ${null as never} }`,
      ({ message }: Error) => {
        tells(
          message,
          '(stylesheet-hole): expression 1 of a stylesheet takes CSS as text, a number or another stylesheet, and null came. What changes goes through a custom property: var(--name).',
        );
        return true;
      },
    );
  });
});

describe('mistakes', () => {
  it('each has a message', async t => {
    if (compiled) return t.skip('a built element has no words');
    const throws = (fn: () => unknown, name: string, message: string) => assert.throws(fn, { name, message });
    const make = contract as (tag: string, declaration: object) => CustomElementConstructor & { define(): void };
    throws(
      () => sync('' as never),
      'TypeError',
      '(sync-signal): sync() takes a signal, and "" came. Write sync(this.name) for name = signal(\'\'), or { get: () => this.name, set: value => { this.name = value; } }.',
    );
    throws(
      () => make('card', {}),
      'SyntaxError',
      '(tag-name): "card" is not a custom element name: it has no hyphen. Add a prefix, for example "my-card". Names start with a-z and contain a hyphen and no A-Z.',
    );
    for (const sign of ['?', '$', '`', ':', '\\'])
      throws(
        () => make(`bee${sign}-card`, {}),
        'SyntaxError',
        `(tag-name): ${JSON.stringify(`bee${sign}-card`)} is not a custom element name: it contains ${JSON.stringify(sign)}. Use letters, digits, hyphens and dots.`,
      );
    for (const tag of ['bee-😀', 'a-b.c', 'my-élan', 'x_y-', 'a-·1']) make(tag, {}).define();
    throws(
      () => make('font-face', {}),
      'SyntaxError',
      '(tag-reserved): "font-face" belongs to SVG or MathML. Choose another name, for example "my-font-face".',
    );
    throws(
      () => contract('two-on-one', { attributes: { value: text(), score: text({ attribute: 'VALUE' }) } }),
      'TypeError',
      '(attribute-shared): <two-on-one>: "value" is already the attribute of the property "value". Give "score" another attribute name, for example score: text({ attribute: \'value-2\' }).',
    );
    for (const [attribute, better] of [
      ['2nd', 'x-2nd'],
      ['mix:in', 'mix-in'],
      ['two words', 'two-words'],
      ['@click', 'click'],
      ['xmlns', 'x-xmlns'],
      ['', 'a-name'],
    ] as const)
      throws(
        () => contract('odd-attribute', { attributes: { score: text({ attribute }) } }),
        'TypeError',
        `(attribute-name): <odd-attribute>: no script can set an attribute "${attribute}" in every engine. Give "score" another attribute name, for example score: text({ attribute: '${better}' }).`,
      );
    throws(
      () => contract('odd-attribute', { attributes: { $score: text() } }),
      'TypeError',
      '(attribute-name): <odd-attribute>: no script can set an attribute "$score" in every engine. Give "$score" another attribute name, for example $score: text({ attribute: \'score\' }).',
    );
    for (const attribute of ['größe', '名前', 'a.b', '_a-1', 'x·y']) {
      contract('odd-attribute', { attributes: { score: text({ attribute }) } });
      document.createElement('p').setAttributeNS(null, attribute, '');
    }
    for (const name of ['title', 'hidden', 'id', 'slot', 'style', 'click', 'children']) {
      throws(
        () => contract('bad-name', { attributes: { [name]: text() } }),
        'TypeError',
        `(name-taken): <bad-name>: the property "${name}" would take the place of the member "${name}" that every HTML element has. Choose another name, for example "name${name[0]!.toUpperCase()}${name.slice(1)}".`,
      );
    }
    throws(
      () => contract('bad-name', { properties: { emit: { kind: 'data', make: () => 1 } } }),
      'TypeError',
      '(name-taken): <bad-name>: the property "emit" would take the place of the member "emit" that the library gives its elements. Choose another name, for example "nameEmit".',
    );
    class TakenOne extends contract('taken-one', {}) {}
    TakenOne.define();
    TakenOne.define();
    class TakenTwo extends contract('taken-one', {}) {}
    throws(
      () => TakenTwo.define(),
      'NotSupportedError',
      "(tag-taken): <taken-one> is already defined, by another class (TakenOne). Give this one another tag: TakenTwo.define('my-taken-one'). The first one stays in use.",
    );
    const { warnings } = await heard(() => {
      const copy = { TakenOne: class TakenOne extends contract('taken-one', {}) {} };
      copy.TakenOne.define();
    });
    assert.deepEqual(warnings, [
      'Warning (tag-copy): <taken-one>: a second copy of TakenOne was loaded; the first one stays in use. Load its module from one address; `npm ls` shows whether two versions are installed.',
    ]);
    assert.equal(customElements.get('taken-one'), TakenOne);
  });

  it('a constructor that adds attributes or children', whileDeveloping, async t => {
    const { errors } = await heard(() => {
      class CtorRole extends contract('ctor-role', {}) {
        constructor() {
          super();
          this.setAttribute('role', 'img');
        }
      }
      class CtorKids extends contract('ctor-kids', {}) {
        constructor() {
          super();
          this.append('x');
        }
      }
      for (const Class of [CtorRole, CtorKids]) {
        Class.define();
        try {
          document.createElement(Class === CtorRole ? 'ctor-role' : 'ctor-kids');
        } catch {
          // Some engines throw here, others report.
        }
      }
    });
    for (const message of messages(errors)) t.diagnostic(message);
    const ours = messages(errors).filter(message => message.startsWith('(constructor'));
    assert.deepEqual(ours, [
      '(constructor-attributes): <ctor-role> sets "role" in its constructor, so document.createElement cannot create it. Move it to connected(), or give the default with ElementInternals: this.internals.role = "…".',
      '(constructor-children): <ctor-kids> adds children in its constructor, so document.createElement cannot create it. Put them into view(), or add them in connected().',
    ]);
  });

  it('a class field that hides a declared property', whileDeveloping, async () => {
    const { errors } = await heard(() => {
      class HidesOne extends contract('hides-one', { attributes: { name: text() } }) {
        constructor() {
          super();
          Object.defineProperty(this, 'name', { value: 'field', writable: true });
        }
      }
      HidesOne.define();
      document.body.append(new HidesOne());
    });
    assert.deepEqual(messages(errors), [
      '(property-hidden): <hides-one>: the class has a field "name", which hides the declared property "name". Take the field out; give a first value with the kind\'s default, or with data(() => …).',
    ]);
  });

  it('a missing super call in a standard callback', whileDeveloping, async () => {
    const { errors } = await heard(() => {
      class NoSuper extends contract('no-super', {}) {
        override connectedCallback() {}
      }
      class HasSuper extends contract('has-super', {}) {
        override connectedCallback() {
          super.connectedCallback();
        }
      }
      NoSuper.define();
      HasSuper.define();
      document.body.append(new NoSuper(), new HasSuper());
    });
    assert.deepEqual(messages(errors), [
      '(super-forgotten): <no-super>: NoSuper.connectedCallback() does not call super.connectedCallback(), so the element does not work. Name the method connected(scope) instead, which needs no super, or call super.connectedCallback() first.',
    ]);
  });

  it('an update cycle is named', async () => {
    const { errors } = await heard(() => {
      class RoundTrip extends contract('round-trip', { attributes: { name: text() } }) {
        view() {
          return markup`<p>${() => {
            this.name = `${this.name}x`;
            return this.name;
          }}</p>`;
        }
      }
      RoundTrip.define();
      document.body.append(new RoundTrip());
    });
    assert.equal(messages(errors).length, 1);
    tells(
      messages(errors)[0],
      /^\(update-cycle\): <round-trip>, line 1 of the markup, expression 1 \(<p>\$\{…\}<\/p>\) → <round-trip>/,
    );
  });

  it('view() that returns something else', whileDeveloping, async () => {
    const { errors } = await heard(() => {
      class ViewText extends contract('view-text', {}) {
        view() {
          return '<p>';
        }
      }
      ViewText.define();
      document.body.append(new ViewText());
    });
    assert.deepEqual(messages(errors), [
      '(view-result): <view-text>: view() returned "<p>". Return markup`…`, or nothing for an element without a view.',
    ]);
  });
});

it('creates the elements of a view with the registry of its root', async t => {
  if (!('customElementRegistry' in (globalThis.ShadowRoot?.prototype ?? {})))
    return t.skip('no scoped registries here');
  const registry = new CustomElementRegistry();
  const named = (word: string) =>
    class extends HTMLElement {
      connectedCallback() {
        this.textContent = word;
      }
    };
  registry.define('scoped-word', named('scoped'));
  customElements.define('scoped-word', named('global'));
  class ScopedRoot extends contract('scoped-root', { shadow: { mode: 'open', customElementRegistry: registry } }) {
    view() {
      return markup`<scoped-word></scoped-word>${() => markup`<scoped-word></scoped-word>`}`;
    }
  }
  ScopedRoot.define();
  const element = await stage<HTMLElement>('<scoped-root></scoped-root>');
  assert.equal(element.shadowRoot!.textContent, 'scopedscoped');
});

class VisitRoot extends contract('visit-root', { attributes: { label: text() } }) {
  static styleSheets = [stylesheet`p { color: rgb(1, 2, 3) }`];
  view() {
    return markup`<p>${() => this.label}</p>`;
  }
}
VisitRoot.define();

class VisitLight extends contract('visit-light', { attributes: { label: text() }, shadow: 'none' }) {
  static styleSheets = [[stylesheet`p { color: rgb(1, 2, 3) }`]];
  view() {
    return markup`<p>${() => this.label}</p>`;
  }
}
VisitLight.define();

for (const tag of ['visit-root', 'visit-light'])
  for (const first of ['here', 'there'])
    it(`<${tag}> that was first ${first} has its sheets after a document without a window`, async t => {
      if (environment.engine === 'simulated') return t.skip('no sheets');
      const element = document.createElement(tag) as VisitRoot;
      const { errors } = await heard(async () => {
        if (first === 'here') document.body.append(element);
        document.implementation.createHTMLDocument('').body.append(element);
        element.label = 'there';
        await settled();
        document.body.append(element);
        await settled();
      });
      assert.deepEqual(messages(errors), []);
      const root = element.shadowRoot ?? element;
      assert.equal(root.textContent, 'there');
      assert.equal(getComputedStyle(root.querySelector('p')!).color, 'rgb(1, 2, 3)');
      assert.equal(root.querySelector('style'), null);
      element.remove();
    });
