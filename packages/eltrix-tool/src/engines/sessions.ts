/** A session of an engine that is restarted when a page hangs and its driver does not answer. */
import type { Session } from './engine.ts';

export class Sessions {
  current: Promise<Session>;
  readonly #start: () => Promise<Session>;

  constructor(start: () => Promise<Session>) {
    this.#start = start;
    this.current = start();
  }

  async replace(hanging: Session): Promise<void> {
    if ((await this.current) !== hanging) return;
    this.current = this.end().then(() => this.#start());
    await this.current;
  }

  /** Results are kept if the engine, or its start, fails at the end. */
  async end(): Promise<void> {
    await this.current.then(session => session.close()).catch(() => {});
  }
}
