import { refuseUnknown } from './options.ts';

export interface EventOptions {
  /** A description in one sentence. */
  readonly about?: string;
  /** The replacement, for an event that is going to be removed: `'use hive-open'`. Checks report each use. */
  readonly deprecated?: string;
  /** Whether the event bubbles; true unless given. */
  readonly bubbles?: boolean;
  /** Whether the event crosses shadow roots; true unless given. */
  readonly composed?: boolean;
  /** Whether listeners can cancel it: `emit` then returns false. False unless given. */
  readonly cancelable?: boolean;
}

/** A declared event, and the type of its detail. */
export interface EventDeclaration<Detail = unknown> {
  readonly about?: string;
  readonly deprecated?: string;
  readonly bubbles: boolean;
  readonly composed: boolean;
  readonly cancelable: boolean;
  /** A type only: `event<{ name: string }>()`. */
  readonly detail?: Detail;
}

/**
 * Declares an event: `'hive-open': event<{ name: string }>({ about: 'The keeper opened the hive.' })`.
 * @example events: { 'hive-open': event<{ name: string }>({ cancelable: true }) }
 */
export function event(options?: EventOptions): EventDeclaration<null>;
export function event<Detail>(options?: EventOptions): EventDeclaration<Detail>;
export function event<Detail>(options: EventOptions = {}): EventDeclaration<Detail> {
  if (__DEV__) refuseUnknown('event', options, ['about', 'deprecated', 'bubbles', 'composed', 'cancelable']);
  return { bubbles: true, composed: true, cancelable: false, ...options };
}
