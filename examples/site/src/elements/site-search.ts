import { contract, each, handle, markup, signal, text } from 'eltrix';
import sheet from './site-search.css' with { type: 'css' };

/** A section of a page. */
interface Section {
  /** Page and fragment. */
  readonly address: string;
  readonly page: string;
  readonly title: string;
  readonly text: string;
}

const most = 12;

export class SiteSearch extends contract('site-search', {
  about: 'Finds sections of the guides by their words.',
  attributes: { index: text({ about: 'Where the index is, as JSON.' }) },
  cssProperties: {
    '--line': 'Colour of lines.',
    '--raised': 'Colour of the field and the list.',
    '--shade': 'Colour of the section that is pointed at.',
    '--quiet': 'Colour of the names of pages.',
  },
}) {
  static styleSheets = [sheet];
  readonly #words = signal('');
  readonly #sections = signal<readonly Section[] | undefined>(undefined);
  readonly #canSearch = signal(false);
  readonly field = handle<HTMLInputElement>();

  view() {
    return markup`
      <input ${this.field} type="search" hidden=${() => !this.#canSearch.get()} aria-label="Search the guides" placeholder="Search, for example: slot fallback"
        onfocus=${() => void this.#load()} oninput=${() => this.#words.set(this.field.element!.value)} onkeydown=${this.pressed}>
      ${() => this.#words.get().trim().length > 1 && this.#results()}`;
  }

  /** Without scripts there is nothing to search with. */
  connected() {
    this.#canSearch.set(true);
  }

  async #load(): Promise<void> {
    if (this.#sections.peek()) return;
    const answer = await fetch(this.index);
    this.#sections.set((await answer.json()) as Section[]);
  }

  #found(): Section[] {
    const words = this.#words.get().toLowerCase().trim().split(/\s+/);
    const rated = (this.#sections.get() ?? []).flatMap(section => {
      const title = section.title.toLowerCase();
      const all = `${title} ${section.page.toLowerCase()} ${section.text.toLowerCase()}`;
      if (!words.every(word => all.includes(word))) return [];
      const inTitle = words.filter(word => title.includes(word)).length;
      return [{ section, rate: inTitle * 10 - section.text.length / 10_000 }];
    });
    return rated
      .sort((a, b) => b.rate - a.rate)
      .slice(0, most)
      .map(({ section }) => section);
  }

  #results() {
    return markup`<ol role="list" aria-label="Sections found">${each(
      () => this.#found(),
      ({ address }) => address,
      section =>
        markup`<li><a href=${() => section().address}>${() => section().title}<small>${() => section().page}</small></a></li>`,
    )}${() => this.#sections.get() && this.#found().length === 0 && markup`<li><p>Nothing has these words.</p></li>`}</ol>`;
  }

  pressed(event: KeyboardEvent) {
    if (event.key === 'Escape') {
      this.field.element!.value = '';
      this.#words.set('');
    }
    if (event.key === 'Enter') this.shadowRoot!.querySelector('a')?.click();
  }
}
SiteSearch.define();

declare global {
  interface HTMLElementTagNameMap {
    'site-search': SiteSearch;
  }
}
