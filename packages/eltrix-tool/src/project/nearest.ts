/** The most similar name, or undefined if more than a third differs (Damerau-Levenshtein distance). */
export function nearest(name: string, names: Iterable<string>): string | undefined {
  let best: string | undefined;
  let least = Math.max(1, Math.floor(name.length / 3)) + 1;
  for (const candidate of names) {
    const begins = candidate.length > 2 && name.startsWith(candidate);
    const distance = begins ? 1 : edits(name.toLowerCase(), candidate.toLowerCase());
    if (distance < least) {
      least = distance;
      best = candidate;
    }
  }
  return best;
}

function edits(a: string, b: string): number {
  if (Math.abs(a.length - b.length) > Math.max(a.length, b.length) / 2) return Number.POSITIVE_INFINITY;
  let before: number[] = [];
  let last = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const row = [i];
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1];
      row[j] = Math.min(last[j]! + 1, row[j - 1]! + 1, last[j - 1]! + (same ? 0 : 1));
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        row[j] = Math.min(row[j]!, before[j - 2]! + 1);
    }
    before = last;
    last = row;
  }
  return last[b.length]!;
}
