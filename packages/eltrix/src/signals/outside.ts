/**
 * Values from outside the graph (media queries, storage, the address), observed only while something depends on them.
 */
import type { Readable } from './computed.ts';
import { changed, changedUnwatched } from './graph.ts';
import { afterChange } from './queue.ts';
import { Cell } from './signal.ts';

/**
 * Starts observing and returns a function that stops. A value set before it returns is there for the first reader.
 * Neither function may read a signal: the reader of the cell would depend on it.
 */
export type Follow<T> = (set: (value: T) => void) => () => void;

/**
 * Lets a cell observe something while an effect or a live expression of a connected element depends on the cell.
 * @param everywhere whether this also works where there is no page.
 * @returns a function that sets the value. Unlike a signal's setter it may be called while a computed is running, since the computed may have started the observation.
 */
export function follow<T>(cell: Cell<T>, begin: Follow<T>, everywhere = false): (value: T) => void {
  let stop: (() => void) | undefined;
  const set = (value: T) => {
    if (Object.is(value, cell.current)) return;
    cell.current = value;
    if (!stop) return changedUnwatched(cell);
    changed(cell);
    afterChange();
  };
  cell.watched = () => {
    // A server observes only what needs no page.
    if (__RENDERED__ && !everywhere && !globalThis.document) return;
    stop = begin(set);
  };
  cell.unwatched = () => {
    stop?.();
    stop = undefined;
  };
  return set;
}

/** A signal for a value from outside; observation ends with the last subscriber. */
export function outside<T>(initial: T, begin: Follow<T>, everywhere?: boolean): Readable<T> {
  const cell = new Cell(initial);
  follow(cell, begin, everywhere);
  return cell;
}
