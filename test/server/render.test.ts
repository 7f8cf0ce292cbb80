/** `eltrix/server`: elements, markup and pages as HTML in plain Node, on the built library. */
import assert from 'node:assert/strict';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { describe, it } from 'node:test';
import {
  batch,
  contract,
  data,
  each,
  flag,
  handle,
  integer,
  type Markup,
  markup,
  on,
  signal,
  slot,
  stylesheet,
  sync,
  text,
} from 'eltrix';
import { request, watchSize } from 'eltrix/behaviours';
import { ask, context, offer } from 'eltrix/context';
import { direction, locale, messages } from 'eltrix/language';
import {
  RenderError,
  renderElement,
  renderElementStream,
  renderMarkup,
  renderMarkupStream,
  renderPage,
  renderPageStream,
  styleFiles,
} from 'eltrix/server';
import { type DefaultTreeAdapterTypes, parse } from 'parse5';

/** Without the marks around what expressions show. */
const plain = (html: string) => html.replace(/<!--[[\],]-->/g, '');
const rendered = (piece: Markup) => plain(renderMarkup(piece));

class HiveNote extends contract('hive-note', {
  attributes: { name: text(), boxes: integer({ default: 1 }), compact: flag() },
  properties: { rows: data<string[]>(() => []) },
  slots: { '': slot('Text.'), badge: slot('A badge.') },
}) {
  static styleSheets = [stylesheet`p { color: red }`];
  view() {
    return markup`<p title=${() => this.name}>${() => this.name} ${() => this.boxes}</p>
${each(
  () => this.rows,
  row => row,
  row => markup`<li>${() => row()}</li>`,
)}<slot></slot>`;
  }
}
HiveNote.define();

const counted = messages(
  'en',
  { hives: { one: '{count} hive', other: '{count} hives' } },
  {
    de: async () => ({ default: { hives: { one: '{count} Stock', other: '{count} Stöcke' } } }),
    fr: () => Promise.reject(new Error('no French')),
  },
);
class HiveCount extends contract('hive-count', { attributes: { count: integer() } }) {
  readonly text = counted(this);
  view() {
    return markup`${() => `${locale(this)} ${direction(this)} ${this.text('hives', { count: this.count })}`}`;
  }
}
HiveCount.define();
class HiveSigns extends contract('hive-signs', { attributes: { tongue: text() } }) {
  view() {
    return markup`<hive-count count="1"></hive-count><p lang="nl"><b><hive-count></hive-count></b></p><p lang=${() => this.tongue} dir="rtl">${() => markup`<hive-count></hive-count>`}</p><hive-count lang="sv"></hive-count>`;
  }
}
HiveSigns.define();

class HiveLeft extends contract('hive-left', { render: false }) {}
HiveLeft.define();

