/** A session of an engine that is started again where a page hangs so that its driver does not answer. */
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

  /** What was found stays true when the engine, or its start, fails at the end. */
  async end(): Promise<void> {
    await this.current.then(session => session.close()).catch(() => {});
  }
}
