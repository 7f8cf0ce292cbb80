/** A generator of the same numbers for the same seed (mulberry32). */
export function random(seed: number): (below: number) => number {
  let state = seed;
  return below => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) % below;
  };
}

/** The seed of this run: ELTRIX_SEED repeats one. */
export const seed = Number(process.env['ELTRIX_SEED'] ?? 20261124);