describe('language and direction', () => {
  const shown = (html: string) => [...plain(html).matchAll(/[a-zA-Z-]+ (?:ltr|rtl) [^<]+/g)].map(([text]) => text);
  const page = `<!doctype html><html lang="es"><body><hive-count></hive-count>
<section lang="nl"><p><hive-count></hive-count><div dir="RTL"><hive-signs tongue="pt"><hive-count slot="x"></hive-count></hive-signs></div></section>
<hive-count></hive-count><template lang="x"><hive-count></hive-count></template>
<hive-left lang="ca"><hive-count></hive-count></hive-left><hive-count lang="eu"><template shadowrootmode="open"></template><hive-count></hive-count></hive-count></body></html>`;

  it('are those of the elements around, in pages and views', () => {
    assert.deepEqual(shown(renderPage(page)), [
      'es ltr 0 hives',
      'nl ltr 0 hives',
      'nl rtl 1 hive',
      'nl rtl 0 hives',
      'pt rtl 0 hives',
      'sv rtl 0 hives',
      'nl rtl 0 hives',
      'es ltr 0 hives',
      'ca ltr 0 hives',
      'eu ltr 0 hives',
    ]);
    assert.deepEqual(shown(renderElement(HiveCount, { lang: 'it', dir: 'rtl' })), ['it rtl 0 hives']);
    assert.deepEqual(shown(renderElement(HiveCount, { lang: 'it', attributes: { lang: 'da' } })), ['da ltr 0 hives']);
    assert.deepEqual(shown(renderPage('<p dir="auto"><hive-count></hive-count>')), ['en ltr 0 hives']);
    assert.deepEqual(shown(renderMarkup(markup`<p dir="rtl"><hive-count></hive-count></p>`, { lang: 'it' })), [
      'it rtl 0 hives',
    ]);
  });

  it('are waited for with `wait`, and a language that cannot be loaded shows the first', async t => {
    const error = t.mock.method(console, 'error', () => {});
    const began = performance.now();
    assert.deepEqual(shown(await renderElement(HiveCount, { lang: 'de-AT', wait: 20_000 })), ['de-AT ltr 0 Stöcke']);
    assert.deepEqual(shown(await renderElement(HiveCount, { lang: 'fr', wait: 20_000 })), ['fr ltr 0 hives']);
    assert.ok(performance.now() - began < 10_000);
    assert.match(String(error.mock.calls.map(({ arguments: [text] }) => text)), /no French/);
    await counted.load('de');
    assert.deepEqual(shown(renderElement(HiveCount, { lang: 'de' })), ['de ltr 0 Stöcke']);
    await assert.rejects(counted.load('fr'), /no French/);
  });
});

describe('renderElement', () => {
  it('writes attributes, view, styles and content', () => {
    assert.equal(
      plain(
        renderElement(HiveNote, {
          attributes: { name: 'A & "B"', compact: true, title: null },
          properties: { boxes: 3, rows: ['x'] },
          content: markup`<b slot="badge">${'<new>'}</b>`,
        }),
      ),
      '<hive-note name="A &amp; &quot;B&quot;" compact="" boxes="3"><template shadowrootmode="open"><style data-eltrix>p { color: red }</style>' +
        '<p title="A &amp; &quot;B&quot;">A &amp; "B" 3</p>\n<li>x</li><slot></slot>' +
        '<script type="application/json" data-eltrix>{"properties":{"rows":["x"]}}</script></template><b slot="badge">&lt;new&gt;</b></hive-note>',
    );
  });

  it('writes the same bytes for the same input', () => {
    const once = () => renderElement(HiveNote, { properties: { rows: ['a', 'b'] } });
    assert.equal(once(), once());
  });

  it('links styles, or omits them', () => {
    assert.match(
      renderElement(HiveNote, { styles: 'linked', base: '/w/' }),
      /<template shadowrootmode="open"><link rel="stylesheet" href="\/w\/hive-note\.css" data-eltrix>/,
    );
    assert.doesNotMatch(renderElement(HiveNote, { styles: 'none' }), /<(?:style|link)/);
    assert.deepEqual(styleFiles([HiveNote])['hive-note.css'], 'p { color: red }');
  });

  it('writes the options of the shadow root', () => {
    const shadows: [Partial<ShadowRootInit> | 'none', RegExp][] = [
      [{ mode: 'closed' }, /<template shadowrootmode="closed">/],
      [{ delegatesFocus: true }, /shadowrootmode="open" shadowrootdelegatesfocus>/],
      [{ clonable: true, serializable: true }, /shadowrootclonable shadowrootserializable>/],
      [{ slotAssignment: 'manual' }, /^<root-kind><\/root-kind>$/],
      ['none', /^<root-kind><!--eltrix-view--><p>x<\/p><\/root-kind>$/],
    ];
    for (const [shadow, expected] of shadows) {
      class RootKind extends contract('root-kind', { shadow }) {
        view() {
          return markup`<p>x</p>`;
        }
      }
      assert.match(plain(renderElement(RootKind)), expected);
    }
  });

  it('shows nothing where a view gives nothing, and the content without a view', () => {
    class NoView extends contract('no-view', {}) {}
    class EmptyView extends contract('empty-view', {}) {
      view() {
        return undefined;
      }
    }
    assert.match(plain(renderElement(NoView, { content: 'x' })), /<slot><\/slot>/);
    assert.doesNotMatch(plain(renderElement(EmptyView, { content: 'x' })), /<slot>/);
  });

  it('treats slots as empty and states as a set, and does not observe pages', () => {
    class QuietOne extends contract('quiet-one', { states: { ripe: 'Ripe.' } }) {
      size = watchSize(this);
      view() {
        this.states.add('ripe');
        return markup`${() => this.slotted().length} ${() => this.size.get().width} ${this.states.size}`;
      }
      connected() {
        throw new Error('hooks do not run');
      }
    }
    assert.match(plain(renderElement(QuietOne)), />0 0 1</);
  });
});

