import { contract, markup, signal } from 'eltrix';
import '../elements/hive-list.ts';
import { records } from '../records.ts';
import { texts } from '../texts.ts';
import { pageStyle } from './style.ts';

export class InspectionsPage extends contract('inspections-page', {
  about: 'Every inspection that was written down.',
}) {
  static styleSheets = [pageStyle];

  readonly #text = texts(this);
  readonly #chosen = signal(0);

  view() {
    return markup`
      <h1>${() => this.#text('inspections')}</h1>
      <p class="lead">${() => this.#text('inspections-lead')}</p>
      <hive-list ${{ inspections: () => records.get() }} oninspection-choose=${(event: CustomEvent<{ id: number }>) => this.#chosen.set(event.detail.id)}></hive-list>
      ${() => {
        const chosen = records.get().find(({ id }) => id === this.#chosen.get());
        return (
          chosen &&
          markup`<section class="panel" aria-label="Chosen inspection"><h2>${chosen.hive}, ${chosen.date}</h2><p>${chosen.honey.toFixed(1)} kg, ${chosen.mood}. ${chosen.note}</p><a href=${`/hives/${encodeURIComponent(chosen.hive)}`}>${this.#text('to-hive')}</a></section>`
        );
      }}`;
  }
}

InspectionsPage.define();
