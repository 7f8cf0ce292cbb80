/** Nothing that is data becomes markup or code. The page enforces Trusted Types and a strict policy. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { contract, each, type Markup, markup, signal } from 'eltrix';
import { heard, tells } from './support.ts';

declare global {
  var pwned: string[];
}
globalThis.pwned = [];
const code = (n: number | string) => `globalThis.pwned.push('${n}')`;

/** Known ways in, by class. `N` becomes a number, so that the one that works can be named. */
const classes: Record<string, readonly string[]> = {
  'out of text': [
    '<script>CODE</script>',
    '<img src=x onerror="CODE">',
    '<svg onload="CODE">',
    '<svg><script>CODE</script></svg>',
    '<iframe srcdoc="<script>CODE</script>">',
    '<body onload=CODE>',
    '<details open ontoggle=CODE>',
    '<input autofocus onfocus=CODE>',
    '<video><source onerror=CODE></video>',
    '<math><mi xlink:href="javascript:CODE">',
    '<style>@import "javascript:CODE";</style>',
    '<marquee onstart=CODE>',
    '<object data="javascript:CODE">',
    '<embed src="javascript:CODE">',
    '<link rel=stylesheet href="javascript:CODE">',
    '<meta http-equiv=refresh content="0;url=javascript:CODE">',
    '<base href="javascript:CODE//">',
    '<form><button formaction="javascript:CODE">',
    '--><script>CODE</script>',
    ']]><script>CODE</script>',
    '<!--<img src="--><img src=x onerror=CODE//">',
    '<noscript><p title="</noscript><img src=x onerror=CODE>">',
    '&lt;script&gt;CODE&lt;/script&gt;',
    '<scr\0ipt>CODE</script>',
    '<template><script>CODE</script></template>',
    '${CODE}',
    '{{CODE}}',
    '<x-y onclick=CODE>',
    '<a href="java&#115;cript:CODE">',
  ],
  'out of an attribute': [
    '" onclick="CODE',
    "' onclick='CODE",
    '"><script>CODE</script>',
    "'><script>CODE</script>",
    '" autofocus onfocus="CODE" x="',
    '`onmouseover=CODE',
    ' onclick=CODE ',
    '\n onfocus=CODE autofocus',
    '&quot; onclick=&quot;CODE',
    '"/><img src=x onerror=CODE><x a="',
    '=" onclick=CODE',
  ],
  'out of raw text': [
    '</textarea><script>CODE</script>',
    '</title><script>CODE</script>',
    '</style><script>CODE</script>',
    '</script><script>CODE</script>',
    '</template><script>CODE</script>',
    '</TEXTAREA ><img src=x onerror=CODE>',
  ],
  url: [
    'javascript:CODE',
    'JaVaScRiPt:CODE',
    ' javascript:CODE',
    '\tjavascript:CODE',
    'java\tscript:CODE',
    'java\nscript:CODE',
    'java\r\nscript:CODE',
    '\u0001javascript:CODE',
    '\0javascript:CODE',
    'javascript\t:CODE',
    'javascript:\nCODE',
    'javascript://%0aCODE',
    'vbscript:CODE',
    'VBScript:CODE',
    'data:text/html,<script>CODE</script>',
    ' data:text/html;base64,PHNjcmlwdD4=',
    'DATA:image/svg+xml,<svg onload="CODE"/>',
    'da\tta:text/html,<script>CODE</script>',
    'data:text/javascript,CODE',
    'javascript:CODE;https://x',
    '\u2028javascript:CODE',
    'javascript&colon;CODE',
    '#0;javascript:CODE',
    'javascript:CODE;0;1',
  ],
  style: [
    'expression(CODE)',
    'color: red; background: url(javascript:CODE)',
    'x:expression(CODE)',
    '-moz-binding:url(javascript:CODE)',
    '} body { background: url("javascript:CODE") }',
    '</style><script>CODE</script>',
    'behavior:url(#default)',
    '@import "javascript:CODE"',
  ],
  'event names and prototype keys': [
    'onclick',
    'onload',
    'innerHTML',
    'outerHTML',
    'srcdoc',
    '__proto__',
    'constructor',
    'prototype',
    'hasOwnProperty',
    'toString',
    'formAction',
    'on',
    'ONCLICK',
    'textContent',
  ],
};

/** Each class in several dresses, so that a filter for one spelling would not do. */
const dresses: ((text: string) => string)[] = [
  text => text,
  text => `x${text}`,
  text => text.toUpperCase(),
  text => `\u00a0${text}\u200b`,
];
const payloads = Object.entries(classes)
  .flatMap(([kind, texts]) => texts.flatMap(text => dresses.map(dress => ({ kind, text: dress(text) }))))
  .map(({ kind, text }, n) => ({ isAddress: kind === 'url', payload: text.replaceAll('CODE', code(n)) }));

/** Frames take long to make, and only what poses as an address leads anywhere in one: the rest stands where nothing loads. */
const withoutFrames = document.implementation.createHTMLDocument();

let show: () => Markup;
class SafeHost extends contract('safe-host', {}) {
  view() {
    return show();
  }
}
SafeHost.define();

function place(view: () => Markup, home = document): ShadowRoot {
  show = view;
  const element = new SafeHost();
  home.body.append(element);
  return element.shadowRoot!;
}