describe('markup', () => {
  it('shows what the browser shows', () => {
    const name = signal('n');
    const cases: [Markup, string][] = [
      [markup`${null}${undefined}${true}${0}${''}${2n}`, '02'],
      [
        markup`<p class=${{ a: true, b: false }} hidden=${false} title=${true} id="x${1}y"></p>`,
        '<p class="a" title="" id="x1y"></p>',
      ],
      [
        markup`<p style=${{ color: 'red', '--x': null, marginTop: '1px' }}></p>`,
        '<p style="color: red; margin-top: 1px;"></p>',
      ],
      [markup`${['a', markup`<b>${['c']}</b>`, null]}`, 'a<b>c</b>'],
      [
        markup`<textarea>a ${'</textarea>'} b</textarea><title>${'t'}</title>`,
        '<textarea>a &lt;/textarea&gt; b</textarea><title>t</title>',
      ],
      [markup`<textarea ${sync(signal('\nx'))}></textarea>`, '<textarea>\n\nx</textarea>'],
      [
        markup`<input ${sync(name)}><input type="checkbox" ${sync(signal(true))}>`,
        '<input value="n"><input type="checkbox" checked="">',
      ],
      [
        markup`<select ${sync(signal('b'))}><option>a<option>b</select>`,
        '<select><option>a<option selected="">b</select>',
      ],
      [
        markup`<p ${{ className: 'c', textContent: '<i>', onclick() {} }} ${handle()} ${on('x', () => {})}></p>`,
        '<p class="c">&lt;i&gt;</p>',
      ],
      [markup`<svg viewBox="0 0 1 1"><path d="${'M0'}"/></svg>`, '<svg viewBox="0 0 1 1"><path d="M0"/></svg>'],
      [markup`<p>${'a\r\nb'}</p>`, '<p>a&#13;\nb</p>'],
      [markup`<p>${() => batch(() => name.get())}</p><b>`, '<p>n</p><b></b>'],
      [markup`<other-thing x=${{ a: 1 }}></other-thing>`, '<other-thing></other-thing>'],
    ];
    for (const [piece, expected] of cases) assert.equal(rendered(piece), expected);
  });

  it('renders elements at any depth, with properties', () => {
    const html = rendered(
      markup`<main><hive-note name="a" ${{ rows: ['q'] }}><hive-note name="b"></hive-note></hive-note></main>`,
    );
    assert.equal(html.match(/shadowrootmode/g)?.length, 2);
    assert.match(html, /<li>q<\/li>/);
  });

  it('provides context from elements that offer it', () => {
    const place = context<string>('place');
    class OfferPlace extends contract('offer-place', {}) {
      stop = offer(this, place, 'orchard');
      view() {
        return markup`<ask-place></ask-place><slot></slot>`;
      }
    }
    class AskPlace extends contract('ask-place', {}) {
      place = ask(this, place);
      view() {
        return markup`${() => this.place.get() ?? 'nowhere'}`;
      }
    }
    const html = plain(
      renderPage('<ask-place></ask-place><offer-place><ask-place></ask-place></offer-place>', {
        elements: [OfferPlace, AskPlace],
      }),
    );
    assert.deepEqual(html.match(/orchard|nowhere/g), ['nowhere', 'orchard', 'orchard']);
  });

  it('throws for infinite recursion', () => {
    class DeepOne extends contract('deep-one', {}) {
      view() {
        return markup`<deep-one></deep-one>`;
      }
    }
    assert.throws(() => renderElement(DeepOne, { elements: [DeepOne] }), /\(render-depth\): <deep-one>/);
  });
});

