import type { RequestAnswer } from '../signals/state.ts';

/** What a server sends with an element beside its view, as JSON in its root. */
export interface Sent {
  /** Properties that no attribute holds. */
  readonly properties?: Readonly<Record<string, unknown>>;
  /** Answers to requests, by address. */
  readonly answers?: Readonly<Record<string, RequestAnswer>>;
}
