/** The table as an expert writes it by hand: a cloned row, direct text nodes, one listener for all. */
import type { Entry, TableView } from './table-data.ts';

const row = document.createElement('template');
row.innerHTML =
  '<tr><td class="id"> </td><td class="label"><a> </a></td><td class="drop"><button type="button">×</button></td><td class="rest"></td></tr>';

interface Row {
  readonly element: HTMLTableRowElement;
  readonly text: Text;
  label: string;
  readonly id: number;
}

class HandTable extends HTMLElement implements TableView {
  readonly root: ShadowRoot;
  readonly #body: HTMLTableSectionElement;
  #rows: Row[] = [];
  #chosen: HTMLTableRowElement | null = null;

  constructor() {
    super();
    this.root = this.attachShadow({ mode: 'open' });
    this.root.innerHTML = '<table><tbody></tbody></table>';
    this.#body = this.root.querySelector('tbody')!;
    this.#body.addEventListener('click', event => {
      const target = event.target as Element;
      const index = this.#rows.findIndex(({ element }) => element.contains(target));
      if (target.localName === 'button') this.drop(index);
      else if (target.localName === 'a') this.select(this.#rows[index]!.id);
    });
  }

  #make({ id, label }: Entry): Row {
    const element = row.content.firstChild!.cloneNode(true) as HTMLTableRowElement;
    const first = element.firstChild!;
    (first.firstChild as Text).data = `${id}`;
    const text = first.nextSibling!.firstChild!.firstChild as Text;
    text.data = label;
    return { element, text, label, id };
  }

  #add(entries: Entry[]): void {
    const fragment = document.createDocumentFragment();
    for (const entry of entries) {
      const made = this.#make(entry);
      this.#rows.push(made);
      fragment.append(made.element);
    }
    this.#body.append(fragment);
  }

  show(entries: Entry[]): void {
    this.clear();
    this.#add(entries);
  }

  add(entries: Entry[]): void {
    this.#add(entries);
  }

  updateEveryTenth(): void {
    for (let i = 0; i < this.#rows.length; i += 10) {
      const changed = this.#rows[i]!;
      changed.label += ' !';
      changed.text.data = changed.label;
    }
  }

  select(id: number): void {
    if (this.#chosen) this.#chosen.className = '';
    const found = this.#rows.find(one => one.id === id);
    this.#chosen = found?.element ?? null;
    if (found) found.element.className = 'chosen';
  }

  swap(a: number, b: number): void {
    const [first, second] = [this.#rows[a]!, this.#rows[b]!];
    const after = second.element.nextSibling;
    this.#body.insertBefore(second.element, first.element);
    this.#body.insertBefore(first.element, after);
    this.#rows[a] = second;
    this.#rows[b] = first;
  }

  drop(index: number): void {
    const [gone] = this.#rows.splice(index, 1);
    gone!.element.remove();
  }

  clear(): void {
    this.#rows = [];
    this.#chosen = null;
    this.#body.textContent = '';
  }
}
customElements.define('hand-table', HandTable);

export const make = (): TableView & HTMLElement => new HandTable();
