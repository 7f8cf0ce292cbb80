import { computed, contract, each, live, markup, signal, stylesheet, text } from 'eltrix';
import '../elements/frame-box.ts';
import '../elements/hive-menu.ts';
import type { FrameBox } from '../elements/frame-box.ts';
import '../elements/honey-gauge.ts';
import '../elements/inspection-form.ts';
import type { InspectionDraft } from '../elements/inspection-form.ts';
import '../elements/keeper-note.ts';
import '../elements/yield-chart.ts';
import { hives } from '../hives.ts';
import { records } from '../records.ts';
import { texts } from '../texts.ts';
import { pageStyle } from './style.ts';

const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

export class HivePage extends contract('hive-page', {
  about: 'One hive: its frames, its inspections, notes and yield.',
  attributes: { name: text({ about: 'Which hive.' }) },
  properties: { notes: live<{ keeper: string; text: string }[]>(() => []) },
}) {
  static styleSheets = [
    pageStyle,
    stylesheet`
      header { display: flex; gap: 18px; align-items: center; }
      hive-menu { margin-inline-start: auto; }
      .boxes, .notes { display: grid; gap: 14px; }
      .saved { margin: 12px 0 0; font-size: 0.9rem; }
    `,
  ];

  readonly #text = texts(this);
  readonly #saved = signal('');

  readonly #actions = computed(() => [
    { value: 'sort', label: this.#text('frames-sort') },
    { value: 'harvest', label: this.#text('frames-take') },
  ]);

  readonly #hive = computed(() => hives.find(({ name }) => name === this.name));

  /** Kilograms of the last year, by month. */
  readonly #yields = computed(() => {
    const sums = new Array<number>(12).fill(0);
    const counts = new Array<number>(12).fill(0);
    for (const { hive, date, honey } of records.get()) {
      if (hive !== this.name || !date.startsWith('2026')) continue;
      const month = Number(date.slice(5, 7)) - 1;
      sums[month]! += honey;
      counts[month]! += 1;
    }
    return months.map((label, at) => ({ label, kilograms: counts[at] ? sums[at]! / counts[at]! : 0 })).slice(0, 9);
  });

  view() {
    return markup`${() => {
      const hive = this.#hive.get();
      if (!hive) return markup`<h1>No hive is called ${this.name}</h1><p><a href="/">All hives</a></p>`;
      const honey = hive.frames.reduce((sum, frame) => sum + frame.honey, 0);
      return markup`
        <header>
          <div><h1>${hive.name}</h1><p class="lead">${hive.note}</p></div>
          <hive-menu label=${() => this.#text('frames')} ${{ items: () => this.#actions.get() }} onmenu-choose=${this.act}></hive-menu>
          <honey-gauge value=${honey} max="24"></honey-gauge>
        </header>
        <div class="two"><div>
          <section class="panel boxes" aria-label="Boxes">
            <h2>${() => this.#text('boxes')}</h2>
            <frame-box label="Upper box" ${{ frames: hive.frames.slice(0, 5) }}></frame-box>
            <frame-box label="Lower box" ${{ frames: hive.frames.slice(5) }}></frame-box>
          </section>
          <section class="panel" aria-label="Yield"><yield-chart caption="Honey in the hive, kilograms a month" ${{ yields: () => this.#yields.get() }}></yield-chart></section>
        </div><div>
          <section class="panel" aria-label="New inspection">
            <h2>${() => this.#text('new-inspection')}</h2>
            <inspection-form hive=${hive.name} today="2026-09-21" oninspection-save=${this.save}></inspection-form>
            <p class="saved" role="status">${() => this.#saved.get()}</p>
          </section>
          <section class="panel notes" aria-label="Notes">
            <h2>${() => this.#text('notes')}</h2>
            ${each(
              () => this.notes,
              (_, index) => index,
              note =>
                markup`<keeper-note keeper=${() => note().keeper} written="just now">${() => note().text}</keeper-note>`,
            )}
            <keeper-note keeper=${hive.keeper} written="in spring" pinned>${hive.note}</keeper-note>
          </section>
        </div></div>`;
    }}`;
  }

  act({ detail }: CustomEvent<{ value: string }>): void {
    for (const box of this.shadowRoot!.querySelectorAll<FrameBox>('frame-box'))
      box.frames =
        detail.value === 'sort'
          ? [...box.frames].sort((a, b) => b.honey - a.honey)
          : box.frames.filter(({ honey }) => honey < 2.5);
  }

  save({ detail }: CustomEvent<InspectionDraft>): void {
    const inspection = records.add({ ...detail, hive: this.name, mood: detail.mood as 'calm' });
    this.#saved.set(`Saved as inspection ${inspection.id}, ${inspection.honey.toFixed(1)} kg.`);
    if (inspection.note) this.notes.unshift({ keeper: this.#hive.peek()?.keeper ?? '', text: inspection.note });
  }
}

HivePage.define();
