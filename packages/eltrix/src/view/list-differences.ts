/** How two lists differ, and what of one can stay where it is. */

/** The first index from `from` up to `to` at which two lists differ. By itself, so that engines soon compile it. */
export function firstOther(a: readonly unknown[], b: readonly unknown[], from: number, to: number): number {
  while (from < to && a[from] === b[from]) from++;
  return from;
}

/** How many items at the ends of two lists are the same, of so many. */
export function sameAtEnd(
  a: readonly unknown[],
  aEnd: number,
  b: readonly unknown[],
  bEnd: number,
  most: number,
): number {
  let count = 0;
  while (count < most && a[aEnd - 1 - count] === b[bEnd - 1 - count]) count++;
  return count;
}

/** A list with others in place of those from `from` up to `to`; the list itself where that is cheaper. */
export function replaced<X>(list: X[], from: number, to: number, others: readonly X[]): X[] {
  if (others.length >= 1000) return list.slice(0, from).concat(others, list.slice(to));
  list.splice(from, to - from, ...others);
  return list;
}

/**
 * The indexes of the rows that need not move: a longest increasing subsequence of where they stood before, found with
 * the patience method in O(n log n).
 */
export function longestIncreasing(rows: readonly ({ readonly before: number } | undefined)[]): Set<number> {
  const tails: number[] = [];
  const previous = new Map<number, number>();
  for (let i = 0; i < rows.length; i++) {
    const before = rows[i]?.before;
    if (before === undefined) continue;
    let low = 0;
    let high = tails.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (rows[tails[middle]!]!.before < before) low = middle + 1;
      else high = middle;
    }
    if (low > 0) previous.set(i, tails[low - 1]!);
    tails[low] = i;
  }
  const stays = new Set<number>();
  for (let at = tails.at(-1); at !== undefined; at = previous.get(at)) stays.add(at);
  return stays;
}