/** Every kind of expression. `p` is the data. */
const expressions: Record<string, (p: string) => Markup> = {
  text: p => markup`<p>${p}</p>${[p]}${() => p}`,
  'quoted attributes': p => markup`<p title="${p}" class='${p}' data-x=${p} aria-label="a ${p} b" style=${p}></p>`,
  'class and style records': p => markup`<p class=${{ [p]: true }} style=${{ [p]: p, color: p, '--x': p }}></p>`,
  links: p =>
    markup`<a href=${p} ping=${p} target=${p}>x</a><form action=${p}><button formaction=${p}></button></form><img src=${p} srcset=${p}><link href=${p}><area href=${p}>`,
  'links with text around': p => markup`<a href="${p}?x">x</a><a href="java${p}">x</a><a href="javascript:${p}">x</a>`,
  frames: p => markup`<iframe src=${p} srcdoc=${p} name=${p}></iframe><object data=${p}></object><embed src=${p}>`,
  svg: p =>
    markup`<svg><a href=${p} xlink:href=${p}><text>${p}</text></a><animate attributeName="href" to=${p} from=${p} values=${p} by=${p}></animate><set attributeName="onclick" to=${p}></set><image href=${p}></image><use href=${p}></use><script href=${p} xlink:href=${p}></script></svg>`,
  'raw text': p => markup`<textarea>${p}</textarea><title>${p}</title>`,
  'property values': p =>
    markup`<a ${{ href: p, textContent: p, title: p }}></a><iframe ${{ src: p, srcdoc: p }}></iframe><p ${{ innerHTML: p }}></p><p ${{ outerHTML: p }}></p><button ${{ formAction: p }}></button><script ${{ text: p }}></script><script ${{ src: p }}></script><script ${{ textContent: p }}></script>`,
  'property names': p => markup`<p ${JSON.parse(`{${JSON.stringify(p)}: "x"}`)}></p>`,
  'a script’s source': p => markup`<script src=${p}></script>`,
  templates: p => markup`<template><p title=${p}>${p}</p></template>`,
  rows: p =>
    markup`${each(
      [p],
      x => x,
      x => markup`<i title=${x()}>${x}</i>`,
    )}`,
  'objects from JSON': p =>
    markup`<p>${JSON.parse(`{"strings":[${JSON.stringify(p)}],"values":[],"nodeType":null,"raw":[]}`)}</p>`,
};

const hasFrames = new Set(['frames', 'property values']);

describe('injection', () => {
  for (const [kind, view] of Object.entries(expressions)) {
    it(`through ${kind}`, async t => {
      const violations: string[] = [];
      const listen = (event: SecurityPolicyViolationEvent) => {
        // A picture or frame that may not load is the policy at work; code that may not run would be ours.
        if (/script|trusted-types/.test(event.violatedDirective))
          violations.push(`${event.violatedDirective} ${event.blockedURI} ${event.sample}`);
      };
      document.addEventListener('securitypolicyviolation', listen);
      await heard(async () => {
        for (const { payload, isAddress } of payloads) {
          const root = place(() => view(payload), hasFrames.has(kind) && !isAddress ? withoutFrames : document);
          for (const element of root.querySelectorAll<HTMLElement>('a, button, area, p')) {
            element.addEventListener('click', event => event.preventDefault());
            const href = element.getAttribute('href') ?? element.getAttribute('formaction') ?? '';
            assert.doesNotMatch(href.replace(/[\0-\x20]/g, ''), /^(?:javascript|vbscript):/i);
            assert.equal(
              [...element.attributes].some(({ name }) => name.startsWith('on')),
              false,
              `${kind}: ${payload}`,
            );
            element.dispatchEvent(new MouseEvent('mouseover', { bubbles: true }));
          }
          assert.equal(
            root.querySelectorAll('script').length <= 3 &&
              root.querySelectorAll('[onerror],[onload],[onclick]').length === 0,
            true,
            payload,
          );
          for (const frame of root.querySelectorAll('iframe')) assert.equal(frame.hasAttribute('srcdoc'), false);
          root.host.remove();
        }
        await new Promise(resolve => setTimeout(resolve, 50));
      });
      document.removeEventListener('securitypolicyviolation', listen);
      assert.deepEqual(globalThis.pwned, []);
      assert.deepEqual(violations, []);
      assert.equal(({} as Record<string, unknown>)['x'], undefined);
      t.diagnostic(`${payloads.length} strings`);
    });
  }

  it('detects code that runs', () => {
    const button = document.createElement('button');
    button.addEventListener('click', () => globalThis.pwned.push('planted'));
    button.click();
    assert.deepEqual(globalThis.pwned.splice(0), ['planted']);
  });

  it('a rejected value is reported, and the rest keeps working', async () => {
    const url = signal('javascript:1');
    let root!: ShadowRoot;
    const { errors } = await heard(() => {
      root = place(() => markup`<a href=${() => url.get()} title="t">x</a>`);
    });
    tells(
      (errors[0] as Error).message,
      /^\(unsafe-value\): <safe-host>, line 1 of the markup, expression 1 .*: "href" of <a> would run a script: "javascript:1"\. Nothing was set\.$/,
    );
    assert.equal(root.querySelector('a')!.outerHTML, '<a title="t">x</a>');
    await heard(() => url.set('/hives'));
    assert.equal(root.querySelector('a')!.getAttribute('href'), '/hives');
    // The value before shows again when it comes again.
    assert.equal((await heard(() => url.set('javascript:2'))).errors.length, 1);
    assert.equal(root.querySelector('a')!.getAttribute('href'), null);
    await heard(() => url.set('/hives'));
    assert.equal(root.querySelector('a')!.getAttribute('href'), '/hives');
  });
});
