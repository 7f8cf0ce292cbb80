import { computed, contract, data, each, markup, signal, stylesheet, text } from 'eltrix';
import type { GalleryEntry } from '../model.ts';
import { baseStyle } from './base-style.ts';

export class GalleryIndex extends contract('gallery-index', {
  about: 'The elements of the project by folder, with a search field.',
  attributes: {
    project: text({ about: 'The name of the project.' }),
    chosen: text({ about: 'The tag of the shown element; empty on the overview.' }),
  },
  properties: { elements: data<readonly GalleryEntry[]>(() => [], { about: 'All elements.' }) },
}) {
  static styleSheets = [
    baseStyle,
    stylesheet`
      :host { display: flex; flex-direction: column; min-height: 0; }
      .top { padding: 18px 16px 12px; }
      .home { display: block; text-decoration: none; }
      .home b { display: block; font-size: 17px; font-weight: 700; letter-spacing: -0.015em; overflow-wrap: anywhere; }
      .home:hover b { text-decoration: underline; }
      .home span { font-size: 12px; color: var(--muted); }
      .search { margin-top: 12px; }
      .folders { flex: 1; min-height: 0; overflow: auto; padding: 0 8px 20px; }
      h2 { padding: 12px 8px 4px; font-size: 12px; font-weight: 600; color: var(--muted); overflow-wrap: anywhere; }
      li { content-visibility: auto; contain-intrinsic-size: auto 30px; }
      li a {
        display: flex; justify-content: space-between; gap: 8px; padding: 5px 8px; border-radius: 6px; font-family: var(--mono); font-size: 12.5px;
        text-decoration: none; overflow-wrap: anywhere;
      }
      li a:hover { background: var(--line); }
      li a[aria-current] { background: var(--ink); color: var(--paper); }
      small { font-family: var(--sans); font-size: 11px; font-variant-numeric: tabular-nums; color: var(--muted); }
      a[aria-current] small { color: inherit; }
      .none { padding: 12px 8px; font-size: var(--small); line-height: 1.5; }
    `,
  ];

  #wanted = signal('');

  #found = computed(() => {
    const words = this.#wanted.get().toLowerCase().split(/\s+/).filter(Boolean);
    return this.elements.filter(({ tag, about = '', folder }) => {
      const text = `${tag} ${folder} ${about}`.toLowerCase();
      return words.every(word => text.includes(word));
    });
  });

  get folders(): { folder: string; entries: GalleryEntry[] }[] {
    const folders = new Map<string, GalleryEntry[]>();
    for (const entry of this.#found.get()) {
      const entries = folders.get(entry.folder);
      if (entries) entries.push(entry);
      else folders.set(entry.folder, [entry]);
    }
    return [...folders].sort(([a], [b]) => (a < b ? -1 : 1)).map(([folder, entries]) => ({ folder, entries }));
  }

  view() {
    return markup`
      <div class="top">
        <a class="home" href="#/" aria-current=${() => (this.chosen === '' ? 'page' : null)}>
          <b>${() => this.project}</b>
          <span>${() => (this.elements.length === 1 ? 'One element' : `${this.elements.length} elements`)}</span>
        </a>
        <input class="field search" type="search" aria-label="Search elements" placeholder="Search" ${{
          oninput: (event: Event) => this.#wanted.set((event.target as HTMLInputElement).value),
          onkeydown: (event: KeyboardEvent) => this.key(event),
        }}>
      </div>
      <div class="folders">
        ${each(
          () => this.folders,
          ({ folder }) => folder,
          folder => markup`
            ${() => folder().folder && markup`<h2>${() => folder().folder}/</h2>`}
            <ul>${each(
              () => folder().entries,
              ({ tag }) => tag,
              entry => markup`
                <li><a href=${() => `#/${entry().tag}`} aria-current=${() => (entry().tag === this.chosen ? 'page' : null)}>
                  <span>${() => entry().tag}</span>
                  <small title="Specimens">${() => entry().specimens.length || ''}</small>
                </a></li>`,
            )}</ul>`,
        )}
        ${() =>
          this.#found.get().length === 0 &&
          (
            this.elements.length === 0
              ? markup`<p class="none quiet">There is no element yet. Write one below the source folder, or begin from the HTML that you wish to use: <code>npx eltrix sketch usage.html</code></p>`
              : markup`<p class="none quiet">No element matches.</p>`
          )}
      </div>`;
  }

  /** Enter opens the first match. */
  key(event: KeyboardEvent): void {
    const [first] = this.#found.get();
    if (event.key === 'Enter' && first) location.hash = `#/${first.tag}`;
  }
}

GalleryIndex.define();

declare global {
  interface HTMLElementTagNameMap {
    'gallery-index': GalleryIndex;
  }
}
