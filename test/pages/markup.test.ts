import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { contract, data, each, fixed, flag, handle, type Markup, markup, on, settled, signal, text } from 'eltrix';
import { compiled, heard, messages, place, tells, warns } from './support.ts';

// A build puts a comment where a fixed first node is needed.
const seen = (text: string) => (compiled ? text.replace(/<!--[^]*?-->/g, '') : text);
const shows = (view: Markup, expected: string) => assert.equal(seen(place(() => view).innerHTML), seen(expected));

describe('expressions in text', () => {
  it('show text, numbers, nodes, markup, lists, templates and nothing', () => {
    const node = document.createElement('i');
    const template = document.createElement('template');
    template.content.append(document.createElement('s'), 't');
    shows(markup`${'<b>'}`, '&lt;b&gt;');
    shows(markup`a${1}b${2n}c`, 'a1b2c');
    shows(markup`<p>${null}${undefined}${true}${false}${''}</p>`, '<p></p>');
    shows(markup`${node}`, '<i></i>');
    shows(markup`<p>${template}${template}</p>`, '<p><s></s>t<s></s>t</p>');
    shows(markup`${markup`<u>${'x'}</u>`}${[1, 'a', [markup`<b></b>`, null]]}`, '<u>x</u>1a<b></b>');
    shows(markup`${new Set(['a', 'b'])}`, 'ab');
    shows(markup`<p>${'first'}<b></b>${'last'}</p>`, '<p>first<b></b>last</p>');
  });

  it('change between all of these and keep nodes where possible', async () => {
    const what = signal<unknown>('text');
    const root = place(() => markup`<p>${() => what.get()}!</p>`);
    const steps: [unknown, string][] = [
      [markup`<b>${1}</b>`, '<b>1</b>!'],
      [[1, markup`<i></i>`, 'z'], '1<i></i>z!'],
      [['q'], 'q!'],
      [document.createElement('s'), '<s></s>!'],
      [null, '!'],
      [5, '5!'],
      [
        each(
          [1, 2],
          n => n,
          n => markup`<u>${n}</u>`,
        ),
        '<u>1</u><u>2</u>!',
      ],
      ['', '!'],
    ];
    for (const [value, expected] of steps) {
      what.set(value);
      await settled();
      assert.equal(root.querySelector('p')!.innerHTML, expected);
    }
    const piece = (n: number) => markup`<input value=${n}><b>${n}</b>`;
    what.set(piece(1));
    await settled();
    const input = root.querySelector('input')!;
    what.set(piece(2));
    await settled();
    assert.equal(root.querySelector('input'), input);
    assert.equal(root.querySelector('p')!.innerHTML, '<input value="2"><b>2</b>!');
  });

  it('show an odd object as text, with a warning', async () => {
    const { warnings } = await heard(() => shows(markup`<p>${{ a: 1 }}</p>`, '<p>[object Object]</p>'));
    warns(warnings, [
      /^Warning \(odd-value\): <markup-\d+>, line 1 of the markup, expression 1 \(<p>\$\{…\}<\/p>\): an object was given, but text/,
    ]);
  });
});

