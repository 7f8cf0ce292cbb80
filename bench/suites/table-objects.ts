import { batch, contract, data, each, markup, matches, signal } from 'eltrix';
import type { Entry, TableView } from './table-data.ts';

class EltrixTable
  extends contract('eltrix-table', { properties: { rows: data<Entry[]>(() => []) } })
  implements TableView
{
  readonly #chosen = signal(0);
  readonly #isChosen = matches(this.#chosen);

  view() {
    return markup`<table><tbody onclick=${this.clicked}>${each(
      () => this.rows,
      entry => entry.id,
      entry => {
        const { id } = entry();
        return markup`<tr class=${() => this.#isChosen(id) && 'chosen'}><td class="id">${id}</td><td class="label"><a>${() => entry().label}</a></td><td class="drop"><button type="button">×</button></td><td class="rest"></td></tr>`;
      },
    )}</tbody></table>`;
  }

  clicked(event: Event): void {
    const target = event.target as Element;
    const index = [...target.closest('tbody')!.children].indexOf(target.closest('tr')!);
    if (target.localName === 'button') this.drop(index);
    else if (target.localName === 'a') this.select(this.rows[index]!.id);
  }

  get root(): ShadowRoot {
    return this.shadowRoot!;
  }

  show(rows: Entry[]): void {
    batch(() => {
      this.rows = rows;
    });
  }

  add(rows: Entry[]): void {
    this.show(this.rows.concat(rows));
  }

  updateEveryTenth(): void {
    const rows = this.rows.slice();
    for (let i = 0; i < rows.length; i += 10) {
      const { id, label } = rows[i]!;
      rows[i] = { id, label: `${label} !` };
    }
    this.show(rows);
  }

  select(id: number): void {
    batch(() => this.#chosen.set(id));
  }

  swap(a: number, b: number): void {
    const rows = this.rows.slice();
    [rows[a], rows[b]] = [rows[b]!, rows[a]!];
    this.show(rows);
  }

  drop(index: number): void {
    this.show(this.rows.toSpliced(index, 1));
  }

  clear(): void {
    this.show([]);
  }
}
EltrixTable.define();

export const make = (): TableView & HTMLElement => new EltrixTable();
