/** Caches the last result for each file, so that an incremental build only computes what has changed. */
export class Remembered<T> {
  readonly #last = new Map<string, { readonly input: string; readonly value: T }>();

  /** @param input everything that the value depends on. */
  get(file: string, input: string, make: () => T): T {
    const last = this.#last.get(file);
    if (last?.input === input) return last.value;
    const value = make();
    this.#last.set(file, { input, value });
    return value;
  }
}
