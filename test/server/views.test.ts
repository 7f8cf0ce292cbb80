/** What `eltrix/views` and `eltrix/language` show where a server renders. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, each, integer, type Markup, markup, slot, stylesheet, text } from 'eltrix';
import { formats, locale, messages } from 'eltrix/language';
import { renderElement } from 'eltrix/server';
import { eachInView, entering, leaving, promised, region } from 'eltrix/views';

const texts = messages('en', { hives: { one: '{count} hive', other: '{count} hives' } });

class ServedList extends contract('served-list', {
  attributes: { count: integer() },
  slots: { '': slot('Text.'), badge: slot('Badge.') },
  semantics: { role: 'list' },
  states: { long: { about: 'Many rows.', when: list => list.count > 40 } },
}) {
  readonly text = texts(this);
  readonly format = formats(this);
  readonly rows = eachInView(
    () => Array.from({ length: this.count }, (_, at) => at),
    at => at,
    at => markup`<li ${leaving([{ opacity: 1 }])} ${entering([{ opacity: 0 }])}>${at}</li>`,
  );

  view() {
    return markup`<p>${() => this.text('hives', { count: this.count })}, ${() => this.format.number(1234.5)}, ${() => locale(this)}</p>
      ${region(
        () => markup`<i>${() => 'inside'}</i>`,
        () => 'fallback',
      )}
      ${promised(async () => 1, { pending: () => 'pending', fulfilled: value => value })}
      <ul>${this.rows}</ul>
      <b>${() => [this.isFilled(), this.isFilled('badge')].join()}</b>`;
  }
}
ServedList.define();

const html = (content?: Markup | string) =>
  renderElement(ServedList, { attributes: { lang: 'de', count: '100' }, ...(content !== undefined && { content }) });

it('renders texts, regions, pending views, and the first rows of a long list', () => {
  const text = html();
  assert.match(text, /100 hives<!--\]-->, <!--\[-->1\.234,5<!--\]-->, <!--\[-->de/);
  assert.match(text, /<i><!--\[-->inside<!--\]--><\/i>/);
  assert.match(text, /pending/);
  assert.equal(text.match(/<li>/g)?.length, 30);
});

it('renders a list and a promise that a live expression returns', () => {
  class ServedChoice extends contract('served-choice', {}) {
    view() {
      const list = each(
        () => ['a', 'b'],
        item => item,
        item => markup`<li>${item}</li>`,
      );
      return markup`<ul>${() => list}</ul><p>${() => promised(() => 'now', { fulfilled: value => markup`<b>${value}</b>` })}</p>`;
    }
  }
  const text = renderElement(ServedChoice).replace(/<!--.*?-->/g, '');
  assert.match(text, /<ul><li>a<\/li><li>b<\/li><\/ul><p><b>now<\/b><\/p>/);
});

class FailingNote extends contract('failing-note', { attributes: { at: text() } }) {
  static styleSheets = [stylesheet`p { margin: 0 }`];
  view() {
    const fail = (where: string) => {
      if (this.at === where) throw new RangeError(where);
      return where;
    };
    const shown = (error: unknown) => markup`<b>${String(error)}</b>`;
    const whole = () => {
      fail('view');
      return markup`<i>${() => fail('expression')}</i><light-note at=${this.at}></light-note><ul>${[1].map(() => markup`<li>${() => fail('row')}</li>`)}</ul>`;
    };
    return markup`<p>before</p>${region(whole, shown)}${region(
      () => markup`<u>${() => fail('outer')}</u>${region(() => markup`${() => fail('inner')}`, shown)}`,
      shown,
    )}<p>after</p>`;
  }
}
FailingNote.define();
class LightNote extends contract('light-note', { attributes: { at: text() }, shadow: 'none' }) {
  static styleSheets = [stylesheet`s { color: red }`];
  view() {
    if (this.at === 'element') throw new RangeError('element');
    return markup`<s>light</s>`;
  }
}
LightNote.define();

it('shows the fallback of a region', t => {
  const logged = t.mock.method(console, 'error', () => {});
  const shown = (at: string, options = {}) =>
    renderElement(FailingNote, { attributes: { at }, ...options }).replace(/<!--[[\],]-->|<style.*?<\/style>/gs, '');
  const [whole] = /<p>before.*after<\/p>/.exec(shown(''))!;
  assert.equal(
    whole,
    '<p>before</p><i>expression</i><light-note at=""><!--view--><s>light</s></light-note><ul><li>row</li></ul><u>outer</u>inner<p>after</p>'.replace(
      '<!--view-->',
      /<!--.*?-->/.exec(whole)?.[0] ?? '',
    ),
  );
  assert.equal(logged.mock.callCount(), 0);
  for (const at of ['view', 'expression', 'element', 'row'])
    assert.match(shown(at), new RegExp(`<p>before</p><b>RangeError: ${at}</b><u>outer</u>inner<p>after</p>`));
  assert.match(shown('inner'), /<\/ul><u>outer<\/u><b>RangeError: inner<\/b><p>after<\/p>/);
  assert.match(shown('outer'), /<\/ul><b>RangeError: outer<\/b><p>after<\/p>/);
  assert.equal(logged.mock.callCount(), 6);
  const errors: string[] = [];
  shown('row', { onError: (error: Error) => errors.push(error.message) });
  assert.match(errors.join(), /^\(render-failed\): <failing-note> in line 1 of its markup .*RangeError: row$/);
  assert.equal(logged.mock.callCount(), 6);
});

it('knows which slots have content', () => {
  assert.match(html(), /<b><!--\[-->false,false/);
  assert.match(html(' \n '), /<b><!--\[-->false,false/);
  assert.match(html('words'), /<b><!--\[-->true,false/);
  assert.match(html(markup` <em slot="badge">!</em> `), /<b><!--\[-->false,true/);
  assert.match(html(markup`${'x'}`), /<b><!--\[-->true,false/);
});

class ServedNote extends contract('served-note', { slots: { '': slot('Text.'), icon: slot('A picture.') } }) {
  view() {
    return markup`<served-list><slot name=${() => 'icon'} slot="badge"></slot><slot></slot></served-list>
      <served-list><slot name="icon" slot="badge">none</slot></served-list>`;
  }
}
ServedNote.define();

it('knows which slots have content that an outer element passes on', () => {
  const filled = (content: Markup | string) =>
    [...renderElement(ServedNote, { content }).matchAll(/<b><!--\[-->(\w+),(\w+)/g)].map(match =>
      match.slice(1).join(),
    );
  assert.deepEqual(filled(''), ['false,false', 'false,true']);
  assert.deepEqual(filled('text'), ['true,false', 'false,true']);
  assert.deepEqual(filled(markup`<img slot="icon" alt="">`), ['false,true', 'false,true']);
});
