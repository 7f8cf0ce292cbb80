/** The conformance suite: elements without a fault pass in every engine. */
import assert from 'node:assert/strict';
import { join } from 'node:path';
import { describe, it } from 'node:test';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project, repository } from '../support/project.ts';
import type { Report } from './report.ts';

describe('the apiary', () => {
  it('passes, also rendered by a server', () => {
    // The same elements, in a project that renders them.
    const { status, stdout } = eltrix(join(repository, 'examples/content-block'), 'check', '--in', 'chromium');
    assert.equal(status, 0, stdout);
    assert.match(stdout, / 0 failed/);
  });
});

describe('elements that a server renders', () => {
  it('pass with text in fields, parts of a slider, listeners that a signal ends, state of the page, texts in another language, files, the size of the window, and what code outside of the view draws', () => {
    const root = project({
      'package.json': '{ "type": "module", "eltrix": { "render": true } }',
      'src/note-pad.js': `import { contract, handle, integer, markup, signal, sync } from 'eltrix';
export class NotePad extends contract('note-pad', { about: 'Notes.', attributes: { zoom: integer({ default: 3 }) } }) {
  note = signal('two\\nlines');
  place = handle();
  view() {
    return markup\`<div \${this.place}></div><textarea aria-label="Note" \${sync(this.note)}></textarea><output \${sync(this.note)}></output>
      <input type="color" aria-label="Colour"><p \${{ textContent: () => this.note.get() }}></p><q>\${() => this.zoom}</q>\`;
  }
  connected(scope) {
    const map = document.createElement('canvas');
    this.place.element.append(map);
    scope.effect(() => { map.dataset.zoom = String(this.zoom); });
    scope.use(() => map.remove());
  }
}
NotePad.define();
`,
      // Its stars are parts of a slider, its listener ends by a signal, its button asks an ancestor and answers late.
      'src/star-row.js': `import { contract, integer, markup, signal, slot, stylesheet } from 'eltrix';
import { ask, context } from 'eltrix/context';
export const ratings = context('ratings');
export class StarRow extends contract('star-row', { about: 'Stars.', attributes: { value: integer({ about: 'How many.' }) }, slots: { note: slot('Beside it.', { accepts: 'em, b' }) } }) {
  static styleSheets = [stylesheet\`div:focus-visible { outline: 2px solid }\`];
  sent = signal('');
  ratings = ask(this, ratings);
  view() {
    return markup\`<div role="slider" tabindex="0" aria-label="Stars" aria-valuemin="0" aria-valuemax="3" aria-valuenow=\${() => this.value}
        onkeydown=\${this.pressed}>
        \${() => [1, 2, 3].map(star => markup\`<span onclick=\${() => { this.value = star; }}>\${star > this.value ? '☆' : '★'}</span>\`)}
      </div>
      <button type="button" onclick=\${this.send}>Send</button><button type="button">Nothing</button><p>\${() => this.sent.get()}</p>
      \${() => this.isFilled('note') && markup\`<p><slot name="note"></slot></p>\`}\`;
  }
  pressed({ key }) {
    this.value = Math.min(3, Math.max(0, this.value + ({ ArrowRight: 1, ArrowLeft: -1 }[key] ?? 0)));
  }
  send() {
    this.sent.set(\`Sending \${this.value} \${this.ratings.get() ?? ''}\`);
    setTimeout(() => this.sent.set(\`Sent \${performance.now()}\`), 80);
  }
  connected(scope) {
    const control = new AbortController();
    addEventListener('online', () => this.send(), { signal: control.signal });
    scope.use(() => control.abort());
  }
}
StarRow.define();
// Shared by the page, as a store is.
const asked = signal(0);
export class StarSum extends contract('star-sum', { about: 'How many stars.', attributes: { value: integer({ about: 'How many.' }) } }) {
  view() {
    return markup\`<p>\${() => this.value}</p><button type="button" onclick=\${() => asked.set(asked.peek() + 1)}>Asked \${() => asked.get()}</button>\`;
  }
}
StarSum.define();
`,
      // Its size is that of the window, which scroll bars may narrow; it changes the page, and its files come from a user.
      'src/star-sky.js': `import { contract, handle, markup, signal, stylesheet, text } from 'eltrix';
import { watchSize } from 'eltrix/behaviours';
export class StarSky extends contract('star-sky', { about: 'A map.', form: true, attributes: { name: text({ about: 'Its name.' }) } }) {
  static styleSheets = [stylesheet\`:host { display: block }\`];
  map = handle();
  size = watchSize(this);
  files = signal([]);
  off = signal(false);
  connected(scope) {
    scope.measure(() => { this.map.element.width = this.size.get().width; });
  }
  view() {
    return markup\`<canvas role="img" aria-label="Stars" \${this.map}></canvas><label>Map <input type="file" disabled=\${() => this.off.get()} onchange=\${event => this.files.set([...event.target.files])}></label>
      <button type="button" disabled=\${() => this.off.get()} onclick=\${() => { document.documentElement.style.colorScheme = 'dark'; document.body.className = 'night'; }}>Night</button><p>Text</p>\`;
  }
  formValue() {
    return this.files.get()[0] ?? null;
  }
  formReset() { this.files.set([]); }
  formDisabled(disabled) { this.off.set(disabled); }
}
StarSky.define();
`,
      'src/star-sky.specimen.html': '<template title="A map"><form><star-sky name="sky"></star-sky></form></template>',
      // Its texts are loaded.
      'src/star-word.js': `import { contract, markup } from 'eltrix';
import { messages } from 'eltrix/language';
const texts = messages('en', { star: 'A star' }, { de: async () => ({ star: 'Ein Stern' }) });
export class StarWord extends contract('star-word', { about: 'A word.' }) {
  text = texts(this);
  view() {
    return markup\`<p>\${() => this.text('star')}</p>\`;
  }
}
StarWord.define();
`,
      'src/star-word.specimen.html': '<template title="German"><div lang="de"><star-word></star-word></div></template>',
      // Of one of both.
      'src/star-row.specimen.html': '<template title="Two"><star-row value="2"></star-row></template>',
    });
    const { status, stdout } = eltrix(root, 'check');
    assert.equal(status, 0, stdout);
    assert.match(stdout, /^5 elements .* rules passed, 0 failed/m);
  });
});

