/** Each row has a label that is a signal. */
import { batch, contract, data, each, markup, matches, type Signal, signal } from 'eltrix';
import type { Entry, TableView } from './table-data.ts';

interface Row {
  readonly id: number;
  readonly label: Signal<string>;
}

const rowsOf = (entries: readonly Entry[]): Row[] => entries.map(({ id, label }) => ({ id, label: signal(label) }));

class SignalTable
  extends contract('signal-table', { properties: { rows: data<Row[]>(() => []) } })
  implements TableView
{
  readonly #chosen = signal(0);
  readonly #isChosen = matches(this.#chosen);

  view() {
    return markup`<table><tbody>${each(
      () => this.rows,
      row => row.id,
      row => {
        const { id, label } = row();
        return markup`<tr class=${() => (this.#isChosen(id) ? 'chosen' : '')}><td class="id">${id}</td><td class="label"><a onclick=${() => this.select(id)}>${() => label.get()}</a></td><td class="drop"><button type="button" onclick=${() => this.drop(this.rows.indexOf(row()))}>×</button></td><td class="rest"></td></tr>`;
      },
    )}</tbody></table>`;
  }

  get root() {
    return this.shadowRoot!;
  }

  show(entries: Entry[]) {
    batch(() => {
      this.rows = rowsOf(entries);
    });
  }

  add(entries: Entry[]) {
    batch(() => {
      this.rows = [...this.rows, ...rowsOf(entries)];
    });
  }

  updateEveryTenth() {
    batch(() => {
      for (let i = 0; i < this.rows.length; i += 10) {
        const { label } = this.rows[i]!;
        label.set(`${label.get()} !`);
      }
    });
  }

  select(id: number) {
    batch(() => this.#chosen.set(id));
  }

  swap(a: number, b: number) {
    batch(() => {
      const rows = [...this.rows];
      [rows[a], rows[b]] = [rows[b]!, rows[a]!];
      this.rows = rows;
    });
  }

  drop(index: number) {
    batch(() => {
      this.rows = this.rows.filter((_, i) => i !== index);
    });
  }

  clear() {
    batch(() => {
      this.rows = [];
    });
  }
}
SignalTable.define();

export const make = () => new SignalTable();
