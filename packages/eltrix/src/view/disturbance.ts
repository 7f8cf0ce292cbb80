/**
 * Notices when others change the children of a node, as drag libraries do. Looking at a thousand nodes costs more than
 * moving two of them.
 */
export class Disturbance {
  #observer: MutationObserver | undefined;
  #parent: Node | null = null;
  #noticed = true;

  /** From now on changes are noticed. */
  begin(parent: Node): void {
    this.#observer ??= new MutationObserver(() => {
      this.#noticed = true;
    });
    this.#observer.observe(parent, { childList: true });
    this.#parent = parent;
    this.#noticed = false;
  }

  /** Ends it. @returns whether there may have been changes; true as well if it had not begun. */
  end(parent: Node | null): boolean {
    const noticed = this.#noticed || this.#parent !== parent || this.#observer!.takeRecords().length > 0;
    this.#observer?.disconnect();
    this.#noticed = true;
    return noticed;
  }
}
