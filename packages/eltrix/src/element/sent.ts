import type { RequestAnswer } from '../signals/state.ts';

/** JSON that a server sends in an element's root. */
export interface Sent {
  /** Values of properties without an attribute. */
  readonly properties?: Readonly<Record<string, unknown>>;
  /** Answers to requests, by address. */
  readonly answers?: Readonly<Record<string, RequestAnswer>>;
}
