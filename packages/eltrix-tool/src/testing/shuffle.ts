/** Shuffles items by a seed: Fisher and Yates with a small generator (mulberry32). */
export function shuffled<T>(items: readonly T[], seed: number): T[] {
  const list = [...items];
  let state = seed | 0;
  const below = (limit: number) => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) % limit;
  };
  for (let i = list.length - 1; i > 0; i--) {
    const k = below(i + 1);
    [list[i], list[k]] = [list[k]!, list[i]!];
  }
  return list;
}
