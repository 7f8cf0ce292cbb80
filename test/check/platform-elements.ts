/** Elements as many authors write them with nothing but the platform, each with the rules that it really breaks. */

export interface PlatformElement {
  readonly tag: string;
  /** The module that defines it. */
  readonly code: string;
  /** What its manifest says beside name and tag; what is left out is unsaid. */
  readonly manifest?: Readonly<Record<string, unknown>>;
  readonly specimen: string;
  /** The rules that it breaks; all others hold or say nothing. */
  readonly breaks: readonly string[];
  /** Further elements that its specimen shows, in the same module. */
  readonly with?: readonly string[];
}

const shadow = (html: string, more = '') =>
  `constructor() { super(); this.attachShadow({ mode: 'open' }).innerHTML = \`${html}\`; } ${more}`;
const define = (tag: string, body: string, head = '') =>
  `${head}\ncustomElements.define('${tag}', class extends HTMLElement { ${body} });\n`;

const all: PlatformElement[] = [];
const add = (tag: string, body: string, specimen: string, more: Partial<PlatformElement> & { head?: string } = {}) =>
  all.push({ tag, code: more.code ?? define(tag, body, more.head), specimen, breaks: [], ...more });

// Well made.
add(
  'p-light',
  "connectedCallback() { if (!this.querySelector('b')) this.append(Object.assign(document.createElement('b'), { textContent: 'light' })); }",
  '<p-light><i>given</i></p-light>',
  // A parser hands over its content later than innerHTML does.
  { breaks: ['made-alike'] },
);
add('p-badge', shadow('<style>:host { display: inline-block }</style><slot></slot>'), '<p-badge>New</p-badge>');
add(
  'p-ids',
  'connectedCallback() { if (this.shadowRoot) return; const id = `p-ids-${++count}`; this.attachShadow({ mode: \'open\' }).innerHTML = `<label for="${id}">Name</label><input id="${id}">`; }',
  '<p-ids></p-ids>',
  { head: 'let count = 0;' },
);
add(
  'p-later',
  `${shadow('<p>Wait</p>')} connectedCallback() { clearTimeout(this.timer); this.timer = setTimeout(() => { this.shadowRoot.querySelector('p').textContent = 'Here'; }, 60); } disconnectedCallback() { clearTimeout(this.timer); }`,
  '<p-later></p-later>',
);
add(
  'p-answer',
  `${shadow('<p>Wait</p>')} async connectedCallback() { const answer = await fetch(new URL('data:application/json,[1,2]')).catch(() => null); await null; this.shadowRoot.querySelector('p').textContent = answer ? 'Two' : 'None'; }`,
  '<p-answer></p-answer>',
);
add(
  'p-clock',
  `${shadow('<time></time>')} connectedCallback() { this.show(); this.timer = setInterval(() => this.show(), 100); } disconnectedCallback() { clearInterval(this.timer); } show() { this.shadowRoot.querySelector('time').textContent = String(performance.now()); }`,
  '<p-clock></p-clock>',
);
add(
  'p-number',
  shadow(
    '<p></p>',
    "connectedCallback() { this.number ??= ++made; this.shadowRoot.querySelector('p').textContent = `Number ${this.number}`; }",
  ),
  '<p-number></p-number>',
  { head: 'let made = 0;' },
);
add(
  'p-toast',
  `${shadow('<p role="status">Saved</p>')} connectedCallback() { this.timer = setTimeout(() => this.remove(), 40); } disconnectedCallback() { clearTimeout(this.timer); }`,
  '<p-toast></p-toast>',
);
add(
  'p-gone',
  `${shadow('<p>x</p>')} connectedCallback() { queueMicrotask(() => this.remove()); }`,
  '<p-gone></p-gone>',
);
add(
  'p-tab',
  `${shadow('<button type="button" role="tab"><slot></slot></button>')} connectedCallback() { this.list = this.closest('p-tabs'); this.shadowRoot.querySelector('button').setAttribute('aria-selected', String(this.list?.firstElementChild === this)); }`,
  '<p-tabs><p-tab>One</p-tab><p-tab>Two</p-tab></p-tabs>',
  {
    with: ['p-tabs'],
    code: `${define('p-tabs', shadow('<div role="tablist"><slot></slot></div>'))}${define('p-tab', `${shadow('<button type="button" role="tab"><slot></slot></button>')} connectedCallback() { this.shadowRoot.querySelector('button').setAttribute('aria-selected', String(this.closest('p-tabs')?.firstElementChild === this)); }`)}`,
  },
);
add(
  'p-field',
  `static formAssociated = true; #internals = this.attachInternals(); ${shadow('<input aria-label="From"><input aria-label="To">')} connectedCallback() { this.shadowRoot.oninput = () => this.#send(); this.#send(); } #send() { const data = new FormData(); for (const [at, { value }] of [...this.shadowRoot.querySelectorAll('input')].entries()) data.append(at ? 'to' : 'from', value); this.#internals.setFormValue(data); } formResetCallback() { for (const input of this.shadowRoot.querySelectorAll('input')) input.value = ''; this.#send(); } formDisabledCallback(disabled) { for (const input of this.shadowRoot.querySelectorAll('input')) input.disabled = disabled; } get validity() { return this.#internals.validity; } get validationMessage() { return this.#internals.validationMessage; } checkValidity() { return this.#internals.checkValidity(); } get form() { return this.#internals.form; }`,
  '<p-field name="range"></p-field>',
  { manifest: { formAssociated: true } },
);
add(
  'p-focus',
  shadow(
    '<style>button { outline: none; border: 0; background: none } button:focus-visible span { outline: 2px solid blue } </style><button type="button"><span>Go</span></button>',
  ),
  '<p-focus></p-focus>',
);
add(
  'p-paint',
  shadow(
    '<style>:host { display: block; background: var(--p-paint-ground, white); background-size: cover; }</style><slot></slot>',
  ),
  '<p-paint>x</p-paint>',
  { manifest: { slots: [{ name: '' }], cssProperties: [{ name: '--p-paint-ground' }] } },
);
add(
  'p-observer',
  `${shadow('<p></p>')} connectedCallback() { this.observer ??= new MutationObserver(() => this.count()); this.observer.observe(this, { childList: true }); this.count(); } disconnectedCallback() { this.observer.disconnect(); } count() { this.shadowRoot.querySelector('p').textContent = \`\${this.children.length} children\`; }`,
  '<p-observer><b>1</b><b>2</b></p-observer>',
);
add(
  'p-lonely',
  `${shadow('<p></p><slot></slot>')} connectedCallback() { if (this.observer) return; this.observer = new MutationObserver(() => {}); this.observer.observe(this.shadowRoot, { childList: true }); }`,
  '<p-lonely></p-lonely>',
);
add('p-styled', `${shadow('<p>x</p>')}`, '<p-styled style="color: red; margin: 3px"></p-styled>');
add(
  'p-linked',
  `${shadow('<slot></slot>')} connectedCallback() { const label = document.getElementById(this.getAttribute('labelled')); this.setAttribute('aria-label', label?.textContent ?? ''); this.role = 'group'; }`,
  '<span id="p-linked-name">Bees</span><p-linked labelled="p-linked-name"><b>x</b></p-linked>',
);
add(
  'p-canvas',
  `${shadow('<canvas width="40" height="20" role="img" aria-label="A line"></canvas>')} connectedCallback() { const turn = () => { this.shadowRoot.querySelector('canvas').getContext('2d')?.fillRect(0, 0, Math.random() * 40, 5); this.frame = requestAnimationFrame(turn); }; turn(); } disconnectedCallback() { cancelAnimationFrame(this.frame); }`,
  '<p-canvas></p-canvas>',
);
add(
  'p-event',
  `${shadow('<button type="button">Go</button>')} connectedCallback() { this.shadowRoot.querySelector('button').onclick = () => this.dispatchEvent(new CustomEvent('p-go', { bubbles: true })); }`,
  '<p-event></p-event>',
);
add('p-slots', shadow('<slot name="head"></slot><slot></slot>'), '<p-slots><b slot="head">H</b>text</p-slots>');
add(
  'p-flag',
  `static observedAttributes = ['open']; get open() { return this.hasAttribute('open'); } set open(value) { this.toggleAttribute('open', value); } ${shadow('<p hidden>open</p>')} attributeChangedCallback() { this.shadowRoot.querySelector('p').hidden = !this.open; }`,
  '<p-flag open></p-flag>',
  {
    manifest: {
      attributes: [{ name: 'open', type: { text: 'boolean' } }],
      members: [{ kind: 'field', name: 'open', attribute: 'open', reflects: true, type: { text: 'boolean' } }],
    },
  },
);
add(
  'p-random',
  shadow(
    '<p></p>',
    "connectedCallback() { this.key ??= Math.random().toString(36).slice(2); this.shadowRoot.querySelector('p').dataset.key = this.key; this.shadowRoot.querySelector('p').textContent = 'x'; }",
  ),
  '<p-random></p-random>',
);
add(
  'p-wide',
  `${shadow('<p></p>')} connectedCallback() { this.observer ??= new ResizeObserver(([{ contentRect }]) => { this.shadowRoot.querySelector('p').textContent = contentRect.width > 300 ? 'wide' : 'narrow'; }); this.observer.observe(this); } disconnectedCallback() { this.observer.disconnect(); }`,
  '<p-wide style="display: block"></p-wide>',
);
add(
  'p-reparent',
  `connectedCallback() { if (this.bar) return; this.bar = document.createElement('div'); this.bar.append(...this.childNodes); this.append(this.bar); }`,
  '<p-reparent><b>in</b></p-reparent>',
  { breaks: ['made-alike'] },
);

