/**
 * Marks signals and computeds, across copies of this module: stores, caches and collections have `get` and `peek`, too.
 */
export const readable: unique symbol = Symbol.for('eltrix.readable.1') as never;

export function isSignal(value: unknown): boolean {
  return typeof value === 'object' && value !== null && readable in value;
}