describe('slots and fields that depend on what is shown', { skip: !engines.chromium.find() && 'no Chromium' }, () => {
  const head =
    "import { choice, contract, data, flag, integer, markup, signal, slot, sync, text } from 'eltrix';\nconst content = { '': slot('The content.') };\n";
  const folded = `attributes: { heading: text({ about: 'Its heading.' }), open: flag({ about: 'Whether it is open.' }) }, slots: content`;
  const root = project({
    'package.json': '{ "type": "module" }',
    'src/boxes.js': `${head}
export class FoldBox extends contract('fold-box', { about: 'A box that folds.', ${folded} }) {
  view() {
    return markup\`<button type="button" onclick=\${() => { this.open = !this.open; }}>\${() => this.heading}</button>\${() => this.open && markup\`<div><slot></slot></div>\`}\`;
  }
}
export class TabBox extends contract('tab-box', { about: 'One part at a time.', attributes: { tab: choice(['first', 'second'], { missing: 'first', invalid: 'first', about: 'Which.' }) }, slots: { first: slot('The first.'), second: slot('The second.') } }) {
  view() {
    return markup\`<section><slot name=\${() => this.tab}></slot></section>\`;
  }
}
export class LoadBox extends contract('load-box', { about: 'What has come.', properties: { state: data(() => 'idle', { about: 'Where it is.' }) }, slots: { ...content, empty: slot('Shown before.') } }) {
  view() {
    return markup\`\${() => this.state === 'done' ? markup\`<slot></slot>\` : markup\`<slot name="empty"></slot>\`}\`;
  }
}
export class DayField extends contract('day-field', { about: 'A day.', form: true, attributes: { label: text({ about: 'What for.' }), value: text({ reflect: false, about: 'The day.' }) } }) {
  view() {
    return markup\`<label>\${() => this.label} <input type="date" \${{ value: () => this.value, disabled: () => this.matches(':disabled') }} onchange=\${event => { this.value = event.target.value; }}></label>\`;
  }
  formValue() { return this.value || null; }
  formReset() { this.value = this.getAttribute('value') ?? ''; }
  formStateRestore(state) { this.value = state; }
}
// Its specimen gives it nothing to choose.
export class PickField extends contract('pick-field', { about: 'A choice.', form: true, attributes: { label: text({ about: 'Of what.' }) }, properties: { options: data(() => [], { about: 'What can be chosen.' }) } }) {
  picked = signal('');
  view() {
    return markup\`<label>\${() => this.label} <select \${sync(this.picked)}>\${() => this.options.map(one => markup\`<option>\${one}</option>\`)}</select></label>\`;
  }
  formValue() { return this.picked.get() || null; }
}
export class AskBox extends contract('ask-box', { about: 'A question.', attributes: { label: text({ about: 'What it is about.' }) }, slots: { ...content, actions: slot('Buttons.') } }) {
  view() {
    return markup\`<dialog aria-label=\${() => this.label}><slot></slot><form method="dialog"><slot name="actions"><button>Close</button></slot></form></dialog>\`;
  }
}
// With 0 it changes at once, again and again.
export class SlideBox extends contract('slide-box', { about: 'Two slides.', attributes: { seconds: integer({ default: 5, about: 'How long each shows.' }) } }) {
  at = signal(0);
  connected(scope) {
    scope.effect(() => {
      const timer = setInterval(() => this.at.set(1 - this.at.peek()), this.seconds * 1000);
      return () => clearInterval(timer);
    });
  }
  view() {
    return markup\`<p>\${() => this.at.get()}</p>\`;
  }
}
// Its slot is there until something has loaded.
export class SoonBox extends contract('soon-box', { about: 'What comes soon.', slots: { waiting: slot('Shown before.') } }) {
  isThere = signal(false);
  connected(scope) { scope.after(1, () => this.isThere.set(true)); }
  view() {
    return markup\`\${() => this.isThere.get() ? markup\`<p>There</p>\` : markup\`<slot name="waiting">…</slot>\`}\`;
  }
}
// Its slot is lost when it opens, and made again at each change of its heading.
export class LostBox extends contract('lost-box', { about: 'Content that is lost.', ${folded} }) {
  wasOpen = false;
  view() {
    return markup\`\${() => (this.wasOpen ||= this.open) ? 'Open' : markup\`<slot></slot>\`}\`;
  }
}
export class AgainBox extends contract('again-box', { about: 'A slot that is made again.', ${folded} }) {
  view() {
    return markup\`\${() => { const slot = document.createElement('slot'); slot.title = this.heading; return slot; }}\`;
  }
}
`,
    'src/boxes.specimen.html': `<template title="Closed"><fold-box heading="Honey">Inside</fold-box></template>
<template title="Tabs"><tab-box><p slot="first">One</p><p slot="second">Two</p></tab-box></template>
<template title="Idle"><load-box>Inside<i slot="empty">Nothing yet</i></load-box></template>
<template title="Done"><load-box>Inside</load-box><script type="module">document.querySelector('load-box').state = 'done';</script></template>
<template title="No day"><day-field label="Arrival"></day-field></template>
<template title="Nothing to choose"><pick-field label="Hive"></pick-field></template>
<template title="Not asked"><ask-box label="Leave?">Really?</ask-box></template>
<template title="Slides"><slide-box></slide-box></template>
<template title="Soon"><soon-box></soon-box></template>
<template title="Lost"><lost-box heading="Honey">Inside</lost-box></template>
<template title="Again"><again-box heading="Honey">Inside</again-box></template>`,
  });

  it('pass, unless content is lost or its slot is made again', () => {
    const { stdout } = eltrix(root, 'check', '--in', 'chromium', '--without', 'form-disabled');
    const found = [...stdout.matchAll(/finding \(([\w-]+)\): <([\w-]+)>/g)].map(([, rule, tag]) => `${tag} ${rule}`);
    assert.deepEqual(found.sort(), ['again-box slot-kept', 'lost-box slot-kept'], stdout);
    assert.match(stdout, /changed open, and changed it back[^]*expected +<span> is in its slot again/);
    assert.match(stdout, /set heading=[^]*it is in a slot that was created again/);
  });
});

