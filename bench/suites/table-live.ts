/** Rows are a `live` list, changed in place. */
import { batch, contract, each, live, markup, matches, signal } from 'eltrix';
import type { Entry, TableView } from './table-data.ts';

class LiveTable
  extends contract('live-table', { properties: { rows: live<{ id: number; label: string }[]>(() => []) } })
  implements TableView
{
  readonly #chosen = signal(0);
  readonly #isChosen = matches(this.#chosen);

  view() {
    return markup`<table><tbody>${each(
      () => this.rows,
      row => row.id,
      row => {
        const { id } = row();
        return markup`<tr class=${() => (this.#isChosen(id) ? 'chosen' : '')}><td class="id">${id}</td><td class="label"><a onclick=${() => this.select(id)}>${() => row().label}</a></td><td class="drop"><button type="button" onclick=${() => this.drop(this.rows.findIndex(one => one.id === id))}>×</button></td><td class="rest"></td></tr>`;
      },
    )}</tbody></table>`;
  }

  get root() {
    return this.shadowRoot!;
  }

  show(entries: Entry[]) {
    batch(() => {
      this.rows = entries;
    });
  }

  add(entries: Entry[]) {
    batch(() => this.rows.push(...entries));
  }

  updateEveryTenth() {
    batch(() => {
      for (let i = 0; i < this.rows.length; i += 10) this.rows[i]!.label += ' !';
    });
  }

  select(id: number) {
    batch(() => this.#chosen.set(id));
  }

  swap(a: number, b: number) {
    batch(() => {
      const { rows } = this;
      [rows[a], rows[b]] = [rows[b]!, rows[a]!];
    });
  }

  drop(index: number) {
    batch(() => this.rows.splice(index, 1));
  }

  clear() {
    batch(() => {
      this.rows = [];
    });
  }
}
LiveTable.define();

export const make = () => new LiveTable();
