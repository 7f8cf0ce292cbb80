/** The first line in which two texts differ. */
export function firstDifference(
  a: string,
  b: string,
): { readonly expected: string; readonly seen: string } | undefined {
  if (a === b) return undefined;
  const [left, right] = [a.split('\n'), b.split('\n')];
  const at = left.findIndex((line, index) => line !== right[index]);
  const line = at < 0 ? left.length : at;
  return { expected: (left[line] ?? '(nothing more)').trim(), seen: (right[line] ?? '(nothing more)').trim() };
}
