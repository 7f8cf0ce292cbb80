import { refuseUnknown } from './options.ts';

export interface PropertyOptions {
  /** A description in one sentence. */
  readonly about?: string;
  /** The replacement, for a property that is going to be removed: `'use mood'`. Checks report each use. */
  readonly deprecated?: string;
}

/** A property without an attribute. */
export interface PropertyDeclaration<T> extends PropertyOptions {
  /** `data` is replaced as a whole; `live` is tracked deeply. */
  readonly kind: 'data' | 'live';
  /** Creates the default value when an element's property is first read. */
  make(): T;
}

/**
 * A property for any value. Assigning a new value updates the view; changing the value in place does not.
 * @example frames: data<readonly Frame[]>(() => [])  // card.frames = [...card.frames, frame]
 */
export function data<T>(make: () => T, options: PropertyOptions = {}): PropertyDeclaration<T> {
  return { kind: 'data', make: maker('data', make, options), ...options };
}

/**
 * A property for arrays and plain objects, tracked deeply: `push`, `splice`, and changes of indexes and fields update
 * the view. Reading returns a proxy of the assigned object, the same one each time, so `===` works.
 * @example notes: live<string[]>(() => [])  // card.notes.push('Queen seen.')
 */
export function live<T extends object>(make: () => T, options: PropertyOptions = {}): PropertyDeclaration<T> {
  return { kind: 'live', make: maker('live', make, options), ...options };
}

/** @throws TypeError for a value instead of a function: all elements would share it. */
function maker<T>(kind: string, make: () => T, options: PropertyOptions): () => T {
  if (__DEV__ && typeof make !== 'function')
    throw new TypeError(
      `(make-missing): ${kind}() takes a function that makes the value, and ${Array.isArray(make) ? 'a list' : make === null || make === undefined ? String(make) : typeof make === 'object' ? 'an object' : `a ${typeof make}`} came. Write ${kind}(() => …).`,
    );
  if (__DEV__) refuseUnknown(kind, options, ['about', 'deprecated']);
  return make;
}
