/** For each rule of the conformance suite an element that breaks this one and no other. */

interface Fault {
  /** What the contract declares, as source. */
  readonly declares?: string;
  /** Members of the class. */
  readonly body: string;
  /** Before the class. */
  readonly before?: string;
  readonly specimen?: string;
  /** Engines in which the rule does not apply. */
  readonly notIn?: readonly string[];
}

const view = 'view() { return markup`<p>Hello</p>`; }';

export const faults: Readonly<Record<string, Fault>> = {
  'console-quiet': { body: `${view} connected() { console.log('here'); }` },
  'policy-kept': {
    body: `${view} connected() { if (!this.done) { this.done = true; const p = document.createElement('p'); p.setAttribute('style', 'color: red'); } } done = false;`,
  },
  'own-host': { body: `${view} connected() { fetch('http://127.0.0.2:9/x').catch(() => {}); }` },
  'made-alike': {
    declares: 'attributes: { name: text() }',
    body: "shown = signal(''); view() { return markup`<p>${() => this.shown.get()}</p>`; } connected() { if (!this.early) { this.early = true; this.shown.set(this.parentElement?.localName ?? ''); } } early = false; attributeChanged(name, before) { if (before === null && this.isConnected === false) this.shown.set('made early'); }",
    specimen: '<TAG name="Rue"></TAG>',
  },
  'constructor-bare': { body: `constructor() { super(); this.setAttribute('role', 'note'); } ${view}` },
  'early-properties': {
    declares: 'attributes: { name: text() }',
    body: `constructor() { super(); this.removeAttribute('name'); } ${view}`,
  },
  'attribute-order': {
    declares: 'attributes: { first: text(), second: text() }',
    body: "last = signal(''); view() { return markup`<p>${() => this.last.get()}</p>`; } attributeChanged(name) { if (!this.closed) this.last.set(name); } connected() { this.closed = true; } closed = false;",
    specimen: '<TAG first="a" second="b"></TAG>',
  },
  reflection: {
    declares: 'attributes: { name: text() }',
    body: `get name() { return (this.getAttribute('name') ?? '').trim(); } set name(value) { this.setAttribute('name', value); } ${view}`,
  },
  'bad-value': {
    declares: 'attributes: { count: integer({ default: 4 }) }',
    body: `get count() { const text = this.getAttribute('count'); return text === null ? 4 : Number(text); } set count(value) { this.setAttribute('count', String(value)); } ${view}`,
  },
  'removal-default': {
    declares: 'attributes: { name: text() }',
    body: `kept = ''; get name() { return this.getAttribute('name') ?? this.kept; } set name(value) { this.setAttribute('name', value); } attributeChanged(name, before, after) { if (after !== null) this.kept = after; } ${view}`,
  },
  'no-loop': {
    declares: "attributes: { name: text() }, events: { 'name-set': event() }",
    body: `${view} attributeChanged() { this.emit('name-set', null); }`,
  },
  'event-declared': {
    body: 'view() { return markup`<button type="button" onclick=${() => this.dispatchEvent(new Event(\'secret-thing\'))}>Tell</button>`; }',
  },
  'event-flags': {
    declares: "events: { 'bee-hum': event() }",
    body: 'view() { return markup`<button type="button" onclick=${() => this.dispatchEvent(new CustomEvent(\'bee-hum\'))}>Hum</button>`; }',
  },
  'event-detail': {
    declares: "events: { 'bee-hum': event() }",
    body: 'view() { return markup`<button type="button" onclick=${() => this.emit(\'bee-hum\', { again: () => {} })}>Hum</button>`; }',
  },
  'slots-there': {
    declares: "slots: { '': slot('All of it.'), badge: slot('A badge.') }",
    body: 'view() { return markup`<slot></slot>`; }',
  },
  'parts-there': { declares: "parts: { top: 'The top.' }", body: view },
  'slot-fallback': {
    declares: "slots: { '': slot('All of it.') }",
    body: 'static styleSheets = [stylesheet`slot { display: none } .there { display: contents }`]; view() { return markup`<slot><p>Nothing yet.</p></slot>`; }',
  },
  'slot-kept': {
    declares: "attributes: { name: text() }, slots: { '': slot('All of it.') }",
    body: "view() { return markup`${() => markup`<div title=${this.name}><slot></slot></div>`}`; } attributeChanged() { for (const child of [...this.children]) if (child.localName === 'span') child.remove(); }",
  },
  'semantics-kept': {
    declares:
      "attributes: { count: integer() }, states: { ripe: { about: 'Not too few.', when: host => host.count > -9 } }",
    body: `${view} attributeChanged() { this.states.delete('ripe'); }`,
    specimen: '<TAG count="0"></TAG>',
  },
  'custom-properties': { declares: "cssProperties: { '--bee-colour': 'Its colour.' }", body: view },
  'no-doubling': {
    body: `${view} connected() { const p = document.createElement('p'); p.textContent = 'again'; if (this.times++ > 0) this.shadowRoot.append(p); } times = 0;`,
  },
  'works-after-move': {
    body: "count = signal(0); view() { return markup`<button type=\"button\">More</button><output>${() => this.count.get()}</output>`; } more = () => this.count.set(this.count.get() + 1); assembled() { this.shadowRoot.querySelector('button').addEventListener('click', this.more); } disconnected() { this.shadowRoot.querySelector('button').removeEventListener('click', this.more); }",
  },
  'gives-back': { body: `${view} connected() { window.addEventListener('resize', () => this.isConnected); }` },
  'not-kept-alive': {
    before: 'const all = [];',
    body: `${view} connected() { all.push(this); }`,
    notIn: ['firefox', 'webkit'],
  },
  'state-kept': {
    declares: 'attributes: { name: text() }',
    body: `${view} disconnected() { this.inner = 'lost'; } get inner() { return ''; } set inner(value) { this.removeAttribute('name'); }`,
  },
  adoption: { body: `${view} adopted() { throw new Error('not here'); }` },
  'instances-apart': {
    before: 'const shared = [];',
    declares: 'properties: { flowers: data(() => shared) }',
    body: view,
  },
  'ids-apart': { body: 'view() { return markup`<p id="twice">One</p><p id="twice">Two</p>`; }' },
  'nothing-global': { before: 'globalThis.beeCount = 1;', body: view },
  'styles-in': {
    body: `${view} connected() { if (this.early) return; this.early = true; this.shadowRoot.adoptedStyleSheets = [...this.shadowRoot.adoptedStyleSheets, ...document.adoptedStyleSheets]; } early = false;`,
  },
  'styles-out': {
    before:
      "const sheet = typeof CSSStyleSheet === 'function' ? new CSSStyleSheet() : null; sheet?.replaceSync('.inner { letter-spacing: 7px }');",
    body: 'view() { return markup`<p class="inner">Hello</p>`; } connected() { document.adoptedStyleSheets = [...document.adoptedStyleSheets, sheet]; } disconnected() { document.adoptedStyleSheets = document.adoptedStyleSheets.filter(one => one !== sheet); }',
  },
  'form-submit': {
    declares: 'form: true',
    body: 'view() { return markup`<input aria-label="Kilograms">`; } formDisabled(disabled) { this.shadowRoot.querySelector(\'input\').disabled = disabled; }',
  },
  'form-reset': {
    declares: 'form: true',
    body: 'value = signal(\'1\'); off = signal(false); view() { return markup`<input aria-label="Kilograms" ${{ value: () => this.value.get(), disabled: () => this.off.get(), onchange: event => this.value.set(event.target.value) }}>`; } formValue() { return this.value.get(); } formDisabled(disabled) { this.off.set(disabled); } formStateRestore(state) { this.value.set(state); }',
  },
  'form-disabled': {
    declares: 'form: true',
    body: "value = signal('1'); view() { return markup`<input aria-label=\"Kilograms\" ${{ value: () => this.value.get(), onchange: event => this.value.set(event.target.value) }}>`; } formValue() { return this.value.get(); } formReset() { this.value.set('1'); } formStateRestore(state) { this.value.set(state); }",
  },
  'form-validity': {
    declares: 'form: true',
    body: "value = signal('1'); off = signal(false); view() { return markup`<input aria-label=\"Kilograms\" ${{ value: () => this.value.get(), disabled: () => this.off.get(), onchange: event => this.value.set(event.target.value) }}>`; } formValue() { return this.value.get(); } formDisabled(disabled) { this.off.set(disabled); } formReset() { this.value.set('1'); } formStateRestore(state) { this.value.set(state); } checkValidity() { return false; }",
  },
  'form-restore': {
    declares: 'form: true',
    body: "value = signal('1'); off = signal(false); view() { return markup`<input aria-label=\"Kilograms\" ${{ value: () => this.value.get(), disabled: () => this.off.get(), onchange: event => this.value.set(event.target.value) }}>`; } formValue() { return this.value.get(); } formDisabled(disabled) { this.off.set(disabled); } formReset() { this.value.set('1'); }",
  },
  'name-role': { body: 'view() { return markup`<button type="button"></button>`; }' },
  audit: {
    body: 'static styleSheets = [stylesheet`p { color: #bbb; background: #ccc }`]; view() { return markup`<p>Hard to read</p>`; }',
  },
  'keyboard-reach': { body: 'view() { return markup`<p onclick=${() => {}}>Only for mice</p>`; }' },
  'focus-visible': {
    body: 'static styleSheets = [stylesheet`button, button:focus-visible { all: unset; outline: none }`]; view() { return markup`<button type="button">Go</button>`; }',
  },
  'right-to-left': {
    body: 'static styleSheets = [stylesheet`div { overflow: hidden; width: 200px; height: 2em } p { width: 10px; margin: 0 } :host(:dir(rtl)) p { width: 400px } @media all { p:dir(rtl) { width: 400px } }`]; view() { return markup`<div><p>Bee</p></div>`; }',
  },
  'large-text': {
    body: 'static styleSheets = [stylesheet`div { overflow: hidden; height: 24px; font-size: 1rem; line-height: 1.2 } p { margin: 0 }`]; view() { return markup`<div><p>Bee</p></div>`; }',
  },
  'compiled-alike': { body: 'view() { return markup`<p>${String(this.view).length}</p>`; }' },
  'rendered-alike': { body: 'view() { return markup`<p>${typeof document}</p>`; }' },
  budget: { body: view },
};

export const tagOf = (rule: string) => `bad-${rule}`;

/** A project with all of them. */
export function faultProject(): Record<string, string> {
  const files: Record<string, string> = {
    'package.json': JSON.stringify({ type: 'module', eltrix: { render: true, budget: { [tagOf('budget')]: 100 } } }),
  };
  for (const [rule, { before = '', declares = '', body, specimen = '<TAG></TAG>' }] of Object.entries(faults)) {
    const tag = tagOf(rule);
    const name = `Bad${rule.replace(/(?:^|-)(.)/g, (_, letter: string) => letter.toUpperCase())}`;
    files[`src/${tag}.js`] =
      `import { contract, data, event, integer, markup, signal, slot, stylesheet, text } from 'eltrix';
${before}
export class ${name} extends contract('${tag}', { ${[declares, rule === 'rendered-alike' ? '' : 'render: false'].filter(Boolean).join(', ')} }) { ${body} }
${name}.define();
`;
    files[`src/${tag}.specimen.html`] = `<template title="As usual">${specimen.replaceAll('TAG', tag)}</template>`;
  }
  return files;
}
