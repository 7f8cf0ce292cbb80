import { contract, data, each, markup, type Scope, signal, stylesheet } from 'eltrix';
import type { Changes, FrameState, GalleryElement } from '../model.ts';
import { noChanges, type Route, usual } from './address.ts';
import { baseStyle } from './base-style.ts';
import './gallery-bench.ts';
import './gallery-light.ts';
import './gallery-plate.ts';
import './gallery-reference.ts';
import type { GalleryPlate } from './gallery-plate.ts';
import { change, choose, flush, look, setChange } from './state.ts';

const kilobytes = (bytes: number) => (bytes < 1000 ? `${bytes} B` : `${(bytes / 1000).toFixed(2)} kB`);

export class GallerySheet extends contract('gallery-sheet', {
  about: 'The page of one element: specimens, fields to edit it, reference.',
  properties: {
    element: data<GalleryElement | undefined>(() => undefined, {
      about: 'The element; undefined until it was loaded.',
    }),
    route: data<Route | undefined>(() => undefined, { about: 'The state in the URL.' }),
  },
}) {
  static styleSheets = [
    baseStyle,
    stylesheet`
      :host { display: grid; grid-template: 'main set' auto 'reference set' 1fr / minmax(0, 1fr) 332px; min-height: 100%; }
      main { grid-area: main; min-width: 0; padding: 26px 28px 0; }
      .reference { grid-area: reference; min-width: 0; padding: 0 28px 48px; }
      h1 { font-family: var(--mono); font-size: 24px; font-weight: 650; letter-spacing: -0.02em; overflow-wrap: anywhere; }
      .about { margin-top: 6px; max-width: 62ch; line-height: 1.5; }
      .facts { display: flex; flex-wrap: wrap; gap: 4px 18px; margin-top: 10px; font-size: 12.5px; color: var(--muted); }
      gallery-light { margin: 20px 0 14px; padding: 12px 0; border-block: 1px solid var(--line); }
      .plates { display: grid; gap: 18px; }
      .notes { margin-top: 14px; padding: 10px 14px; border-inline-start: 3px solid var(--bad); background: var(--raised); font-size: var(--small); line-height: 1.5; }
      h2 { margin: 34px 0 0; font-size: 17px; font-weight: 650; letter-spacing: -0.01em; }
      aside { grid-area: set; min-width: 0; padding: 24px 20px 48px; border-inline-start: 1px solid var(--line); background: var(--raised); }
      .none { padding: 14px 0; font-size: var(--small); line-height: 1.5; }
      .fold { display: none; }
      @media (min-width: 861px) { aside { position: sticky; top: 0; height: 100vh; overflow: auto; } }
      @media (max-width: 1100px) { :host { grid-template-columns: minmax(0, 1fr) 288px; } main, .reference { padding-inline: 20px; } }
      @media (max-width: 860px) {
        :host { grid-template: 'main' 'reference' / minmax(0, 1fr); }
        /* In view together with the specimen that they change, and folded until they are wanted. */
        main { padding-bottom: 28px; }
        main.unfolded { padding-bottom: calc(42vh + 28px); }
        aside {
          grid-area: main; align-self: end; position: sticky; bottom: 0; z-index: 2; max-height: 42vh; overflow: auto;
          padding: 0 20px; border-inline-start: 0; border-block-start: 1px solid var(--line); box-shadow: 0 -6px 18px rgb(0 0 0 / 12%);
        }
        .fold { display: flex; justify-content: flex-end; position: sticky; top: 0; z-index: 1; padding: 10px 0; background: var(--raised); }
        gallery-bench { padding-bottom: 14px; }
        gallery-bench:not(.unfolded) { display: none; }
      }
    `,
  ];

  #state = signal<FrameState | undefined>(undefined);
  /** Whether a narrow page shows the fields. */
  #unfolded = signal(false);

  connected(scope: Scope): void {
    scope.use(flush);
  }

  get tag(): string {
    return this.element?.description.tag ?? '';
  }

  /** The slug of the specimen that the controls change. */
  get chosen(): string {
    const specimens = this.element?.specimens ?? [];
    const wanted = this.route?.specimen;
    return (specimens.find(({ slug }) => slug === wanted) ?? specimens[0])?.slug ?? '';
  }

  view() {
    return markup`
      <main class=${() => ({ unfolded: this.#unfolded.get() })}>
        <h1>&lt;${() => this.tag}&gt;</h1>
        <p class="about">${() => this.element?.description.about ?? 'No description yet: add "about" to its contract.'}</p>
        <p class="facts">
          <span class="code">${() => this.element?.description.file}</span>
          ${() => this.element?.size && markup`<span>built: ${kilobytes(this.element.size.brotli)} brotli, ${kilobytes(this.element.size.raw)} raw, shared files included</span>`}
          ${() => this.element?.description.form && markup`<span>form-associated</span>`}
        </p>
        ${() =>
          (this.element?.findings ?? []).length > 0 &&
          markup`<ul class="notes" aria-label="Findings of eltrix check">${this.element!.findings!.map(
            ({ code, message, file, line }) =>
              markup`<li><code>${file}${line ? `:${line}` : ''}</code> <b>${code}</b> ${message}</li>`,
          )}</ul>`}
        <gallery-light ${{ circumstances: () => this.route?.circumstances ?? usual }} onlight-change=${(event: CustomEvent) => look(event.detail as object)}></gallery-light>
        <div class="plates">
          ${each(
            () => this.element?.specimens ?? [],
            ({ slug }) => `${this.tag} ${slug}`,
            specimen => markup`
              <gallery-plate
                tag=${() => this.tag}
                specimen=${() => specimen().slug}
                heading=${() => specimen().title}
                chosen=${() => specimen().slug === this.chosen}
                ${{
                  changes: () => (specimen().slug === this.chosen ? (this.route?.changes ?? noChanges) : noChanges),
                  circumstances: () => this.route?.circumstances ?? usual,
                }}
                onplate-choose=${(event: CustomEvent<{ specimen: string }>) => this.choose(event.detail.specimen)}
                onplate-state=${(event: CustomEvent<FrameState>) => this.hear(event)}></gallery-plate>`,
          )}
        </div>
        ${() =>
          this.element &&
          this.element.file === undefined &&
          markup`<p class="none quiet">No specimens yet. Create <code>${this.tag}.specimen.html</code> beside its source: <code>&lt;template title="As usual"&gt;&lt;${this.tag}&gt;&lt;/${this.tag}&gt;&lt;/template&gt;</code></p>`}
      </main>
      <aside aria-label="Edit the element">
        <div class="fold"><button type="button" class="button" aria-expanded=${() => String(this.#unfolded.get())} onclick=${() => this.#unfolded.set(!this.#unfolded.get())}>${() => (this.#unfolded.get() ? 'Hide fields' : 'Edit the element')}</button></div>
        <gallery-bench class=${() => ({ unfolded: this.#unfolded.get() })}
          ${{
            element: () => this.element?.description,
            changes: () => this.route?.changes ?? noChanges,
            state: () => this.#state.get(),
          }}
          oncontrol-change=${(event: CustomEvent) => this.set(event)}
          oncontrol-outline=${(event: CustomEvent) => this.plate?.outline(event.detail)}
          onpart-outline=${(event: CustomEvent) => this.plate?.outline(event.detail)}
          onbench-clear=${() => this.clear()}></gallery-bench>
      </aside>
      <section class="reference" aria-labelledby="reference">
        <h2 id="reference">Reference</h2>
        <gallery-reference ${{ element: () => this.element?.description }}></gallery-reference>
      </section>`;
  }

  get plate(): GalleryPlate | undefined {
    return [...this.shadowRoot!.querySelectorAll('gallery-plate')].find(plate => plate.chosen);
  }

  hear(event: CustomEvent<FrameState>): void {
    if ((event.target as GalleryPlate).chosen) this.#state.set(event.detail);
  }

  choose(specimen: string): void {
    this.#state.set(undefined);
    this.#unfolded.set(true);
    choose(specimen);
  }

  set(event: CustomEvent<{ group: keyof Changes; name: string; value: never }>): void {
    const { group, name, value } = event.detail;
    setChange(group, name, value);
  }

  clear(): void {
    change({ changes: noChanges });
    this.plate?.begin();
  }
}

GallerySheet.define();

declare global {
  interface HTMLElementTagNameMap {
    'gallery-sheet': GallerySheet;
  }
}
