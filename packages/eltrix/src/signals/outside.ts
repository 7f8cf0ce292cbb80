/** A value from outside the graph, which is only followed while something shows it. */
import type { Readable } from './computed.ts';
import { changed, changedUnwatched } from './graph.ts';
import { afterChange } from './queue.ts';
import { Cell } from './signal.ts';

/**
 * Begins to follow, and returns a function that stops. What is set before it returns is there for the first reader.
 * Neither reads a signal: that would be tracked for the reader of the cell.
 */
type Follow<T> = (set: (value: T) => void) => () => void;

/**
 * Lets a cell follow something while an effect or a live expression of a connected element reads it.
 * @param everywhere whether it can be followed where there is no page.
 * @returns what sets it. Unlike a signal's it may be called while a computed is evaluated: that may be what began it.
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
    // On a server only what needs no page is followed.
    if (__RENDERED__ && !everywhere && !globalThis.document) return;
    stop = begin(set);
  };
  cell.unwatched = () => {
    stop?.();
    stop = undefined;
  };
  return set;
}

/** A signal for something that is not one, let go with the last of its readers. */
export function outside<T>(initial: T, begin: Follow<T>, everywhere?: boolean): Readable<T> {
  const cell = new Cell(initial);
  follow(cell, begin, everywhere);
  return cell;
}
