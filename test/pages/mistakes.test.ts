/** Mistakes that would show nothing are told of, and what is told says what to type. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import {
  choice,
  computed,
  contract,
  data,
  each,
  event,
  fixed,
  integer,
  json,
  live,
  type Markup,
  markup,
  settled,
  signal,
  slot,
  stylesheet,
  sync,
  text,
} from 'eltrix';
import { compiled, heard, inside, messages, production, put, whileDeveloping } from './support.ts';

let show: () => unknown;
class ShowsIt extends contract('shows-it', {}) {
  view() {
    return show() as Markup;
  }
}
ShowsIt.define();

/** What is told while a view is placed. */
async function told(view: () => unknown): Promise<string> {
  show = view;
  const { errors, warnings } = await heard(() => document.body.append(new ShowsIt()));
  return [...messages(errors), ...warnings].join('\n');
}

describe('mistakes are reported', () => {
  it('a method that is called instead of passed', whileDeveloping, async () => {
    const go = () => {};
    assert.match(
      await told(() => markup`<button onclick=${go()}></button>`),
      /\(listener-nothing\): <shows-it>: "onclick" got undefined, so nothing happens\. Write onclick=\$\{this\.method\} without parentheses, or null where there is none\./,
    );
    assert.equal(await told(() => markup`<button onclick=${null}></button>`), '');
  });

  it('a parent of another copy', whileDeveloping, () => {
    // A built class has the key of its contract, and nothing else that this copy knows.
    const Built = Object.assign(class extends HTMLElement {}, { [Symbol.for('eltrix.contract.2')]: { surface: 'x' } });
    assert.throws(
      () => contract('made-from-built', {}, Built as never),
      /\(parent-copy\): <made-from-built>: the class that it is made from is of another copy of Eltrix: it was built, or two versions are installed \(`npm ls eltrix`\)\./,
    );
  });

  it('a function with parameters as the value of a property', whileDeveloping, async () => {
    const byName = (a: string, b: string) => a.localeCompare(b);
    assert.match(
      await told(() => markup`<data ${{ value: byName }}></data>`),
      /\(live-parameters\): .* To pass it as a value write \{ value: fixed\(byName\) \}\./,
    );
    assert.equal(await told(() => markup`<data ${{ title: fixed(byName) }}></data>`), '');
  });

  it('unknown semantics, and states without a condition', whileDeveloping, () => {
    const declare = contract as (tag: string, declaration: object) => unknown;
    assert.throws(
      () => declare('odd-semantics', { semantics: { 'aria-label': 'x' } }),
      /\(declaration-odd\): .*"aria-label" in "semantics" is no member of ElementInternals\. Did you mean "ariaLabel"\?/,
    );
    assert.throws(() => declare('odd-state', { states: { ripe: {} } }), /\(declaration-odd\): .*when: element => …/);
  });

  // A build finds them in the source.
  it('what other template languages write', { skip: (compiled || production) && 'it is compiled' }, async () => {
    for (const [view, name, instead] of [
      [() => markup`<button @click=${() => 1}>x</button>`, '@click', 'For a listener write onclick=${…}.'],
      [() => markup`<button on:click=${() => 1}>x</button>`, 'on:click', 'For a listener write onclick=${…}.'],
      [() => markup`<p .title=${'x'}>x</p>`, '.title', 'For a property write <p ${{ title: … }}>.'],
      [() => markup`<p ?hidden=${true}>x</p>`, '?hidden', 'Write hidden=${…}: true adds the attribute'],
      [() => markup`<p :title=${'x'}>x</p>`, ':title', 'Write title=${…}.'],
      [() => markup`<p className=${'x'}>x</p>`, 'className', 'Write class=${…}.'],
      [() => markup`<p textContent=${'x'}></p>`, 'textContent', 'Put the expression between the tags.'],
    ] as const) {
      const text = await told(view);
      assert.ok(
        text.includes('(attribute-odd)') && text.includes(`"${name}"`) && text.includes(instead),
        `${name}: ${text}`,
      );
    }
    assert.equal(await told(() => markup`<p @x="y" :lang="en" title=${'x'}>x</p>`), '');
  });

  it('keys, options and defaults that a contract does not have', whileDeveloping, () => {
    const declare = contract as (tag: string, declaration: object) => unknown;
    assert.throws(
      () => declare('odd-key', { attribtues: { name: text() } }),
      /\(declaration-odd\): <odd-key>: a contract has no "attribtues"\. Did you mean "attributes"\?/,
    );
    assert.throws(
      () => declare('odd-choice', { attributes: { mood: choice([]) } }),
      /"mood" is a choice without keywords/,
    );
    assert.throws(
      () => declare('odd-default', { attributes: { mood: choice(['calm', 'busy'], { missing: 'clam' as 'calm' }) } }),
      /"missing" of "mood" is "clam", which is none of "calm", "busy"\./,
    );
    assert.throws(
      () => text('x' as never),
      /The options of a kind are an object, and "x" was given\. Write for example text/,
    );
  });

  it('values that the options of a contract cannot have', whileDeveloping, () => {
    const declare = contract as (tag: string, declaration: object) => unknown;
    const odd: readonly (readonly [declaration: object, message: string])[] = [
      [{ shadow: false }, `"shadow" is false. Write shadow: 'none' to show the view in the element, or`],
      [{ shadow: 'closed' }, `"shadow" is "closed". Write shadow: { mode: 'closed' }.`],
      [{ shadow: { mode: 'close' } }, `"mode" in "shadow" is "close". Write 'open' or 'closed'.`],
      [{ form: 'yes' }, `"form" is "yes". Write form: true.`],
      [{ render: 'no' }, `"render" is "no". Write render: false.`],
      [
        { extends: HTMLButtonElement },
        `"extends" is a function. Write the built-in tag, for example extends: 'button'.`,
      ],
      [{ about: ['A box.'] }, `"about" is a list. Write about: 'A sentence.'.`],
      [{ parts: ['lid'] }, `"parts" is a list, and has to be an object: a name for each. Write parts: {`],
      [{ parts: { lid: true } }, `"lid" in "parts" is true. Write for example parts: {`],
      [{ cssProperties: { '--lid': { about: 'x' } } }, `"--lid" in "cssProperties" is an object. Write`],
      [{ cssProperties: { lid: 'x' } }, `"lid" in "cssProperties" has no hyphens. Write '--lid'.`],
      [{ conformance: { exempt: ['labelled'] } }, `"exempt" in "conformance" is a list. Write conformance: {`],
    ];
    for (const [declaration, message] of odd)
      assert.throws(
        () => declare('odd-value', declaration),
        (error: Error) => {
          assert.ok(
            error.message.includes(`(declaration-odd): <odd-value>: ${message}`),
            `${message}: ${error.message}`,
          );
          return true;
        },
      );
    declare('even-value', { shadow: { mode: 'closed' }, form: false, parts: {}, conformance: {}, render: undefined });
  });

  it('style sheets in a field of another name', whileDeveloping, async () => {
    class ElsewhereSheet extends contract('elsewhere-sheet', {}) {
      static styles = [stylesheet`p { color: red }`];
    }
    const { warnings } = await heard(() => ElsewhereSheet.define());
    assert.match(
      String(warnings),
      /\(sheets-unused\): <elsewhere-sheet>: the style sheets in static styles are not used\. Call the field styleSheets/,
    );
    class SharedSheet extends contract('shared-sheet', {}) {
      static base = stylesheet`p { color: red }`;
      static styleSheets = [SharedSheet.base];
    }
    assert.deepEqual((await heard(() => SharedSheet.define())).warnings, []);
  });

  it('a name that is declared twice', whileDeveloping, () => {
    assert.throws(
      // @ts-expect-error A property cannot have the name of an attribute.
      () => contract('twice-told', { attributes: { name: text() }, properties: { name: data(() => '') } }),
      /\(name-twice\): <twice-told>: "name" is declared in attributes and in properties\. Remove one of the declarations\./,
    );
  });

  it('a list of a data property that is changed in place', whileDeveloping, async () => {
    class PushedList extends contract('pushed-list', { properties: { frames: data<number[]>(() => []) } }) {}
    PushedList.define();
    const element = new PushedList();
    const { warnings } = await heard(() => {
      element.frames.push(1);
      void element.frames;
    });
    assert.match(
      warnings.join(),
      /\(data-in-place\): <pushed-list>: the list in "frames" was changed in place, which does not show\. Assign a new one: this\.frames = \[\.\.\.this\.frames, item\], or declare it as live\(\)\./,
    );
  });

  it('not a live list that is changed in place', whileDeveloping, async () => {
    class PushedLive extends contract('pushed-live', { properties: { frames: live<number[]>(() => []) } }) {}
    PushedLive.define();
    const { warnings } = await heard(() => {
      const element = new PushedLive();
      void element.frames.length;
      element.frames.push(1);
      void element.frames.length;
    });
    assert.deepEqual(warnings, []);
  });

  it('a property that an element does not have', whileDeveloping, async () => {
    assert.match(
      await told(() => markup`<p ${{ textContnt: 'x' }}></p>`),
      /\(property-unknown\): <shows-it>, .*: <p> has no property "textContnt"\. Did you mean "textContent"\?/,
    );
    assert.equal(await told(() => markup`<p ${{ title: 'x' }}></p><not-yet ${{ any: 1 }}></not-yet>`), '');
  });

  it('observedAttributes by hand', whileDeveloping, () => {
    class ByHand extends contract('by-hand', { attributes: { name: text() } }) {
      static override get observedAttributes() {
        return ['mood'];
      }
    }
    assert.throws(
      () => ByHand.define(),
      /\(observed-attributes\): <by-hand>: static observedAttributes does not contain "name"\. The contract observes what it declares; write \[\.\.\.super\.observedAttributes, 'mood'\] to observe more\./,
    );
  });

  describe('a signal in the place of its value', whileDeveloping, () => {
    class UnreadValue extends contract('unread-value', {
      attributes: { label: text(), count: integer() },
      properties: { rows: data<unknown>(() => null) },
    }) {}
    UnreadValue.define();
    const name = signal('a') as never;
    const meant: Record<string, () => Markup> = {
      text: () => markup`<p>${name}</p>`,
      'live text': () => markup`<b>${() => name}</b>`,
      'an attribute': () => markup`<p title=${name}></p>`,
      'an attribute with text': () => markup`<p title="a ${computed(() => 1) as never}"></p>`,
      'a class': () => markup`<p class=${name}></p>`,
      'a class with text': () => markup`<p class="a ${[name]}"></p>`,
      'a list of classes': () => markup`<p class=${['a', [name]]}>List</p>`,
      'a record of classes': () => markup`<p class=${() => ({ a: name })}>Record</p>`,
      'a style': () => markup`<p style=${name}></p>`,
      'a record of styles': () => markup`<p style=${{ color: name }}>Record</p>`,
      'a property of a field': () => markup`<input ${{ value: name }}>`,
      'a live property': () => markup`<button ${{ disabled: () => name }}></button>`,
      'the attribute of an element': () => markup`<unread-value label=${name}></unread-value>`,
      'the property of an element': () => markup`<unread-value ${{ count: name }}></unread-value>`,
      'a record': () => markup`<p ${name}></p>`,
    };
    for (const [way, view] of Object.entries(meant))
      it(`is reported in ${way}`, async () => {
        assert.match(
          await told(view),
          /^Warning \(signal-unread\): <[\w-]+>, line 1 of the markup, expression 1 \(.*\): a signal was given, and its value is meant\. Write \$\{\(\) => name\.get\(\)\}, which follows it\./,
        );
      });
    it('is a value for an element that keeps it', async () => {
      assert.equal(await told(() => markup`<unread-value ${{ rows: name }}></unread-value>`), '');
      assert.equal(await told(() => markup`<unread-value rows=${name}></unread-value>`), '');
      assert.equal(await told(() => markup`<undefined-element ${{ label: name }}></undefined-element>`), '');
      // An object of the application with signals inside.
      assert.equal(await told(() => markup`<unread-value ${{ rows: { done: name } }}></unread-value>`), '');
      assert.equal(await told(() => markup`<unread-value rows=${{ done: name }}></unread-value>`), '');
    });
  });

  it('a value of a wrong type', whileDeveloping, async () => {
    assert.match(await told(() => markup`<p>${new Date(0)}</p>`), /an object was given, but text/);
    assert.match(
      await told(() => markup`${each([1], item => item, (() => 'text') as never)}`),
      /\(row-markup\): .*a row returned "text"\. Return markup`…`\./,
    );
    assert.throws(
      () => data([] as never),
      /\(make-missing\): data\(\) takes a function that makes the value, and a list came\. Write data\(\(\) => …\)\./,
    );
    assert.throws(() => live([] as never), /\(make-missing\): live\(\) takes/);
    for (const [make, message] of [
      [
        () => text({ default: 'Rating' } as never),
        /\(option-unknown\): text\(\) has no option "default"\. Without .* write this\.label/,
      ],
      [
        () => choice(['a'], { default: 'a' } as never),
        /choice\(\) has no option "default"\. It has .*missing, invalid/,
      ],
      [() => integer({ min: 1 } as never), /integer\(\) has no option "min"/],
      [() => event({ bubble: true } as never), /event\(\) has no option "bubble"\. It has .*bubbles/],
      [() => slot('One.', { accept: 'img' } as never), /slot\(\) has no option "accept"/],
      [() => data(() => [], { default: [] } as never), /data\(\) has no option "default"/],
    ] as const)
      assert.throws(make, message);
    class TextSheet extends contract('text-sheet', {}) {
      static styleSheets = [':host {}'] as never;
    }
    TextSheet.define();
    assert.match(
      messages((await heard(() => document.body.append(new TextSheet()))).errors).join(),
      /\(sheet-type\): <text-sheet>: styleSheets takes sheets, and ":host \{\}" came\. Write stylesheet`…`\./,
    );
  });

  it('untrackable objects in a live value', whileDeveloping, async () => {
    class HoldsDate extends contract('holds-date', { properties: { plan: live(() => ({ at: new Date(0) })) } }) {}
    HoldsDate.define();
    const { warnings } = await heard(() => void new HoldsDate().plan.at);
    assert.match(
      warnings.join(),
      /\(live-untracked\): A Date in a live value is given as it is: what changes inside it does not show\. Replace it as a whole, or keep plain objects, lists, Map and Set\./,
    );
  });
});

