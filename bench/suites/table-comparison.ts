/** Rows as plain objects that are replaced; each row compares itself with the chosen one. */
import { batch, contract, data, each, markup } from 'eltrix';
import type { Entry, TableView } from './table-data.ts';

class ComparingTable
  extends contract('comparing-table', { properties: { rows: data<Entry[]>(() => []), chosen: data(() => 0) } })
  implements TableView
{
  view() {
    return markup`<table><tbody>${each(
      () => this.rows,
      entry => entry.id,
      entry =>
        markup`<tr class=${() => (entry().id === this.chosen ? 'chosen' : '')}><td class="id">${() => entry().id}</td><td class="label"><a onclick=${() => this.select(entry().id)}>${() => entry().label}</a></td><td class="drop"><button type="button" onclick=${() => this.drop(this.rows.indexOf(entry()))}>×</button></td><td class="rest"></td></tr>`,
    )}</tbody></table>`;
  }

  get root() {
    return this.shadowRoot!;
  }

  show(rows: Entry[]) {
    batch(() => {
      this.rows = rows;
    });
  }

  add(rows: Entry[]) {
    this.show([...this.rows, ...rows]);
  }

  updateEveryTenth() {
    this.show(this.rows.map((row, i) => (i % 10 === 0 ? { ...row, label: `${row.label} !` } : row)));
  }

  select(id: number) {
    batch(() => {
      this.chosen = id;
    });
  }

  swap(a: number, b: number) {
    const rows = [...this.rows];
    [rows[a], rows[b]] = [rows[b]!, rows[a]!];
    this.show(rows);
  }

  drop(index: number) {
    this.show(this.rows.filter((_, i) => i !== index));
  }

  clear() {
    this.show([]);
  }
}
ComparingTable.define();

export const make = () => new ComparingTable();
