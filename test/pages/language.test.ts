/** Languages: what the page states, formatters, texts. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, effect, integer, markup, settled } from 'eltrix';
import { direction, formats, locale, messages } from 'eltrix/language';
import { stage, waitFor as waits } from 'eltrix-tool/testing';

/** A busy machine may need its time. */
const waitFor = (check: () => void) => waits(check, { timeout: 8000 });

let loads = 0;
const texts = messages(
  'en',
  {
    hello: 'Hello, {name}',
    hives: { one: '{count} hive', other: '{count} hives' },
    close: 'Close',
  },
  {
    de: async () => {
      loads++;
      return {
        hello: 'Guten Tag, {name}',
        hives: { one: '{count} Stock', other: '{count} Stöcke' },
        close: 'Schließen',
      };
    },
    // @ts-expect-error a key is missing.
    cs: async () => ({
      hello: 'Ahoj, {name}',
      hives: { one: '{count} úl', few: '{count} úly', many: '{count} úlu', other: '{count} úlů' },
    }),
    nl: () => Promise.reject(new Error('offline')),
  },
);

class LanguageCard extends contract('language-card', { attributes: { count: integer() } }) {
  readonly text = texts(this);
  readonly format = formats(this);

  view() {
    return markup`<p>${() => this.text('hives', { count: this.count })}</p><b>${() => locale(this)}</b><i>${() => direction(this)}</i><u>${() =>
      this.format.number(1234.5)}</u>`;
  }

  typed() {
    // @ts-expect-error its parameter is missing.
    this.text('hello');
    // @ts-expect-error no such text.
    this.text('bye');
    this.text('close');
  }
}
LanguageCard.define();

const shown = (card: Element) => [...card.shadowRoot!.children].map(one => one.textContent).join(' ');

it('follows the nearest lang and dir, through shadow roots', async () => {
  const outer = await stage<HTMLElement>('<section lang="en-GB"><div></div></section>');
  const root = outer.firstElementChild!.attachShadow({ mode: 'open' });
  const card = document.createElement('language-card') as LanguageCard;
  const before = loads;
  card.count = 1;
  root.append(card);
  await settled();
  assert.equal(shown(card), '1 hive en-GB ltr 1,234.5');
  outer.lang = 'de-AT';
  outer.dir = 'rtl';
  await waitFor(() => assert.match(shown(card), /^1 Stock de-AT rtl 1/));
  card.count = 12345;
  await settled();
  assert.match(shown(card), /^12.345 Stöcke/);
  card.lang = 'cs';
  card.count = 3;
  await waitFor(() => assert.match(shown(card), /^3 úly cs/));
  assert.ok(loads - before < 2, 'each language is loaded once');
  card.lang = 'not a tag';
  await waitFor(() => assert.match(shown(card), new RegExp(` (?:${navigator.language}|en) `)));
});

it('is that of a link around it in no document, which has a host of another kind', async () => {
  const link = Object.assign(document.createElement('a'), { href: 'https://example.org/', lang: 'de-AT' });
  const card = document.createElement('language-card') as LanguageCard;
  link.append(card);
  const seen: string[] = [];
  const stop = effect(() => void seen.push(locale(card)));
  stop();
  assert.deepEqual(seen, ['de-AT']);
});

it('shows the first language until another one is loaded, and for keys that it lacks', async () => {
  const card = await stage<LanguageCard>('<language-card lang="cs"></language-card>');
  await waitFor(() => assert.equal(card.text('hello', { name: 'Ida' }), 'Ahoj, Ida'));
  assert.equal(card.text('close'), 'Close');
});

it('loads the texts of a language again after a failure, for all that show them', async t => {
  const errors: unknown[] = [];
  t.mock.method(globalThis, 'reportError', (error: unknown) => errors.push(error));
  let isOffline = true;
  const texts = messages(
    'en',
    { size: '{größe} of {constructor}' },
    { nl: async () => (isOffline ? Promise.reject(new Error('offline')) : { size: 'van {größe}' }) },
  );
  const card = (await stage('<p lang="nl"></p>')) as HTMLElement;
  const shown: string[][] = [[], []];
  const show = (at: number) =>
    effect(() => void shown[at]!.push(texts(card)('size', { größe: 'XL', constructor: 'x' })));
  const stops = [show(0)];
  await waitFor(() => assert.equal(errors.length, 1));
  isOffline = false;
  stops.push(show(1));
  await waitFor(() =>
    assert.deepEqual(shown, [
      ['XL of x', 'van XL'],
      ['XL of x', 'van XL'],
    ]),
  );
  for (const stop of stops) stop();
});

it('lists the keys that each language lacks', async t => {
  t.mock.method(globalThis, 'reportError', () => {});
  await assert.rejects(texts.missing(), /offline/);
  const complete = messages(
    'en',
    { a: 'A', b: 'B' },
    { de: async () => ({ a: 'A' }) as never, fr: async () => ({ a: '', b: '' }) },
  );
  assert.deepEqual(await complete.missing(), { de: ['b'] });
});

it('formats dates, lists and relative times in the language of the element', async () => {
  const card = await stage<LanguageCard>('<language-card lang="de"></language-card>');
  const { format } = card;
  assert.equal(format.date(Date.UTC(2026, 4, 3), { dateStyle: 'long', timeZone: 'UTC' }), '3. Mai 2026');
  assert.equal(format.list(['Wabe', 'Rahmen']), 'Wabe und Rahmen');
  assert.equal(format.relative(-1, 'day', { numeric: 'auto' }), 'gestern');
  assert.ok(format.compare('ä', 'b') < 0);
});