// With one real defect each.
add(
  'd-listener',
  `${shadow('<p>x</p>')} connectedCallback() { window.addEventListener('resize', () => this.toString()); }`,
  '<d-listener></d-listener>',
  { breaks: ['gives-back'] },
);
add(
  'd-timer',
  `${shadow('<p>x</p>')} connectedCallback() { setInterval(() => this.isConnected, 1000); }`,
  '<d-timer></d-timer>',
  { breaks: ['gives-back'] },
);
add('d-log', `${shadow('<p>x</p>')} connectedCallback() { console.log('here'); }`, '<d-log></d-log>', {
  breaks: ['console-quiet'],
});
add('d-constructor', "constructor() { super(); this.append('x'); }", '<d-constructor></d-constructor>', {
  breaks: ['constructor-bare'],
});
add(
  'd-double',
  `${shadow('<ul></ul>')} connectedCallback() { this.shadowRoot.querySelector('ul').append(Object.assign(document.createElement('li'), { textContent: 'one' })); }`,
  '<d-double></d-double>',
  { breaks: ['no-doubling'] },
);
add(
  'd-click',
  `${shadow('<span>Go</span>')} connectedCallback() { this.shadowRoot.querySelector('span').addEventListener('click', () => {}); }`,
  '<d-click></d-click>',
  { breaks: ['keyboard-reach'] },
);
add('d-name', shadow('<button type="button"></button>'), '<d-name></d-name>', { breaks: ['name-role'] });
add('d-global', `${shadow('<p>x</p>')} connectedCallback() { window.dGlobalState = 1; }`, '<d-global></d-global>', {
  breaks: ['nothing-global'],
});
add(
  'd-leak',
  `${shadow('<p>x</p>')} connectedCallback() { const style = document.createElement('style'); style.textContent = 'p { color: rgb(200, 0, 0) !important }'; document.head.append(style); }`,
  '<d-leak></d-leak>',
  { breaks: ['styles-out'] },
);
add(
  'd-reject',
  `${shadow('<p>x</p>')} connectedCallback() { Promise.reject(new Error('no')); }`,
  '<d-reject></d-reject>',
  { breaks: ['console-quiet'] },
);
add('d-alive', `${shadow('<p>x</p>')} connectedCallback() { kept.add(this); }`, '<d-alive></d-alive>', {
  head: 'const kept = new Set();',
  breaks: ['not-kept-alive'],
});
add(
  'd-clips',
  shadow('<style>div { height: 20px; overflow: hidden; font-size: 1rem }</style><div>Some text</div>'),
  '<d-clips></d-clips>',
  { breaks: ['large-text'] },
);

