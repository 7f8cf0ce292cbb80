import type { Hole, HolePlace, Owner } from './hole.ts';

/**
 * Connects one node of a fresh copy with the values from `values[at]` on. What it returns is kept with the view, to be
 * given new values and to be disposed of; undefined if there is nothing to keep.
 *
 * @param renewable whether bindings of plain values are kept as well, since a piece of markup may come to replace them.
 */
export type Binder = (
  node: Node,
  values: readonly unknown[],
  at: number,
  owner: Owner,
  renewable: boolean,
) => Kept | undefined;

/** What a view keeps of a binding. */
export interface Kept {
  /** Values of a new piece of markup of the same template. */
  renew?(values: readonly unknown[], at: number): void;
  dispose(): void;
}

export interface TemplateSite {
  /** The index of its first value. */
  readonly hole: number;
  readonly bind: Binder;
  /** Only in development. */
  readonly place?: HolePlace;
}

/** What is known of a template once, for all its placements. */
export interface Template {
  /** What is copied: the only element, or a fragment. */
  readonly root: Node;
  /** Whether `root` belongs to the page's document, so that a plain copy will do there. */
  readonly inDocument: boolean;
  /** The nodes of a copy that have bindings, one for each site. */
  readonly walk: (root: Node) => readonly Node[];
  readonly sites: readonly TemplateSite[];
}

/** Gives a new hole its first value; it is kept if the value can change. */
export function keepHole(hole: Hole, value: unknown, renewable: boolean): Kept | undefined {
  hole.set(value);
  return renewable || hole.lasts ? hole : undefined;
}
