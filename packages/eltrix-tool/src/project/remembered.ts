/** Remembers for each file what was made of it last, so that a build after another does only what is new. */
export class Remembered<T> {
  readonly #last = new Map<string, { readonly input: string; readonly value: T }>();

  /** @param input all that the value depends on. */
  get(file: string, input: string, make: () => T): T {
    const last = this.#last.get(file);
    if (last?.input === input) return last.value;
    const value = make();
    this.#last.set(file, { input, value });
    return value;
  }
}
