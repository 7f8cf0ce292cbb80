import { choice, computed, contract, data, event, integer, markup, matches, signal, stylesheet, text } from 'eltrix';
import { formats } from 'eltrix/language';
import { eachInView } from 'eltrix/views';
import type { Inspection } from '../hives.ts';

const orders = ['date', 'hive', 'honey'] as const;

/** A long list of inspections. */
export class HiveList extends contract('hive-list', {
  about: 'A long list of inspections, to search, sort and choose from.',
  attributes: {
    search: text({ about: 'Words that an inspection must have.' }),
    order: choice(orders, { missing: 'date', invalid: 'date', about: 'By what it is sorted.' }),
    chosen: integer({ about: 'The id of the chosen inspection; 0 for none.' }),
  },
  properties: { inspections: data<readonly Inspection[]>(() => [], { about: 'All of them, the latest first.' }) },
  cssProperties: { '--list-height': 'How high it grows before it scrolls.' },
  events: { 'inspection-choose': event<{ id: number }>({ about: 'The keeper chose one.' }) },
}) {
  static styleSheets = [
    stylesheet`
      :host { display: block; }
      :host([hidden]) { display: none; }
      .tools { display: flex; flex-wrap: wrap; gap: 10px 18px; align-items: center; margin-bottom: 10px; }
      input { flex: 1 1 200px; min-width: 0; padding: 7px 11px; border: 1px solid light-dark(#cfc5ae, #575142); border-radius: 8px; background: light-dark(#fffdf8, #24221d); color: inherit; font: inherit; }
      .orders { display: flex; flex-wrap: wrap; gap: 6px; align-items: center; font-size: 0.9rem; }
      .orders button { padding: 4px 12px; border: 1px solid light-dark(#cfc5ae, #575142); border-radius: 99px; background: transparent; color: inherit; font: inherit; cursor: pointer; }
      .orders button[aria-pressed='true'] { border-color: light-dark(#7a4a00, #f3c14b); background: light-dark(#7a4a00, #f3c14b); color: light-dark(#fffaf0, #201a0c); }
      p { margin: 0 0 8px; font-size: 0.9rem; color: light-dark(#6b6454, #b3ab98); }
      ol { max-height: var(--list-height, 480px); margin: 0; padding: 0; overflow: auto; border: 1px solid light-dark(#e4ddcd, #3b372e); border-radius: 12px; background: light-dark(#fffdf8, #24221d); list-style: none; }
      li { border-bottom: 1px solid light-dark(#efe8d8, #322e26); }
      li button { display: grid; grid-template-columns: 7.5em 7em 5em 1fr; gap: 2px 14px; width: 100%; padding: 9px 14px; border: 0; background: transparent; color: inherit; font: inherit; text-align: start; cursor: pointer; }
      li button:hover { background: light-dark(#f7f0df, #2d2a22); }
      li button[aria-pressed='true'] { background: light-dark(#fdecc4, #4a3a10); }
      :focus-visible { outline: 2px solid light-dark(#8a5a00, #f3c14b); outline-offset: -2px; }
      .kg { font-variant-numeric: tabular-nums; }
      .note { color: light-dark(#6b6454, #b3ab98); overflow-wrap: anywhere; }
      .none { padding: 20px 14px; }
      @container (max-width: 560px) { li button { grid-template-columns: 1fr auto; } .note { grid-column: 1 / -1; } }
      .box { container-type: inline-size; }
    `,
  ];

  readonly #format = formats(this);
  readonly #chosen = signal(0);
  readonly #isChosen = matches(this.#chosen);

  readonly #found = computed(() => {
    const words = this.search.toLowerCase().split(/\s+/).filter(Boolean);
    const found = this.inspections.filter(({ hive, date, mood, note }) => {
      const line = `${hive} ${date} ${mood} ${note}`.toLowerCase();
      return words.every(word => line.includes(word));
    });
    if (this.order === 'hive') found.sort((a, b) => (a.hive < b.hive ? -1 : a.hive > b.hive ? 1 : b.id - a.id));
    if (this.order === 'honey') found.sort((a, b) => b.honey - a.honey || b.id - a.id);
    return found;
  });

  /** Only the rows that can be seen: there may be a hundred thousand. */
  readonly #rows = eachInView(
    () => this.#found.get(),
    ({ id }) => id,
    row => markup`<li><button type="button" aria-pressed=${() => String(this.#isChosen(row().id))} onclick=${() => this.choose(row().id)}>
      <span>${() => row().date}</span><b>${() => row().hive}</b><span class="kg">${() => `${row().honey.toFixed(1)} kg`}</span><span class="note">${() => [row().mood, row().note].filter(Boolean).join('. ')}</span>
    </button></li>`,
    { estimate: 43 },
  );

  view() {
    return markup`
      <div class="box">
        <div class="tools">
          <input type="search" aria-label="Search inspections" placeholder="Search: a hive, a mood, a year" ${{
            value: () => this.search,
            oninput: (event: Event) => {
              this.search = (event.target as HTMLInputElement).value;
            },
          }}>
          <div class="orders" role="group" aria-label="Sorted by">Sorted by ${orders.map(
            order =>
              markup`<button type="button" aria-pressed=${() => String(this.order === order)} onclick=${() => {
                this.order = order;
              }}>${order}</button>`,
          )}</div>
        </div>
        <p role="status">${() => `${this.#format.number(this.#found.get().length)} of ${this.#format.number(this.inspections.length)} inspections`}</p>
        <ol aria-label="Inspections" tabindex="0">${this.#rows}${() => this.#found.get().length === 0 && markup`<li class="none">Nothing was written down that says that.</li>`}</ol>
      </div>`;
  }

  attributeChanged(name: string): void {
    if (name === 'chosen') this.#chosen.set(this.chosen);
  }

  choose(id: number): void {
    this.chosen = id;
    this.emit('inspection-choose', { id });
  }
}

HiveList.define();

declare global {
  interface HTMLElementTagNameMap {
    'hive-list': HiveList;
  }
}
