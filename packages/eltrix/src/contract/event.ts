export interface EventOptions {
  /** One sentence for people. */
  readonly about?: string;
  /** What to use in its place, for what is going to be removed: `'use mood'`. Checks report each use of it. */
  readonly deprecated?: string;
  /** Whether it travels up the tree; true unless given. */
  readonly bubbles?: boolean;
  /** Whether it leaves shadow trees; true unless given. */
  readonly composed?: boolean;
  /** Whether `preventDefault()` makes `emit` return false; false unless given. */
  readonly cancelable?: boolean;
}

/** A declared event, and the type of its detail. */
export interface EventDeclaration<Detail = unknown> {
  readonly about?: string;
  readonly deprecated?: string;
  readonly bubbles: boolean;
  readonly composed: boolean;
  readonly cancelable: boolean;
  /** Only a type: `event<{ name: string }>()`. */
  readonly detail?: Detail;
}

/**
 * Declares an event: `'hive-open': event<{ name: string }>({ about: 'The keeper opened the hive.' })`.
 * @example events: { 'hive-open': event<{ name: string }>({ cancelable: true }) }
 */
export function event(options?: EventOptions): EventDeclaration<null>;
export function event<Detail>(options?: EventOptions): EventDeclaration<Detail>;
export function event<Detail>(options: EventOptions = {}): EventDeclaration<Detail> {
  return { bubbles: true, composed: true, cancelable: false, ...options };
}