describe('specimens with styles, handlers and addresses of their page', () => {
  it('pass: they are not the element’s', () => {
    const root = project({
      'package.json': '{ "type": "module" }',
      'src/photo-card.js': `import { contract, markup, slot, stylesheet, url } from 'eltrix';
export class PhotoCard extends contract('photo-card.v2', { about: 'A picture.', attributes: { photo: url({ about: 'The picture.' }) }, slots: { '': slot('Beside it.') }, cssProperties: { '--größe': 'Its width.' } }) {
  static styleSheets = [stylesheet\`:host { display: block; overflow-wrap: anywhere; max-width: VAR( --größe ) }\`];
  view() {
    return markup\`<img alt="" src=\${() => this.photo}><p>\${() => this.photo}</p><slot></slot>\`;
  }
}
PhotoCard.define();
`,
      'src/photo-card.v2.specimen.html': `<template title="A page">
  <photo-card.v2 photo="img/bee.png" style="--edge: 1px; max-width: 20rem" onclick="console.log('clicked')">
    <style>photo-card\\.v2 + p { color: red }</style>
    <i style="color: green" onfocus="alert()" tabindex="0">A bee</i><img src="https://images.example/bee.png" alt="">
  </photo-card.v2>
</template>
<template title="From another host"><photo-card.v2 photo="https://images.example/bee.png" style=""></photo-card.v2></template>`,
    });
    const { status, stdout } = eltrix(root, 'check');
    assert.equal(status, 0, stdout);
    // A tag with a dot is checked by all rules.
    assert.match(stdout, /^photo-card\.v2 +3\d passed/m);
    assert.match(stdout, /^1 element .* rules passed, 0 failed/m);
  });
});

