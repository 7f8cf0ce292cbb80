import { contract, flag, markup, type Scope, stylesheet } from 'eltrix';
import { baseStyle } from './base-style.ts';
import './gallery-fault.ts';
import './gallery-index.ts';
import './gallery-sheet.ts';
import './gallery-wall.ts';
import { begin, data, elementOf, lost, problem, route } from './state.ts';

export class GalleryApp extends contract('gallery-app', {
  about: 'The gallery: the list of elements, and the overview or the page of one element.',
  attributes: { listed: flag({ about: 'Whether the list is open on a narrow page.' }) },
}) {
  static styleSheets = [
    baseStyle,
    stylesheet`
      :host { display: grid; grid-template-columns: 232px minmax(0, 1fr); min-height: 100vh; }
      .list { position: sticky; top: 0; display: flex; flex-direction: column; height: 100vh; border-inline-end: 1px solid var(--line); }
      .list gallery-index { flex: 1; }
      .bar { display: none; }
      .content { min-width: 0; }
      .wall { padding: 26px 28px 48px; }
      h1 { margin-bottom: 18px; font-size: 24px; font-weight: 700; letter-spacing: -0.02em; }
      .notes { margin-bottom: 18px; padding: 10px 14px; border-inline-start: 3px solid var(--bad); background: var(--raised); font-size: var(--small); line-height: 1.5; }
      .empty { max-width: 60ch; line-height: 1.6; }
      .empty pre { overflow: auto; margin: 12px 0; padding: 12px 14px; border-radius: 8px; background: var(--sunken); font-size: 13px; }
      .fault { position: fixed; inset-inline: max(16px, calc(50vw - 400px)); bottom: 24px; z-index: 2; max-height: 80vh; overflow: auto; }
      .lost { position: fixed; inset-inline-end: 16px; bottom: 16px; z-index: 3; padding: 8px 14px; border-radius: 8px; background: var(--ink); color: var(--paper); font-size: var(--small); }
      .skip { position: absolute; inset-inline-start: -999px; z-index: 4; }
      .skip:focus { inset-inline-start: 8px; top: 8px; }
      @media (max-width: 860px) {
        :host { display: block; }
        .bar { position: sticky; top: 0; z-index: 1; display: flex; align-items: center; gap: 12px; padding: 10px 16px; border-bottom: 1px solid var(--line); background: var(--paper); }
        .bar b { min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; font-size: var(--body); }
        .list { display: none; position: static; height: auto; max-height: 70vh; border-inline-end: 0; border-bottom: 1px solid var(--line); }
        :host([listed]) .list { display: flex; }
        .wall { padding: 20px 16px 40px; }
      }
    `,
  ];

  view() {
    return markup`
      <button type="button" class="button skip" onclick=${this.skip}>Skip to content</button>
      <div class="bar">
        <button type="button" class="button" aria-expanded=${() => String(this.listed)} onclick=${() => (this.listed = !this.listed)}>Elements</button>
        <b>${() => (route.get().tag ? `<${route.get().tag}>` : data.get()?.project)}</b>
      </div>
      <nav class="list" aria-label="Elements">
        <gallery-index project=${() => data.get()?.project ?? ''} chosen=${() => route.get().tag} ${{ elements: () => data.get()?.elements ?? [] }}></gallery-index>
      </nav>
      <div class="content" tabindex="-1">${() => this.content()}</div>
      <div aria-live="polite">
        ${() => problem.get() && markup`<gallery-fault class="fault" ${{ problem: () => problem.get() }}></gallery-fault>`}
        ${() => lost.get() && markup`<p class="lost">The server has stopped. Start it again: npx eltrix serve</p>`}
      </div>`;
  }

  content() {
    const known = data.get();
    if (!known) return null;
    const { tag } = route.get();
    if (tag && known.elements.some(entry => entry.tag === tag))
      return markup`<gallery-sheet ${{ element: () => elementOf(route.get().tag).get(), route: () => route.get() }}></gallery-sheet>`;
    return markup`
      <main class="wall">
        <h1>${tag ? `There is no <${tag}>` : 'All elements'}</h1>
        ${
          known.problems.length > 0 &&
          markup`<ul class="notes" aria-label="Problems of specimen files">${known.problems.map(({ file, line, message }) => markup`<li><code>${file}:${line}</code> ${message}</li>`)}</ul>`
        }
        ${
          known.elements.length === 0
            ? markup`<div class="empty"><p>No elements yet. Export one from a source file:</p>
                <pre tabindex="0"><code>export class HiveCard extends contract('hive-card', { about: 'One hive.' }) {
  view() { return markup\`&lt;p&gt;Hello&lt;/p&gt;\`; }
}</code></pre></div>`
            : markup`<gallery-wall ${{ elements: () => data.get()?.elements ?? [] }}></gallery-wall>`
        }
      </main>`;
  }

  connected(scope: Scope): void {
    void begin(scope);
    let before = '';
    scope.effect(() => {
      const { tag } = route.get();
      const project = data.get()?.project ?? 'Elements';
      document.title = tag ? `<${tag}> · ${project}` : project;
      if (tag === before) return;
      before = tag;
      this.listed = false;
      scrollTo(0, 0);
    });
  }

  skip(): void {
    this.shadowRoot!.querySelector<HTMLElement>('.content')!.focus();
  }
}

GalleryApp.define();

declare global {
  interface HTMLElementTagNameMap {
    'gallery-app': GalleryApp;
  }
}
