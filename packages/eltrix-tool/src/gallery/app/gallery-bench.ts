import { contract, data, each, event, markup, signal, stylesheet } from 'eltrix';
import type { ElementDescription } from '../../describe/description.ts';
import type { Changes, FrameState } from '../model.ts';
import { freshChanges } from './address.ts';
import { baseStyle } from './base-style.ts';
import { type ControlGroup, controlsOf, currentOf } from './controls.ts';
import './gallery-control.ts';

export class GalleryBench extends contract('gallery-bench', {
  about: 'Fields for everything that an element declares, in order of declaration.',
  properties: {
    element: data<ElementDescription | undefined>(() => undefined, { about: 'The description of the element.' }),
    changes: data<Changes>(freshChanges, { about: 'The changes of the user.' }),
    state: data<FrameState | undefined>(() => undefined, { about: 'The current state of the element.' }),
  },
  events: {
    'bench-clear': event({ about: 'The user reset all changes.' }),
    'part-outline': event<{ kind: 'part'; name: string } | null>({ about: 'The user focused or left a part.' }),
  },
}) {
  static styleSheets = [
    baseStyle,
    stylesheet`
      :host { display: block; }
      header { display: flex; align-items: center; justify-content: space-between; gap: 8px; min-height: 28px; }
      h2 { font-size: var(--body); font-weight: 650; }
      h3 { margin: 18px 0 2px; padding-bottom: 4px; border-bottom: 1px solid var(--line); font-size: 12px; font-weight: 650; letter-spacing: 0.04em; text-transform: uppercase; color: var(--muted); }
      .find { margin-top: 10px; }
      .part { padding: 6px 0; font-size: 12px; line-height: 1.45; }
      .part button { padding: 0; border: 0; background: none; font-family: var(--mono); font-size: 12.5px; font-weight: 600; text-align: start; cursor: pointer; }
      .empty { margin-top: 12px; font-size: var(--small); line-height: 1.5; }
    `,
  ];

  #wanted = signal('');

  get groups(): ControlGroup[] {
    return this.element ? controlsOf(this.element) : [];
  }

  get count(): number {
    return this.groups.reduce((sum, { controls }) => sum + controls.length, 0);
  }

  get found(): ControlGroup[] {
    const word = this.#wanted.get().trim().toLowerCase();
    if (!word) return this.groups;
    return this.groups
      .map(({ title, controls }) => ({
        title,
        controls: controls.filter(({ title, about }) => `${title} ${about ?? ''}`.toLowerCase().includes(word)),
      }))
      .filter(({ controls }) => controls.length > 0);
  }

  get isChanged(): boolean {
    return Object.values(this.changes).some(group => Object.keys(group as object).length > 0);
  }

  view() {
    return markup`
      <header>
        <h2>Edit the element</h2>
        ${() => this.isChanged && markup`<button type="button" class="button" onclick=${() => this.emit('bench-clear', null)}>Reset all</button>`}
      </header>
      ${() =>
        this.count > 12 &&
        markup`<input class="field find" type="search" aria-label="Filter the settings" placeholder=${() => `Filter ${this.count} settings`} oninput=${(event: Event) => this.#wanted.set((event.target as HTMLInputElement).value)}>`}
      ${each(
        () => this.found,
        group => group.title,
        group => markup`
          <section aria-label=${() => group().title}>
            <h3>${() => group().title}</h3>
            ${each(
              () => group().controls,
              control => control.name,
              control =>
                markup`<gallery-control ${{
                  control,
                  current: () => currentOf(control(), this.changes, this.state),
                  changed: () => control().name in this.changes[control().group],
                }}></gallery-control>`,
            )}
          </section>`,
      )}
      ${() =>
        this.element &&
        this.element.parts.length > 0 &&
        markup`<section aria-label="Parts"><h3>Parts</h3>${this.element.parts.map(
          ({ name, about }) => markup`
            <div class="part">
              <button type="button" onpointerenter=${() => this.at(name)} onpointerleave=${() => this.at()} onfocus=${() => this.at(name)} onblur=${() => this.at()}>::part(${name})</button>
              <div class="quiet">${about}</div>
            </div>`,
        )}</section>`}
      ${() => this.element && this.count === 0 && markup`<p class="empty quiet">This element declares no attributes, properties, slots or states. Declare them in its contract to edit them here.</p>`}
      ${() => this.element && this.count > 0 && this.found.length === 0 && markup`<p class="empty quiet">No setting matches.</p>`}`;
  }

  at(name?: string): void {
    this.emit('part-outline', name === undefined ? null : { kind: 'part', name });
  }
}

GalleryBench.define();

declare global {
  interface HTMLElementTagNameMap {
    'gallery-bench': GalleryBench;
  }
}
