/** Random trees in which `lang` and `dir` change and elements move: each element shows the nearest, at any moment. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { computed, contract, each, markup, type Scope, settled } from 'eltrix';
import { direction, formats, locale, messages } from 'eltrix/language';
import { environment, stage } from 'eltrix-tool/testing';
import { random } from '../support/random.ts';

const texts = messages(
  'en',
  { hives: { one: '{count} hive', other: '{count} hives' } },
  {
    de: async () => ({ hives: { one: '{count} Stock', other: '{count} Stöcke' } }),
  },
);

const view = (host: HTMLElement, say: () => string, found: () => string) =>
  markup`<p title=${() => direction(host)}>${say}</p><b>${found}</b>${each(
    () => [1, 2],
    row => row,
    row => markup`<i>${() => `${row()} ${locale(host)}`}</i>`,
  )}<slot></slot>`;

class SpokenCard extends contract('spoken-card', {}) {
  readonly text = texts(this);
  readonly found = computed(() => `${locale(this)} ${direction(this)}`);
  effected = '';

  view() {
    return view(
      this,
      () => this.text('hives', { count: 2 }),
      () => this.found.get(),
    );
  }

  connected(scope: Scope) {
    scope.effect(() => {
      this.effected = locale(this);
    });
  }

  /** With it, moveBefore() does not disconnect the element. */
  moved() {}
}
SpokenCard.define();

class SpokenNote extends contract('spoken-note', { shadow: 'none' }) {
  readonly format = formats(this);
  readonly found = computed(() => `${locale(this)} ${direction(this)}`);

  view() {
    return markup`<p title=${() => direction(this)}>${() => this.format.number(1.5)}</p><b>${() => this.found.get()}</b>`;
  }
}
SpokenNote.define();

/** What the platform says: the nearest attribute, through shadow roots. */
function nearest(element: Element, name: string): string {
  for (let at: Node | null = element; at; at = at.parentNode ?? (at as ShadowRoot).host ?? null)
    if (at instanceof Element && at.getAttribute(name)) return at.getAttribute(name)!;
  return '';
}

const programs = 12;
const steps = 16;

it(`${programs} random programs of ${steps} changes`, {
  skip: environment.engine === 'simulated' && 'it does not move elements',
}, async () => {
  for (let program = 0; program < programs; program++) {
    const next = random(program + 1);
    const page = await stage('<main lang="en"></main>');
    const sections = [0, 1, 2, 3].map(() => document.createElement('section'));
    for (const [at, section] of sections.entries()) {
      (sections[at - 1] ?? page).append(section);
      if (at > 1) section.attachShadow({ mode: 'open' }).append(document.createElement('slot'));
    }
    const cards = [0, 1, 2, 3].map(at => document.createElement(at % 2 ? 'spoken-note' : 'spoken-card'));
    sections[0]!.append(...cards);
    const done: string[] = [];
    const pick = <T>(from: readonly T[]) => from[next(from.length)]!;
    for (let step = 0; step < steps; step++) {
      const card = pick(cards);
      const section = pick(sections);
      const named = `card ${cards.indexOf(card)}, section ${sections.indexOf(section)}`;
      const what = next(7);
      const place: Element | ShadowRoot = next(2) ? (section.shadowRoot ?? section) : section;
      if (what === 0) {
        const lang = pick(['de', 'de-AT', 'en', '', 'cs']);
        done.push(`lang ${lang} of ${named}`);
        if (lang) section.lang = lang;
        else section.removeAttribute('lang');
      } else if (what === 1) {
        const dir = pick(['rtl', 'ltr']);
        done.push(`dir ${dir} of ${named}`);
        pick([section, card]).dir = dir;
      } else if (what === 2) {
        done.push(`append ${named}`);
        place.append(card);
      } else if (what === 3 && card.isConnected && section.isConnected && 'moveBefore' in section) {
        done.push(`moveBefore ${named}`);
        // Chromium may crash where it moves into a shadow root.
        (section as Element & { moveBefore(node: Node, before: Node | null): void }).moveBefore(card, null);
      } else if (what === 4) {
        done.push(`remove ${named}`);
        card.remove();
        if (next(2)) await settled();
      } else if (what === 5) {
        // With all that is in it.
        const target = pick([page, ...sections]);
        if (section.contains(target)) continue;
        done.push(`section ${sections.indexOf(section)} into ${sections.indexOf(target as HTMLElement)}`);
        target.append(section);
      } else {
        done.push(`lang de of ${named}`);
        card.lang = 'de';
      }
      await settled();
      await new Promise(resolve => setTimeout(resolve));
      const journey = `program ${program}: ${done.join('; ')}`;
      for (const [at, card] of cards.entries()) {
        if (!card.isConnected) continue;
        const [lang, dir] = [nearest(card, 'lang'), nearest(card, 'dir') || 'ltr'];
        const root = card.shadowRoot ?? card;
        const said = root.querySelector('p')!;
        const isCard = card instanceof SpokenCard;
        const text = isCard ? (lang.startsWith('de') ? '2 Stöcke' : '2 hives') : (1.5).toLocaleString(lang);
        assert.deepEqual(
          {
            journey,
            at,
            found: root.querySelector('b')!.textContent,
            title: said.title,
            text: said.textContent,
            rows: [...root.querySelectorAll('i')].map(({ textContent }) => textContent),
            effected: isCard && card.effected,
          },
          {
            journey,
            at,
            found: `${lang} ${dir}`,
            title: dir,
            text,
            rows: isCard ? [`1 ${lang}`, `2 ${lang}`] : [],
            effected: isCard && lang,
          },
        );
      }
    }
    page.remove();
  }
});
