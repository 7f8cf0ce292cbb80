/**
 * The indexes of the rows that need not move: a longest increasing subsequence of where they stood before, found with
 * the patience method in O(n log n).
 */
export function longestIncreasing(rows: readonly ({ readonly before: number } | undefined)[]): Set<number> {
  /** Of each length, the index of the row that ends the subsequence that ends lowest. */
  const tails: number[] = [];
  const previous: number[] = [];
  for (const [i, row] of rows.entries()) {
    if (row === undefined) continue;
    let low = 0;
    let high = tails.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (rows[tails[middle]!]!.before < row.before) low = middle + 1;
      else high = middle;
    }
    previous[i] = tails[low - 1] ?? -1;
    tails[low] = i;
  }
  const stays = new Set<number>();
  for (let at = tails.at(-1) ?? -1; at >= 0; at = previous[at]!) stays.add(at);
  return stays;
}