describe('a page', () => {
  it('keeps every byte outside views', () => {
    const page = `<!DOCTYPE html>\r\n<html><head><title><hive-note></title><style>hive-note{}</style><script>"<hive-note>"</script></head>
<body class=x><!-- <hive-note> --><HIVE-NOTE Name='A &amp; B' x><b slot=badge>!</b><p>one<p>two</HIVE-NOTE  ><textarea><hive-note></textarea>
<template><hive-note></hive-note></template><svg><hive-note/></svg><hive-note><template shadowrootmode="open">own</template></hive-note><table><tr><td><hive-note>`;
    const html = renderPage(page, { styles: 'none' });
    assert.equal(html.replace(/<template shadowrootmode="open"><!--\[-->[^]*?<\/template>/g, ''), page);
    assert.equal(html.match(/<!--\[--><p title=/g)?.length, 2);
    assert.match(html, /<p title="A &amp; B">/);
    assert.equal(renderPage(html, { styles: 'none' }), html, 'rendered again it stays');
  });

  it('puts the content of an element without a shadow root into its slots', () => {
    class PlainBox extends contract('plain-box', { slots: { '': slot('x'), head: slot('x') }, shadow: 'none' }) {
      static styleSheets = [stylesheet`:host([open]) b { color: red }`];
      view() {
        return markup`<header><slot name="head"><i>none</i></slot></header><slot></slot>`;
      }
    }
    const html = plain(
      renderPage('<plain-box>a<b slot=head>h</b>c<u slot=x>u</u></plain-box><plain-box></plain-box>', {
        elements: [PlainBox],
      }),
    );
    assert.equal(
      html,
      '<plain-box><!--eltrix-view--><style data-eltrix>@scope (plain-box) to (slot[data-given] > *) {\n:scope:is([open]) b { color: red }\n}</style>' +
        '<header><slot name="head" data-given=""><b slot=head>h</b><template data-eltrix><i>none</i></template></slot></header>' +
        '<slot data-given="">a<!---->c</slot><template data-eltrix><u slot=x>u</u></template></plain-box>' +
        '<plain-box><!--eltrix-view--><header><slot name="head"><i>none</i></slot></header><slot></slot></plain-box>',
    );
  });
});

describe('errors while rendering', () => {
  class NeedsPage extends contract('needs-page', {}) {
    view() {
      return markup`<p>a</p>
<p>${() => document.title}</p>`;
    }
  }

  it('name element and line, or go to onError while the rest is rendered', () => {
    assert.throws(
      () => renderElement(NeedsPage),
      (error: unknown) => {
        assert.ok(error instanceof RenderError);
        assert.equal(error.code, 'render-document');
        assert.match(
          error.message,
          /<needs-page> in line 2 of its markup uses document \(.*render\.test\.ts:\d+:\d+\)/,
        );
        return true;
      },
    );
    const errors: Error[] = [];
    const html = renderElement(NeedsPage, { onError: error => errors.push(error) });
    assert.match(plain(html), /<p>a<\/p>\n<p><\/p>/);
    assert.equal(errors.length, 1);
  });

  it('leave an element whose view throws to the browser, like one with render: false', () => {
    class FailsWhole extends contract('fails-whole', {}) {
      view(): Markup {
        throw new Error('no');
      }
    }
    class LeftOut extends contract('left-out', { render: false }) {
      view() {
        return markup`${window.name}`;
      }
    }
    const errors: string[] = [];
    const html = renderPage('<fails-whole>x</fails-whole><left-out>y</left-out>', {
      elements: [FailsWhole, LeftOut],
      onError: ({ message }) => errors.push(message),
    });
    assert.equal(html, '<fails-whole>x</fails-whole><left-out>y</left-out>');
    assert.equal(errors.length, 1);
  });

  it('explain a wrong class or attribute', () => {
    assert.throws(
      () => renderElement(class {} as never),
      /\(render-class\): renderElement\(\) takes a class made with contract\(\)/,
    );
    assert.throws(() => renderElement(HiveNote, { attributes: { 'a b': 1 } }), /\(render-attribute\): "a b"/);
    assert.throws(() => renderElement(HiveNote, { attributes: { onclick: 'x' } }), /\(render-attribute\): "onclick"/);
    assert.throws(() => renderPage('', { elements: [Map as never] }), /\(render-class\): elements takes classes/);
  });
});

describe('values that run code', () => {
  type Node = DefaultTreeAdapterTypes.ChildNode;
  /** Scripts, listeners and addresses that run code, anywhere in a page, also in templates. */
  function acts(html: string): string[] {
    const found: string[] = [];
    const visit = (node: Node) => {
      if ('attrs' in node) {
        if (node.tagName === 'script' && !node.attrs.some(({ value }) => value === 'application/json'))
          found.push('<script>');
        for (const { name, value } of node.attrs)
          if (
            /^on/.test(name) ||
            (/^(?:a|iframe|form|base|link)$/.test(node.tagName) &&
              /^(?:href|src|action)$/.test(name) &&
              /^[\0-\x20]*(?:java|vb)script:/i.test(value.replace(/[\t\n\r]/g, '')))
          )
            found.push(`${name}=${value}`);
      }
      if ('content' in node) node.content.childNodes.forEach(visit);
      if ('childNodes' in node) node.childNodes.forEach(visit);
    };
    parse(html).childNodes.forEach(visit);
    return found;
  }
  const texts = [
    '<script>alert(1)</script>',
    '"><img src=x onerror=alert(1)>',
    "' onclick='alert(1)",
    '--><script>alert(1)</script>',
    '</template><script>alert(1)</script>',
    '</textarea><script>alert(1)</script>',
    '</style><script>alert(1)</script>',
    '</script><script>alert(1)</script>',
    'javascript:alert(1)',
    ' java\nscript:alert(1)',
    'vbscript:x',
    ']--><script>alert(1)</script><!--[',
  ];

  it('are escaped or omitted everywhere', () => {
    class UnsafePlace extends contract('unsafe-place', {
      attributes: { href: text() },
      properties: { rows: data<string[]>(() => []) },
      shadow: 'none',
    }) {
      view() {
        return markup`<a href=${() => this.href} title=${() => this.href} style=${() => this.href} class=${() => this.href}>${() => this.href}</a>
          <textarea>${this.href}</textarea><textarea ${{ value: () => this.href }}></textarea><iframe src=${() => this.href}></iframe>
          <form action="${() => this.href}"></form><select><option value=${this.href}>${this.href}</option></select>
          <svg><a href=${() => this.href}></a></svg><input ${{ value: this.href, title: this.href, href: this.href }}>
          <template><a href=${this.href}>${this.href}</a></template><slot name=${this.href}></slot>
          ${each(
            () => this.rows,
            row => row,
            row => markup`<i>${() => row()}</i>`,
          )}`;
      }
    }
    const errors: Error[] = [];
    for (const value of texts) {
      const options = { onError: (error: Error) => errors.push(error), elements: [UnsafePlace, HiveNote] };
      const html =
        renderElement(UnsafePlace, {
          ...options,
          attributes: { href: value, title: value },
          properties: { rows: [value] },
          content: value,
        }) + renderElement(HiveNote, { ...options, attributes: { name: value }, properties: { rows: [value] } });
      assert.deepEqual(acts(html), [], value);
    }
    assert.ok(errors.some(({ message }) => /\(unsafe-value\)/.test(message)));
    assert.ok(errors.every(({ message }) => /\(unsafe-value\)/.test(message)));
  });
});

describe('a stream', () => {
  const all = async (stream: ReadableStream<Uint8Array>) => new Response(stream).text();

  it('has the same bytes', async () => {
    const piece = markup`<ul>${Array.from({ length: 5000 }, (_, i) => markup`<li>${i}</li>`)}</ul>`;
    assert.equal(await all(renderMarkupStream(piece)), renderMarkup(piece));
    assert.equal(await all(renderElementStream(HiveNote)), renderElement(HiveNote));
    const page = '<p>x</p><hive-note></hive-note>'.repeat(100);
    assert.equal(await all(renderPageStream(page)), renderPage(page));
  });

  it('starts before the end exists, renders on demand, and can be cancelled', async () => {
    let made = 0;
    function* rows() {
      for (;;) yield markup`<li>${made++} ${'x'.repeat(100)}</li>`;
    }
    const reader = renderMarkupStream(markup`<ul>${rows()}</ul>`).getReader();
    assert.equal(made, 0);
    await reader.read();
    assert.ok(made < 1000, `${made}`);
    const before = made;
    await new Promise(resolve => setTimeout(resolve, 20));
    assert.equal(made, before, 'nothing is made that nobody reads');
    await reader.cancel();
  });

  it('renders a million rows in constant memory', async () => {
    const begin = process.memoryUsage().rss;
    let most = 0;
    let rows = 0;
    function* list() {
      for (let i = 0; i < 1_000_000; i++) yield markup`<li>${i}</li>`;
    }
    for await (const part of renderMarkupStream(markup`${list()}`) as unknown as AsyncIterable<Uint8Array>) {
      rows += part.length;
      most = Math.max(most, process.memoryUsage().rss - begin);
    }
    assert.ok(rows > 20e6);
    assert.ok(most < 64e6, `${(most / 1e6).toFixed(0)} MB`);
  });
});

describe('requests', () => {
  it('render as pending, or as answered in time, with the answers as data', async () => {
    let asked = 0;
    const server = createServer(({ url }, response) => {
      asked++;
      if (url === '/slow') return;
      if (url === '/broken') return void response.writeHead(500).end();
      setTimeout(
        () => response.setHeader('content-type', 'application/json').end(JSON.stringify({ next: `/b`, url })),
        5,
      );
    });
    await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve));
    const base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    class AskTwice extends contract('ask-twice', { attributes: { from: text() } }) {
      first = request<{ next: string; url: string }>(() => base + (this.from || '/a'));
      second = request<{ url: string }>(() => this.first.value && base + this.first.value.next);
      view() {
        return markup`${() => (this.first.isPending ? 'pending' : this.first.value?.url)} ${() => this.second.value?.url}`;
      }
    }
    AskTwice.define();
    try {
      assert.match(plain(renderElement(AskTwice)), />pending </);
      assert.equal(asked, 0);
      const html = await renderElement(AskTwice, { wait: 5000 });
      assert.match(plain(html), />\/a \/b</);
      assert.equal(asked, 2);
      const [, json] = /<script[^>]*>(.*?)<\/script>/.exec(html)!;
      assert.deepEqual(Object.keys((JSON.parse(json!) as { answers: object }).answers), [`${base}/a`, `${base}/b`]);
      assert.match(plain(await renderElement(AskTwice, { attributes: { from: '/slow' }, wait: 50 })), />pending </);
      assert.match(plain(await all(renderElementStream(AskTwice, { wait: 5000 }))), />\/a \/b</);
      // Errors are reported once, although it is rendered until the answers are there.
      const errors: string[] = [];
      const onError = (error: Error) => errors.push(error.message);
      const piece = markup`<ask-twice></ask-twice>${() => {
        throw new RangeError('beside it');
      }}`;
      assert.match(plain(await renderMarkup(piece, { wait: 5000, onError })), />\/a \/b</);
      assert.equal(errors.length, 1, errors.join('\n'));
      // One that fails is not sent again and again.
      asked = 0;
      assert.match(plain(await renderElement(AskTwice, { attributes: { from: '/broken' }, wait: 1000 })), />pending </);
      assert.ok(asked <= 3, `${asked} requests`);
    } finally {
      server.closeAllConnections();
      server.close();
    }
    async function all(stream: ReadableStream<Uint8Array>) {
      return new Response(stream).text();
    }
  });
});
