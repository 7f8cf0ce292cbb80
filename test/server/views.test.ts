/** What `eltrix/views` and `eltrix/language` show where a server renders. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, integer, type Markup, markup, slot } from 'eltrix';
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
