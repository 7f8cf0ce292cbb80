/** Rows without keys: a list of markup, made again with each change. */
import { batch, contract, data, markup } from 'eltrix';
import type { Entry, TableView } from './table-data.ts';

class ListTable
  extends contract('list-table', { properties: { rows: data<Entry[]>(() => []), chosen: data(() => 0) } })
  implements TableView
{
  view() {
    return markup`<table><tbody>${() =>
      this.rows.map(
        ({ id, label }, index) =>
          markup`<tr class=${id === this.chosen ? 'chosen' : ''}><td class="id">${id}</td><td class="label"><a onclick=${() => this.select(id)}>${label}</a></td><td class="drop"><button type="button" onclick=${() => this.drop(index)}>×</button></td><td class="rest"></td></tr>`,
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
ListTable.define();

export const make = () => new ListTable();