export const platformElements: readonly PlatformElement[] = all;

/** The rules that an engine says an element breaks, and those of its label. */
export function brokenAndLabelled(
  tag: string,
  rules: readonly { readonly rule: string; readonly outcome: string }[],
): readonly [broken: readonly string[], labelled: readonly string[]] {
  // In engines without a way to request collection, rules about it do not apply.
  const said = new Set(rules.filter(({ outcome }) => outcome !== 'not-applicable').map(({ rule }) => rule));
  // innerHTML, with which most of them are written, is refused under the strictest policies.
  const broken = rules.filter(({ rule, outcome }) => outcome === 'fails' && rule !== 'policy-kept');
  const { breaks } = platformElements.find(element => element.tag === tag)!;
  return [broken.map(({ rule }) => rule).sort(), breaks.filter(rule => said.has(rule)).sort()];
}

/** The files of a project with all of them, and the options of `eltrix check` that name them. */
export function platformProject(): { readonly files: Record<string, string>; readonly options: readonly string[] } {
  const files: Record<string, string> = {};
  const modules = platformElements.map(({ tag, code, specimen, manifest = {}, with: others = [] }) => {
    files[`${tag}.js`] = code;
    files[`${tag}.specimen.html`] = `<template title="First">${specimen}</template>`;
    const declarations = [tag, ...others].map(name => ({
      kind: 'class',
      name: name.replaceAll('-', '_'),
      customElement: true,
      tagName: name,
      ...(name === tag ? manifest : {}),
    }));
    return { kind: 'javascript-module', path: `${tag}.js`, declarations };
  });
  files['custom-elements.json'] = JSON.stringify({ schemaVersion: '2.1.0', modules });
  const tags = platformElements.map(({ tag }) => tag);
  return {
    files,
    options: [
      ...['--manifest', 'custom-elements.json', '--module', tags.map(tag => `${tag}.js`).join()],
      ...['--element', tags.join()],
    ],
  };
}
