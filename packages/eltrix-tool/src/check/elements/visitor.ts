/** Pages that visit one element after the other, and are replaced when they are lost. */
import { setTimeout as sleep } from 'node:timers/promises';
import type { Page, Session } from '../../engines/index.ts';
import type { Sessions } from '../../engines/sessions.ts';
import type { CheckOutcome, Failure, RuleResult } from '../page/model.ts';

/** One page that visits elements; it is replaced when it is lost. */
export class Visitor {
  #page: Page | undefined;
  #session: Session | undefined;

  constructor(
    readonly sessions: Sessions,
    readonly timeout: number,
    readonly id: string,
  ) {}

  /** The results before the page was lost, and the rule that it had started. */
  known: { readonly results: readonly RuleResult[]; readonly next: string } | undefined;

  /** The results of the page at a URL. */
  async outcome(address: string): Promise<CheckOutcome | Failure> {
    this.known = undefined;
    const lost = async (seen: string, fix = 'Look at it with npx eltrix serve.'): Promise<Failure> => {
      await this.close();
      return {
        did: this.known ? `carried out ${this.known.next}` : 'opened the element in a page',
        expected: 'an end',
        seen,
        fix,
      };
    };
    try {
      const outcome = await within(
        this.timeout,
        (async () => {
          const page = await this.#open(address);
          return Promise.race([page.evaluate<CheckOutcome | null>('globalThis.eltrixOutcome ?? null'), page.lost]);
        })(),
      );
      if (outcome === undefined) return lost(`no end within ${this.timeout / 1000} s`, lookOrWait(this.timeout));
      if (outcome === null) return lost('the script of the page did not run');
      return typeof outcome === 'string' ? lost(outcome) : outcome;
    } catch (error) {
      return lost(firstLine(error));
    }
  }

  async #open(address: string): Promise<Page> {
    if (this.#page) await this.#page.go(address);
    else {
      this.#session = await this.sessions.current;
      this.#page = await this.#session.open(address);
    }
    return this.#page;
  }

  /** Brings a page to the front, so that it has the focus. */
  async front(): Promise<void> {
    // Chromium emulates focus for each page.
    if (this.#session?.name === 'firefox') await this.#page?.front().catch(() => {});
  }

  /** Closes the page. If the driver cannot close a page that hangs, it is restarted. */
  async close(): Promise<void> {
    const [page, session] = [this.#page, this.#session];
    this.#page = undefined;
    if (!page || !session) return;
    const closed = page.close().then(
      () => true,
      () => true,
    );
    if (!(await within(5000, closed))) await this.sessions.replace(session);
  }
}

/** What an error says, in a line. */
export const firstLine = (error: unknown): string =>
  error instanceof Error ? error.message.split('\n')[0]! : String(error);

/** What to do about a page that did not end within a time limit in milliseconds. */
export const lookOrWait = (timeout: number): string =>
  `Look at it with npx eltrix serve. If it only needs longer: --timeout ${2 * timeout}.`;

/** @returns the result of a promise, or undefined after a time limit. */
export async function within<T>(milliseconds: number, promise: Promise<T>): Promise<T | undefined> {
  const enough = new AbortController();
  try {
    return await Promise.race([promise, sleep(milliseconds, undefined, { signal: enough.signal })]);
  } finally {
    enough.abort();
  }
}
