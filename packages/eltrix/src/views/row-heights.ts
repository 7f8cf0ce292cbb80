/** Positions of the rows of a long list: estimated heights, replaced by measured ones. */
export class RowHeights {
  #count = 0;
  /** Measured heights by key; and by index, as differences from the estimate, in a Fenwick tree. */
  readonly #measured = new Map<unknown, number>();
  #tree = new Float64Array(1);
  #byIndex = new Map<number, number>();

  /** @param estimate in CSS pixels, for a row that was not measured. */
  constructor(readonly estimate: number) {}

  get total(): number {
    return this.top(this.#count);
  }

  /** Sets other rows; rows with the same key keep their heights. */
  setKeys(count: number, keyOf: (index: number) => unknown): void {
    this.#count = count;
    this.#tree = new Float64Array(count + 1);
    this.#byIndex = new Map();
    if (this.#measured.size === 0) return;
    for (let index = 0; index < count; index++) {
      const height = this.#measured.get(keyOf(index));
      if (height !== undefined) this.#put(index, height);
    }
  }

  /** Forgets measured heights, since rows have another width. */
  forget(): void {
    this.#measured.clear();
    this.setKeys(this.#count, index => index);
  }

  /** @returns whether the height differs from the previous one. */
  set(index: number, key: unknown, height: number): boolean {
    if (Math.abs(this.height(index) - height) < 0.5) return false;
    this.#measured.set(key, height);
    this.#put(index, height);
    return true;
  }

  #put(index: number, height: number): void {
    const difference = height - this.height(index);
    this.#byIndex.set(index, height);
    for (let i = index + 1; i <= this.#count; i += i & -i) this.#tree[i]! += difference;
  }

  height(index: number): number {
    return this.#byIndex.get(index) ?? this.estimate;
  }

  /** The upper edge of a row, relative to the list. */
  top(index: number): number {
    let sum = index * this.estimate;
    for (let i = Math.min(index, this.#count); i > 0; i -= i & -i) sum += this.#tree[i]!;
    return sum;
  }

  /**
   * The row at a distance from the upper edge of the list; the first row for positions above, the last for positions
   * below.
   */
  indexAt(y: number): number {
    let index = 0;
    let rest = y;
    for (let step = 2 ** Math.floor(Math.log2(Math.max(1, this.#count))); step >= 1; step /= 2) {
      const next = index + step;
      if (next > this.#count) continue;
      const height = this.#tree[next]! + step * this.estimate;
      if (height > rest) continue;
      index = next;
      rest -= height;
    }
    return Math.min(index, Math.max(0, this.#count - 1));
  }
}
