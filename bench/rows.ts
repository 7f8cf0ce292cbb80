/** What the benchmark of suites measures. */

/** Milliseconds by hand and with Eltrix, measured one after the other. */
export type Sample = readonly [hand: number, eltrix: number];

export interface Row {
  readonly suite: string;
  readonly way: string;
  readonly built: 'compiled' | 'written';
  readonly temperature: 'cold' | 'warm';
  readonly engine: string;
  readonly operation: string;
  /** Median milliseconds by hand and with Eltrix, and the median of the ratios of each round. */
  readonly script: readonly [hand: number, eltrix: number, ratio: number];
  readonly layout: readonly [hand: number, eltrix: number, ratio: number];
}

export function median(numbers: readonly number[]): number {
  const sorted = [...numbers].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}

/** The geometric mean. */
export function mean(ratios: readonly number[]): number {
  return Math.exp(ratios.reduce((sum, ratio) => sum + Math.log(ratio), 0) / ratios.length);
}

const idOf = ({ script: _, layout: __, ...row }: Row) => JSON.stringify(Object.entries(row).sort());

/** Rows measured before, with those measured now in their place. */
export function merge(before: readonly Row[], now: readonly Row[]): Row[] {
  return [...new Map([...before, ...now].map(row => [idOf(row), row])).values()];
}
