/** Random fields that a reader edits before the script of their element arrives. */
import { contract, each, integer, markup, type Signal, settled, signal, sync } from 'eltrix';
import { handleErrors } from 'eltrix/views';
import { random } from '../support/random.ts';

type Next = (below: number) => number;

/** A field, and what a reader does to it. */
interface Kind {
  /** Its first value. */
  first(next: Next): unknown;
  show(source: Signal<never>, name: string): unknown;
  /** Edits the field, as its reader. @returns the value that its signal gets. */
  edit(box: Element, next: Next, present: unknown): unknown;
  /** What the field shows. */
  read(box: Element): unknown;
}

const words = ['', 'a', 'two words', ' b', '0', '<i>&amp;', 'ä\u00a0"\''];
const word = (next: Next) => words[next(words.length)]!;
const input = (box: Element) => box.querySelector('input')!;
const text = (type: string, values: readonly string[]): Kind => ({
  first: next => values[next(values.length)],
  show: source =>
    type === 'record'
      ? markup`<input ${{ value: () => source.get(), oninput: (event: Event) => source.set((event.target as HTMLInputElement).value as never) }}>`
      : type === 'late'
        ? markup`<input ${sync(source)} type="search">`
        : type === 'area'
          ? markup`<textarea ${sync(source)}></textarea>`
          : markup`<input type=${type} ${sync(source)}>`,
  edit(box, next) {
    const field = box.querySelector<HTMLInputElement>('input, textarea')!;
    field.value = values[next(values.length)]!;
    return field.value;
  },
  read: box => box.querySelector<HTMLInputElement>('input, textarea')!.value,
});
const options = ['a', 'b', 'c'];
const some = (next: Next) => options.filter(() => next(2) === 0);

/** A menu of one choice, however its value is set. */
const menu: Omit<Kind, 'show'> = {
  first: next => options[next(3)],
  edit(box, next) {
    const field = box.querySelector('select')!;
    field.value = options[next(3)]!;
    return field.value;
  },
  read: box => box.querySelector('select')!.value,
};

const kinds: Readonly<Record<string, Kind>> = {
  text: text('text', words),
  record: text('record', words),
  late: text('late', words),
  area: text('area', [...words, 'two\nlines', '\nbegins']),
  date: text('date', ['', '2026-01-01', '2026-12-24']),
  color: text('color', ['#000000', '#a1b2c3']),
  number: {
    first: next => [0, 1, 2.5, -3][next(4)],
    show: source => markup`<input type="number" step="any" ${sync(source)}>`,
    edit(box, next) {
      const field = input(box);
      field.value = `${[0, 7, 1.5][next(3)]}`;
      return Number(field.value);
    },
    read: box => input(box).valueAsNumber,
  },
  range: {
    first: next => [0, 50, 100][next(3)],
    show: source => markup`<input type="range" ${sync(source)}>`,
    edit(box, next) {
      const field = input(box);
      field.value = `${next(100)}`;
      return Number(field.value);
    },
    read: box => input(box).valueAsNumber,
  },
  checkbox: {
    first: next => next(2) === 0,
    show: source => markup`<input type="checkbox" ${sync(source)}>`,
    edit(box, next) {
      const field = input(box);
      field.checked = next(2) === 0;
      return field.checked;
    },
    read: box => input(box).checked,
  },
  'checked record': {
    first: next => next(2) === 0,
    show: source =>
      markup`<input type="checkbox" ${{ checked: () => source.get(), onchange: (event: Event) => source.set((event.target as HTMLInputElement).checked as never) }}>`,
    edit(box, next) {
      const field = input(box);
      field.checked = next(2) === 0;
      return field.checked;
    },
    read: box => input(box).checked,
  },
  checkboxes: {
    first: some,
    show: source =>
      markup`${each(
        options,
        option => option,
        option => markup`<input type="checkbox" value=${option} ${sync(source)}>`,
      )}`,
    edit(box, next, present) {
      let list = present as string[];
      for (const field of box.querySelectorAll('input')) {
        if (next(2) === 0) continue;
        field.checked = !field.checked;
        list = field.checked ? [...list, field.value] : list.filter(value => value !== field.value);
      }
      return list.toSorted();
    },
    read: box => [...box.querySelectorAll('input')].filter(({ checked }) => checked).map(({ value }) => value),
  },
  radios: {
    first: next => options[next(3)],
    show: (source, name) =>
      markup`${options.map(option => markup`<input type="radio" name=${name} value=${option} ${sync(source)}>`)}`,
    edit(box, next) {
      const field = [...box.querySelectorAll('input')][next(3)]!;
      field.checked = true;
      return field.value;
    },
    read: box => [...box.querySelectorAll('input')].find(({ checked }) => checked)?.value,
  },
  select: {
    ...menu,
    show: source =>
      markup`<select ${sync(source)}>${options.map(option => markup`<option>${option}</option>`)}</select>`,
  },
  'option records': {
    ...menu,
    show: source =>
      markup`<select ${{ onchange: (event: Event) => source.set((event.target as HTMLSelectElement).value as never) }}>${options.map(
        option => markup`<option ${{ selected: () => (source.get() as unknown) === option }}>${option}</option>`,
      )}</select>`,
  },
  'select record': {
    ...menu,
    show: source =>
      markup`<select ${{ value: () => source.get(), onchange: (event: Event) => source.set((event.target as HTMLSelectElement).value as never) }}>${options.map(
        option => markup`<option>${option}</option>`,
      )}</select>`,
  },
  several: {
    first: some,
    show: source =>
      markup`<select multiple ${sync(source)}>${each(
        options,
        option => option,
        option => markup`<option>${option}</option>`,
      )}</select>`,
    edit(box, next) {
      const field = box.querySelector('select')!;
      for (const option of field.options) if (next(2) === 0) option.selected = !option.selected;
      return [...field.selectedOptions].map(({ value }) => value);
    },
    read: box => [...box.querySelector('select')!.selectedOptions].map(({ value }) => value),
  },
  editable: {
    first: word,
    show: source => markup`<p contenteditable ${sync(source)}></p>`,
    edit(box, next) {
      const field = box.querySelector('p')!;
      field.textContent = word(next);
      return field.textContent;
    },
    read: box => box.querySelector('p')!.textContent,
  },
};