describe('expressions in attributes', () => {
  it('set, set empty, remove, and join texts', async () => {
    shows(
      markup`<p a=${'x'} b="${1}" c='${true}' d=${false} e=${null} f="1${2}3${4}5" g="&amp;${'&amp;'}" h="${'a'}${'b'}"></p>`,
      '<p a="x" b="1" c="" f="12345" g="&amp;&amp;amp;" h="ab"></p>',
    );
    const value = signal<unknown>('x');
    const p = place(() => markup`<p title=${() => value.get()} lang="e${() => value.get()}"></p>`).querySelector('p')!;
    for (const [next, expected] of [
      [true, ''],
      [null, null],
      [0, '0'],
      [false, null],
      ['y', 'y'],
    ] as const) {
      value.set(next);
      await settled();
      assert.equal(p.getAttribute('title'), expected);
    }
    assert.equal(p.lang, 'ey');
  });

  it('class takes a list or a record, style a record', async () => {
    shows(markup`<p class=${['a', false, 'b', { c: true, d: 0 }]}></p>`, '<p class="a b c"></p>');
    shows(markup`<p class="x ${{ y: 1 }} ${['z']}"></p>`, '<p class="x y z"></p>');
    const style = signal<Record<string, unknown>>({ color: 'red', backgroundColor: 'blue', '--x': 1 });
    const p = place(() => markup`<p style=${() => style.get()}></p>`).querySelector('p')!;
    assert.deepEqual([p.style.color, p.style.backgroundColor, p.style.getPropertyValue('--x')], ['red', 'blue', '1']);
    style.set({ color: 'green', '--x': null });
    await settled();
    assert.equal(p.style.cssText, 'color: green;');
    assert.equal(
      place(() => markup`<p style="color: red; margin-left: ${3}px"></p>`).querySelector('p')!.style.cssText,
      'color: red; margin-left: 3px;',
    );
    assert.equal(place(() => markup`<p style="color: red"></p>`).querySelector('p')!.style.color, 'red');
  });

  it('listeners are called with the owner of the view, and may be objects', () => {
    const calls: unknown[] = [];
    const object = { handleEvent: (event: Event) => calls.push(event.type) };
    const root = place(
      () =>
        markup`<button onclick=${function (this: unknown) {
          calls.push(this);
        }} onhive-open=${object} onfocus=${null}></button><a ${on('click', () => calls.push('once'), { once: true })}></a>`,
    );
    const button = root.querySelector('button')!;
    button.click();
    button.dispatchEvent(new Event('hive-open'));
    root.querySelector('a')!.click();
    root.querySelector('a')!.click();
    assert.deepEqual(calls, [root.host, 'hive-open', 'once']);
  });

  it('records set live and fixed properties, listen, and keep the selection', async () => {
    const draft = signal('hello');
    const compare = () => 1;
    let clicks = 0;
    const box = handle<HTMLInputElement>();
    const root = place(
      () =>
        markup`<input ${box} ${{ value: () => draft.get(), disabled: false, compare: fixed(compare), onclick: () => clicks++ }}>`,
    );
    const input = root.querySelector('input')!;
    assert.equal(box.element, input);
    assert.deepEqual(
      [input.value, (input as unknown as { compare: unknown }).compare, input.hasAttribute('value')],
      ['hello', compare, false],
    );
    input.click();
    assert.equal(clicks, 1);
    input.value = 'hello!';
    input.setSelectionRange(2, 3);
    draft.set('hello!');
    await settled();
    assert.deepEqual([input.selectionStart, input.selectionEnd], [2, 3]);
  });

  it('custom elements inside are upgraded before properties are set', () => {
    const order: string[] = [];
    class InnerOne extends contract('inner-one', {
      properties: { items: data<number[]>(() => []) },
      attributes: { open: flag(), label: text() },
    }) {
      constructor() {
        super();
        order.push('made');
      }
      view() {
        return markup`<b>${() => this.items.join('+')}${() => this.label}</b>`;
      }
    }
    InnerOne.define();
    const root = place(
      () =>
        markup`<inner-one ${{ items: [1, 2] }} open label=${'x'}></inner-one><inner-one items=${[3, 4]}></inner-one>`,
    );
    const [one, two] = root.querySelectorAll<InnerOne>('inner-one');
    assert.deepEqual(
      [order.length, one!.shadowRoot!.textContent, one!.open, two!.shadowRoot!.textContent],
      [2, '1+2x', true, '3+4'],
    );
    assert.equal(Object.hasOwn(one!, 'items'), false);
  });
});