describe('correct code works', () => {
  it('follows Map and Set in a live value', async () => {
    class LiveMaps extends contract('live-maps', {
      properties: {
        byId: live(() => new Map<string, { honey: number }>([['a', { honey: 1 }]])),
        tags: live(() => new Set(['x'])),
      },
    }) {
      view() {
        return markup`<p>${() => this.byId.get('a')?.honey}</p><b>${() => [...this.byId].map(([id, { honey }]) => `${id}${honey}`).join()}</b><i>${() => this.byId.size}</i><u>${() => [...this.tags].join()}</u><s>${() => this.tags.has('y')}${() => (this.tags.has('y') ? 'yes' : 'no')}</s>${() => this.tags}`;
      }
    }
    LiveMaps.define();
    const element = put<LiveMaps>('<live-maps></live-maps>');
    const shown = async () => {
      await settled();
      return element.shadowRoot!.textContent;
    };
    assert.equal(await shown(), '1a11xnox');
    element.byId.get('a')!.honey = 2;
    element.byId.set('b', { honey: 3 });
    element.tags.add('y');
    assert.equal(await shown(), '2a2,b32x,yyesxy');
    element.byId.delete('a');
    element.tags.clear();
    assert.equal(await shown(), 'b31no');
    const seen: unknown[] = [];
    element.byId.forEach((value, key, map) => {
      seen.push(key, value.honey, map === element.byId);
    });
    assert.deepEqual(seen, ['b', 3, true]);
    const one = { honey: 9 };
    element.byId.set('c', one);
    assert.equal(element.byId.get('c'), element.byId.get('c'));
    assert.equal(element.byId.get('c')!.honey, 9);
    // Other methods give what they give.
    element.tags.add('z');
    const { isSubsetOf } = Set.prototype as { isSubsetOf?: unknown };
    if (isSubsetOf)
      assert.equal((element.tags as unknown as { isSubsetOf(other: object): boolean }).isSubsetOf(new Set()), false);
    assert.equal(String(element.tags), '[object Set]');
    class Tally extends Map<string, number> {
      total(): number {
        return [...this.values()].reduce((sum, one) => sum + one, 0);
      }
    }
    const held = { tally: new Tally([['a', 2]]) };
    class HoldsTally extends contract('holds-tally', { properties: { held: live(() => held) } }) {}
    HoldsTally.define();
    assert.equal(new HoldsTally().held.tally.total(), 2);
  });

  it('keeps the last good JSON, read or not', async () => {
    class KeepsJson extends contract('keeps-json', { attributes: { plan: json<{ a: number }>() } }) {}
    KeepsJson.define();
    const element = put<KeepsJson>('<keeps-json></keeps-json>');
    await heard(() => {
      element.setAttribute('plan', '{"a":1}');
      element.setAttribute('plan', 'bad');
      element.setAttribute('plan', 'worse');
    });
    assert.deepEqual(element.plan, { a: 1 });
  });

  it('gives a customized built-in element its attribute, so that its sheets reach it', async t => {
    class ToneButton extends contract('tone-button', { extends: 'button' }) {
      static styleSheets = [stylesheet`:host { color: rgb(1, 2, 3) }`];
    }
    ToneButton.define();
    if (!(document.createElement('button', { is: 'tone-button' }) instanceof ToneButton))
      return t.skip('this engine has no customized built-in elements');
    const button = new ToneButton();
    const typed: HTMLButtonElement = button;
    typed.type = 'button';
    document.body.append(button);
    assert.equal(button.getAttribute('is'), 'tone-button');
    assert.equal(getComputedStyle(button).color, 'rgb(1, 2, 3)');
  });

  it('sends declared events with any options, inherited and compiled', () => {
    class SendsOne extends contract('sends-one', {
      events: { usual: event(), quiet: event({ bubbles: false }) },
    }) {}
    class SendsMore extends contract('sends-more', { events: { more: event() } }, SendsOne) {}
    SendsOne.define();
    SendsMore.define();
    const seen: string[] = [];
    for (const element of [new SendsOne(), new SendsMore()])
      for (const type of ['usual', 'quiet'] as const) {
        element.addEventListener(type, event => seen.push(`${event.type}${event.bubbles}`));
        element.emit(type);
      }
    const child = new SendsMore();
    child.addEventListener('more', event => seen.push(event.type));
    child.emit('more');
    assert.deepEqual(seen, ['usualtrue', 'quietfalse', 'usualtrue', 'quietfalse', 'more']);
  });

  it('rejects code through sync(), and a data: URL in <use>', async () => {
    const code = signal('globalThis.syncRan = true');
    const { errors } = await heard(() => {
      show = () => markup`<script ${sync(code)}></script>`;
      document.body.append(new ShowsIt());
    });
    assert.equal(errors.length, 1);
    assert.equal((globalThis as { syncRan?: boolean }).syncRan, undefined);
    const use = await heard(() => {
      show = () => markup`<svg><use href=${'data:image/svg+xml,<svg/>'}></use></svg>`;
      document.body.append(new ShowsIt());
    });
    assert.match(messages(use.errors).join(), production ? /unsafe-value/ : /\(unsafe-value\)/);
    assert.equal(inside(document.body.lastElementChild!, 'use').getAttribute('href'), null);
  });

  it('forgets fields of a live value without subscribers', async () => {
    class LiveMany extends contract('live-many', { properties: { all: live<Record<string, number>>(() => ({})) } }) {
      view() {
        return markup`<p>${() => this.all[this.wanted.get()]}</p>`;
      }
      wanted = signal('k0');
    }
    LiveMany.define();
    const element = put<LiveMany>('<live-many></live-many>');
    for (let i = 0; i < 50; i++) {
      element.wanted.set(`k${i}`);
      await settled();
    }
    element.all['k49'] = 7;
    element.all['k3'] = 8;
    await settled();
    assert.equal(inside(element, 'p').textContent, '7');
    element.wanted.set('k3');
    await settled();
    assert.equal(inside(element, 'p').textContent, '8');
  });
});
