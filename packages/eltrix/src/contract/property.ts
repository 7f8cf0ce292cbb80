export interface PropertyOptions {
  /** One sentence for people. */
  readonly about?: string;
  /** What to use in its place, for what is going to be removed: `'use mood'`. Checks report each use of it. */
  readonly deprecated?: string;
}

/** A property without an attribute. */
export interface PropertyDeclaration<T> extends PropertyOptions {
  /** `data` is replaced as a whole; `live` is tracked deeply. */
  readonly kind: 'data' | 'live';
  /** Makes the first value, once an element, when it is first read. */
  make(): T;
}

/**
 * Any value, replaced as a whole: assigning it shows, changing it in place does not.
 * @example frames: data<readonly Frame[]>(() => [])  // card.frames = [...card.frames, frame]
 */
export function data<T>(make: () => T, options: PropertyOptions = {}): PropertyDeclaration<T> {
  return { kind: 'data', make: maker('data', make), ...options };
}

/**
 * Arrays and plain objects, tracked deeply: `push`, `splice`, index, field and `delete` show. What is read is a
 * stand-in of the object given, the same one at each reading; `===` between two readings of one thing holds.
 * @example notes: live<string[]>(() => [])  // card.notes.push('Queen seen.')
 */
export function live<T extends object>(make: () => T, options: PropertyOptions = {}): PropertyDeclaration<T> {
  return { kind: 'live', make: maker('live', make), ...options };
}

/** @throws TypeError for the value itself, which all elements would share. */
function maker<T>(kind: string, make: () => T): () => T {
  if (__DEV__ && typeof make !== 'function')
    throw new TypeError(
      `(make-missing): ${kind}() takes a function that makes the value, and ${Array.isArray(make) ? 'a list' : make === null || make === undefined ? String(make) : typeof make === 'object' ? 'an object' : `a ${typeof make}`} came. Write ${kind}(() => …).`,
    );
  return make;
}
