export interface Entry {
  readonly id: number;
  readonly label: string;
}

const moods = ['calm', 'busy', 'gentle', 'grumpy', 'early', 'late', 'hungry', 'strong'];
const hives = ['Rosemary', 'Bramble', 'Old Tin', 'Foxglove', 'Clover', 'Heather', 'Mallow'];
let next = 1;

/** Inspections, all made up; the same ones each time after `restart`. */
export function entries(count: number): Entry[] {
  const list: Entry[] = [];
  for (let i = 0; i < count; i++) {
    const id = next++;
    list.push({ id, label: `${moods[id % 8]} ${hives[id % 7]} ${id % 13} kg` });
  }
  return list;
}

export function restart(): void {
  next = 1;
}

export interface TableView {
  /** Shows these rows in place of all others. */
  show(rows: Entry[]): void;
  add(rows: Entry[]): void;
  updateEveryTenth(): void;
  select(id: number): void;
  swap(a: number, b: number): void;
  drop(index: number): void;
  clear(): void;
  readonly root: ShadowRoot;
}