describe('markup of every kind', () => {
  it('SVG, MathML, tables, selects, templates, comments and odd quotes', () => {
    const dot = (x: number) => markup.svg`<circle cx=${x} r="1"></circle>`;
    const root = place(
      () =>
        markup`<svg viewBox="0 0 ${9} 9">${[1, 2].map(dot)}<title>${'t'}</title><a xlink:href=${'#x'}></a><foreignObject><p>${'in'}</p></foreignObject></svg><math>${markup.math`<mi>${'x'}</mi>`}</math>`,
    );
    const svg = root.querySelector('svg')!;
    assert.deepEqual(
      [svg.getAttribute('viewBox'), svg.querySelectorAll('circle').length, svg.querySelector('circle')!.namespaceURI],
      ['0 0 9 9', 2, 'http://www.w3.org/2000/svg'],
    );
    assert.equal(svg.querySelector('a')!.getAttributeNS('http://www.w3.org/1999/xlink', 'href'), '#x');
    assert.equal(svg.querySelector('p')!.namespaceURI, 'http://www.w3.org/1999/xhtml');
    assert.equal(svg.querySelector('title')!.textContent, 't');
    assert.equal(root.querySelector('mi')!.namespaceURI, 'http://www.w3.org/1998/Math/MathML');
    shows(
      markup`<table><tbody>${each(
        [1, 2],
        n => n,
        n => markup`<tr><td>${n()}</td></tr>`,
      )}</tbody></table>`,
      '<table><tbody><tr><td>1</td></tr><tr><td>2</td></tr></tbody></table>',
    );
    shows(
      markup`<select>${['a', 'b'].map(v => markup`<option value=${v}>${v}</option>`)}</select>`,
      '<select><option value="a">a</option><option value="b">b</option></select>',
    );
    const template = place(() => markup`<template><p class=${'c'}>${'inside'}</p></template>`).querySelector(
      'template',
    )!;
    assert.equal(template.innerHTML, '<p class="c">inside</p>');
    shows(
      markup`<!-- a > b --><p title='"' x=y>${1} < 2 &lt; <![CDATA[c]]></p>`,
      // The author's comments do not come into the page.
      '<p title="&quot;" x="y">1 &lt; 2 &lt; </p>',
    );
    const area = place(() => markup`<textarea>a ${'<b>'} c</textarea>`).querySelector('textarea')!;
    assert.equal(area.value, 'a <b> c');
    shows(markup`<p>${1}${2}${3}</p>${4}`, '<p>123</p>4');
  });
});

describe('mistakes and errors', () => {
  it('an invalid expression throws at once, with its line', async () => {
    const refused: [Markup, string][] = [
      [markup`<p>\n<${'b'}>`, 'hole-in-tag'],
      [markup`<p ${'a'}=1>`, 'element-hole'],
      [markup`<p a${'b'}="1">`, 'hole-in-name'],
      [markup`<!-- ${1} -->`, 'hole-in-comment'],
      [markup`<script>${1}</script>`, 'hole-in-script'],
      [markup`<style>p { color: ${'red'} }</style>`, 'hole-in-style'],
      [markup`<p onclick=${'alert(1)'}></p>`, 'listener-type'],
      [markup`<p onclick="a${() => {}}"></p>`, 'listener-text'],
      [markup`<p ${5}></p>`, 'element-hole'],
      [markup`<p class="a`, 'markup-unfinished'],
    ];
    for (const [view, code] of refused) {
      const { errors } = await heard(() => place(() => view));
      tells(messages(errors)[0], new RegExp(`^\\(${code}\\): `));
    }
    const forged = (markup as unknown as (strings: readonly string[]) => Markup)(['<img src=x>']);
    const { errors } = await heard(() => place(() => forged));
    tells(
      messages(errors)[0],
      '(markup-forged): markup was called as a function. Write it as a template: markup`<p>${text}</p>`.',
    );
  });

  it('an error in an expression has its position, keeps the rest working and recovers', async () => {
    const good = signal(true);
    let root!: ShadowRoot;
    const { errors } = await heard(async () => {
      root = place(
        () => markup`<p>fine</p>
          <b title=${() => good.get()}>${() => {
            if (!good.get()) throw new RangeError('bad day');
            return 'ok';
          }}</b>`,
      );
      good.set(false);
    });
    assert.equal(errors.length, 1);
    tells(
      messages(errors)[0],
      /^\(hole-failed\): <markup-\d+>, line 2 of the markup, expression 2 \(.*\$\{…\}<\/b>\): RangeError: bad day\. The nearest region around it shows its fallback; without one, the expression keeps its previous value\. The rest of the view keeps working\.$/,
    );
    const { code, cause } = errors[0] as Error & { code: string };
    assert.equal(code, 'hole-failed');
    assert.ok(cause instanceof RangeError);
    assert.equal(root.querySelector('b')!.outerHTML, '<b>ok</b>');
    await heard(() => good.set(true));
    assert.equal(root.querySelector('b')!.outerHTML, '<b title="">ok</b>');
  });
});
