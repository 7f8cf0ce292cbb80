/** Compares two lists and finds the rows that can stay. The loops are functions, so that engines compile them early. */

/** The first index between `from` and `to` at which two lists differ. */
export function firstOther(a: readonly unknown[], b: readonly unknown[], from: number, to: number): number {
  while (from < to && a[from] === b[from]) from++;
  return from;
}

/** How many items are the same at the ends of two lists, up to a limit. */
export function sameAtEnd(a: readonly unknown[], b: readonly unknown[], most: number): number {
  let count = 0;
  while (count < most && a[a.length - 1 - count] === b[b.length - 1 - count]) count++;
  return count;
}

/**
 * The indexes of the rows that need not move: a longest increasing subsequence of their previous positions, found with
 * the patience method in O(n log n).
 *
 * @param kept a row that must be among them, if it is in the list: rows that have changed sides with it move.
 */
export function longestIncreasing(
  rows: readonly ({ readonly previousIndex: number } | undefined)[],
  kept?: { readonly previousIndex: number },
): Set<number> {
  const at = rows.indexOf(kept);
  /** For each length: the last row of the subsequence with the lowest end. */
  const tails: number[] = [];
  const previous: number[] = [];
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i];
    if (row === undefined || (at >= 0 && kept && (i - at) * (row.previousIndex - kept.previousIndex) < 0)) continue;
    let low = 0;
    let high = tails.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (rows[tails[middle]!]!.previousIndex < row.previousIndex) low = middle + 1;
      else high = middle;
    }
    previous[i] = tails[low - 1] ?? -1;
    tails[low] = i;
  }
  const stays = new Set<number>();
  for (let at = tails.at(-1) ?? -1; at >= 0; at = previous[at]!) stays.add(at);
  return stays;
}