export class EditedFields extends contract('edited-fields', { attributes: { number: integer() } }) {
  fields: { readonly name: string; readonly kind: Kind; readonly source: Signal<never> }[] = [];

  view() {
    const next = random(this.number + 1);
    this.fields = Array.from({ length: 1 + next(4) }, () => {
      const name = Object.keys(kinds)[next(Object.keys(kinds).length)]!;
      const kind = kinds[name]!;
      return { name, kind, source: signal(kind.first(next)) as Signal<never> };
    });
    return markup`${this.fields.map(({ kind, source }, at) => {
      const show = () => kind.show(source, `radio${at}`);
      const way = next(3);
      return markup`<div>${
        way === 0
          ? show()
          : way === 1
            ? () => show()
            : each(
                [1],
                one => one,
                () => markup`<b>${show()}</b>`,
              )
      }</div>`;
    })}`;
  }
}

/** Edits some fields, lets their element take over, and changes their signals. @returns what is wrong. */
export async function edit(html: string, number: number): Promise<unknown[]> {
  const found: unknown[] = [];
  const odd: string[] = [];
  const stop = handleErrors(({ error }) => odd.push(String(error)) > 0);
  const next = random(number + 1000);
  const stage = document.createElement('main');
  stage.setHTMLUnsafe(html);
  const root = stage.firstElementChild!.shadowRoot!;
  const boxes = [...root.querySelectorAll('div')];
  const wanted: unknown[] = [];
  // The same element made here says which fields there are.
  const twin = new EditedFields();
  twin.number = number;
  twin.view();
  const edited = twin.fields.map(({ kind, source }, at) => {
    const isEdited = next(2) === 0;
    wanted[at] = isEdited ? kind.edit(boxes[at]!, next, source.peek()) : source.peek();
    return isEdited;
  });
  const element = stage.firstElementChild as EditedFields;
  document.body.append(stage);
  await settled();
  await new Promise(resolve => setTimeout(resolve));
  const look = (when: string) => {
    const shown = element.fields.map(({ kind }, at) => kind.read(boxes[at]!));
    const values = element.fields.map(({ source }) => source.peek() as unknown);
    const sorted = (list: unknown[]) => JSON.stringify(list.map(one => (Array.isArray(one) ? one.toSorted() : one)));
    if (sorted(shown) !== sorted(wanted) || sorted(values) !== sorted(wanted))
      found.push({
        when,
        number,
        fields: element.fields.map(({ name }, at) => `${name}${edited[at] ? ' edited' : ''}`),
        wanted: [...wanted],
        shown,
        values,
        html,
      });
  };
  look('taken over');
  for (let step = 0; step < 3; step++) {
    element.fields.forEach(({ kind, source }, at) => {
      wanted[at] = kind.first(next);
      source.set(wanted[at] as never);
    });
    await settled();
    look(`change ${step}`);
  }
  stage.remove();
  stop();
  if (odd.length > 0) found.push({ number, odd, html });
  return found;
}