describe('the gallery', () => {
  it('passes with its own elements', () => {
    const { status, stdout } = eltrix(
      repository,
      'check',
      '--in',
      'chromium',
      '--source',
      'packages/eltrix-tool/src/gallery/app',
    );
    assert.equal(status, 0, stdout);
  });
});

describe('third-party elements', () => {
  const root = project({
    'plain.js': `customElements.define('plain-tally', class extends HTMLElement {
  static observedAttributes = ['count', 'open'];
  constructor() {
    super();
    const p = document.createElement('p');
    p.append(document.createElement('slot'));
    this.attachShadow({ mode: 'open' }).append(p);
  }
  get open() { return this.hasAttribute('open'); }
  set open(value) { this.toggleAttribute('open', value); }
});
customElements.define('leaky-tally', class extends HTMLElement {
  connectedCallback() { window.addEventListener('resize', () => this.isConnected); }
});
// What it shows has to be loaded, which takes longer on a page that is new.
customElements.define('late-tally', class extends HTMLElement {
  constructor() { super(); this.attachShadow({ mode: 'open' }).append(document.createElement('p')); }
  async connectedCallback() {
    if (window !== top) await new Promise(resolve => setTimeout(resolve, 300));
    this.shadowRoot.firstChild.textContent = 'here';
  }
});
// It submits several entries, which a browser keeps and gives back as they are.
customElements.define('many-tally', class extends HTMLElement {
  static formAssociated = true;
  #internals = this.attachInternals();
  #button = document.createElement('button');
  #count = 0;
  constructor() {
    super();
    this.#button.type = 'button';
    this.#button.textContent = 'More';
    this.#button.onclick = () => { this.#count++; this.#tell(); };
    this.attachShadow({ mode: 'open' }).append(this.#button);
  }
  get form() { return this.#internals.form; }
  get validity() { return this.#internals.validity; }
  get validationMessage() { return this.#internals.validationMessage; }
  get willValidate() { return this.#internals.willValidate; }
  get labels() { return this.#internals.labels; }
  get type() { return this.localName; }
  get name() { return this.getAttribute('name') ?? ''; }
  checkValidity() { return this.#internals.checkValidity(); }
  reportValidity() { return this.#internals.reportValidity(); }
  #tell() {
    const entries = new FormData();
    for (let i = 0; i < this.#count; i++) entries.append(this.name, String(i));
    this.#internals.setFormValue(entries);
  }
  formDisabledCallback(disabled) { this.#button.disabled = disabled; }
  formResetCallback() { this.#count = 0; this.#tell(); }
  formStateRestoreCallback(entries) { this.#count = entries.getAll(this.name).length; this.#tell(); }
});
// What it has asked for goes on for a while.
customElements.define('slow-tally', class extends HTMLElement {
  connectedCallback() { AbortSignal.timeout(1500).onabort = () => this; }
});`,
    'custom-elements.json': JSON.stringify({
      schemaVersion: '2.1.0',
      modules: [
        {
          kind: 'javascript-module',
          path: 'plain.js',
          declarations: [
            {
              kind: 'class',
              customElement: true,
              name: 'PlainTally',
              tagName: 'plain-tally',
              attributes: [{ name: 'open', fieldName: 'open', type: { text: 'boolean' } }],
              members: [{ kind: 'field', name: 'open', attribute: 'open', reflects: true }],
              slots: [{ name: '' }],
            },
            { kind: 'class', customElement: true, name: 'LeakyTally', tagName: 'leaky-tally' },
            { kind: 'class', customElement: true, name: 'SlowTally', tagName: 'slow-tally' },
            { kind: 'class', customElement: true, name: 'LateTally', tagName: 'late-tally' },
            { kind: 'class', customElement: true, name: 'ManyTally', tagName: 'many-tally', formAssociated: true },
          ],
        },
      ],
    }),
  });

  it('are checked against their manifest without false findings', () => {
    const { stdout } = eltrix(
      root,
      'check',
      '--in',
      'chromium',
      '--manifest',
      'custom-elements.json',
      '--module',
      'plain.js',
      '--json',
    );
    const failing = (JSON.parse(stdout) as Report).elements.map(({ tag, engines }) => [
      tag,
      engines['chromium']!.filter(({ outcome }) => outcome === 'fails').map(({ rule }) => rule),
    ]);
    assert.deepEqual(failing, [
      ['plain-tally', []],
      ['leaky-tally', ['gives-back']],
      ['slow-tally', []],
      ['late-tally', []],
      ['many-tally', []],
    ]);
  });
});
