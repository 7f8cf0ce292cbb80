/** Development: finds the name with the fewest differences, if they are few, for "Did you mean …?". */
export function nearest(wanted: string, names: readonly string[]): string | undefined {
  let best: string | undefined;
  let fewest = Math.max(2, Math.floor(wanted.length / 4)) + 1;
  for (const name of names) {
    // As many insertions at least. Most names need no more than this.
    if (Math.abs(name.length - wanted.length) >= fewest) continue;
    const changes = distance(wanted.toLowerCase(), name.toLowerCase());
    if (changes < fewest) [best, fewest] = [name, changes];
  }
  return best;
}

/** The number of insertions, deletions and replacements of one character between two texts (Levenshtein). */
function distance(a: string, b: string): number {
  let row = `${b} `.split('').map((_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let k = 1; k <= b.length; k++)
      next[k] = Math.min(row[k]! + 1, next[k - 1]! + 1, row[k - 1]! + (a[i - 1] === b[k - 1] ? 0 : 1));
    row = next;
  }
  return row[b.length]!;
}
