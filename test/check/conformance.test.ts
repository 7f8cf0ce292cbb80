/** The conformance suite: every rule's planted fault is caught, and by its own rule alone, in every engine. */
import assert from 'node:assert/strict';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { before, describe, it } from 'node:test';
import { ruleCodes } from '../../packages/eltrix-tool/src/check/report/rules.ts';
import { type EngineName, engines, foundEngines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project, repository } from '../support/project.ts';
import { faultProject, faults, tagOf } from './faults.ts';

interface Report {
  readonly elements: readonly {
    readonly tag: string;
    readonly engines: Readonly<Record<string, readonly { rule: string; outcome: string }[]>>;
  }[];
}

describe('planted faults', { skip: foundEngines().length === 0 && 'no engine is installed' }, () => {
  it('exist for each rule, and each rule is documented', () => {
    // Pictures are compared apart: test/check/pictures.test.ts.
    assert.deepEqual([...Object.keys(faults), 'pictures'].sort(), [...ruleCodes].sort());
    const anchors = [...readFileSync(join(repository, 'docs/conformance.md'), 'utf8').matchAll(/^### (.+)$/gm)].map(
      ([, name]) => name!,
    );
    assert.deepEqual(
      ruleCodes.filter(code => !anchors.includes(code)),
      [],
    );
  });

  // All engines in one run, as `eltrix check` does it: the elements are bundled once.
  const found = foundEngines();
  let elements: Report['elements'];
  before(() => {
    const { status, stdout, stderr } = eltrix(
      project(faultProject()),
      'check',
      '--in',
      found.map(({ name }) => name).join(),
      '--json',
      '--timeout',
      '20000',
    );
    assert.deepEqual([status, stderr], [1, '']);
    ({ elements } = JSON.parse(stdout) as Report);
  });

  for (const engine of Object.keys(engines) as EngineName[]) {
    it(`each makes exactly its own rule fail in ${engine}`, t => {
      if (!engines[engine].find()) return t.skip(`${engine} is not here`);
      const seen: Record<string, string[]> = {};
      const expected: Record<string, string[]> = {};
      for (const [rule, { notIn = [] }] of Object.entries(faults)) {
        const results = elements.find(({ tag }) => tag === tagOf(rule))!.engines[engine]!;
        seen[rule] = results.filter(({ outcome }) => outcome === 'fails').map(({ rule }) => rule);
        expected[rule] = notIn.includes(engine) ? [] : [rule];
      }
      assert.deepEqual(seen, expected);
    });
  }
});

describe('the apiary', () => {
  it('passes, also rendered by a server', () => {
    // The same elements, in a project that renders them.
    const { status, stdout } = eltrix(join(repository, 'examples/content-block'), 'check', '--in', 'chromium');
    assert.equal(status, 0, stdout);
    assert.match(stdout, / 0 failed/);
  });
});

describe('elements that a server renders', () => {
  it('pass with text in fields, parts of a slider, listeners that a signal ends, state of the page, texts in another language, and what code outside of the view draws', () => {
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
    assert.match(stdout, /^4 elements .* rules passed, 0 failed/m);
  });
});

describe('slots and fields that depend on what is shown', { skip: !engines.chromium.find() && 'no Chromium' }, () => {
  const head =
    "import { choice, contract, data, flag, integer, markup, signal, slot, text } from 'eltrix';\nconst content = { '': slot('The content.') };\n";
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
<template title="Not asked"><ask-box label="Leave?">Really?</ask-box></template>
<template title="Slides"><slide-box></slide-box></template>
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

describe('a DOMException that an element reports', () => {
  it('is shown with its text', { skip: !engines.chromium.find() && 'no Chromium' }, () => {
    const root = project({
      'src/a.ts':
        "import { contract } from 'eltrix';\nexport class HiveCard extends contract('hive-card', {}) { connectedCallback() {} }\n",
    });
    const { stdout } = eltrix(root, 'check', '--in', 'chromium');
    assert.match(
      stdout,
      /seen +Uncaught InvalidStateError: \(super-forgotten\): <hive-card>: .*Name the method connected\(scope\)/,
    );
  });
});

describe('an element that hangs', () => {
  const element = (tag: string, name: string, connected: string) =>
    `import { contract, markup } from 'eltrix';\nexport class ${name} extends contract('${tag}', {}) { view() { return markup\`<p>One</p>\`; } connected() { ${connected} } }\n`;

  it('fails alone, and the check continues with the next element', () => {
    const root = project({
      'src/bee-hang.js': element('bee-hang', 'BeeHang', 'for (;;);'),
      'src/bee-zest.js': element('bee-zest', 'BeeZest', ''),
    });
    const names = foundEngines().map(({ name }) => name);
    const { stdout } = eltrix(root, 'check', '--in', names.join(), '--timeout', '8000', '--json');
    const { elements } = JSON.parse(stdout) as Report;
    for (const name of names) {
      const failing = elements.map(({ tag, engines }) => [
        tag,
        engines[name]!.filter(({ outcome }) => outcome === 'fails').map(({ rule }) => rule),
      ]);
      assert.deepEqual(
        failing,
        [
          ['bee-hang', ['page-runs']],
          ['bee-zest', []],
        ],
        name,
      );
    }
  });
});

describe('the report', () => {
  it('is one page with a matrix, failures and pictures', () => {
    const root = project({
      'src/bad-words.js':
        "import { contract, markup } from 'eltrix';\nexport class BadWords extends contract('bad-words', {}) { view() { return markup`<p>One</p>`; } connected() { console.log('here'); } }\n",
    });
    const { status, stdout } = eltrix(root, 'check', '--report', 'out/report.html');
    assert.equal(status, 1);
    assert.match(
      stdout,
      /src\/bad-words\.js finding \(console-quiet\): <bad-words>(?: in chromium)?\n {2}did .*\n {2}expected {2}nothing on the console\n {2}seen {6}console\.log: here/,
    );
    const page = readFileSync(join(root, 'out/report.html'), 'utf8');
    assert.ok(existsSync(join(root, 'out/report.html')));
    assert.match(page, /id="bad-words-console-quiet"/);
    for (const { name } of foundEngines())
      assert.match(page, new RegExp(`Default, in ${name}"[^>]*src="data:image/png;base64,`));
    assert.ok(!/(?:src|href)="https?:/.test(page), 'it needs nothing else');
  });

  it('explains an unknown rule or element', () => {
    const root = project({
      'src/bee-card.js':
        "import { contract } from 'eltrix';\nexport class BeeCard extends contract('bee-card', {}) {}\n",
    });
    const rule = eltrix(root, 'check', '--without', 'console-quite');
    assert.equal(rule.status, 2);
    assert.match(rule.stderr, /\(rule-unknown\): "console-quite" is not a rule\. Did you mean "console-quiet"\?/);
    assert.match(eltrix(root, 'check', '--element', 'bee-crad').stderr, /Did you mean <bee-card>\?/);
  });
});
