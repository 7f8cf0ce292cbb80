/** Strict deep equality, as `assert.deepStrictEqual` of Node has it; nodes of a document compare by identity. */
export function isEqual(a: unknown, b: unknown, seen = new Map<unknown, unknown>()): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Object.getPrototypeOf(a) !== Object.getPrototypeOf(b) || 'nodeType' in a) return false;
  if (seen.get(a) === b) return true;
  seen.set(a, b);
  if (a instanceof Date) return a.getTime() === (b as Date).getTime();
  if (a instanceof RegExp) return String(a) === String(b);
  if (a instanceof Error && (a.message !== (b as Error).message || a.name !== (b as Error).name)) return false;
  if (a instanceof Number || a instanceof String || a instanceof Boolean) {
    if (!Object.is(a.valueOf(), b.valueOf())) return false;
  }
  if (a instanceof Map) {
    const other = b as Map<unknown, unknown>;
    if (a.size !== other.size) return false;
    for (const [key, value] of a) if (!other.has(key) || !isEqual(value, other.get(key), seen)) return false;
  }
  if (a instanceof Set) {
    const other = b as Set<unknown>;
    if (a.size !== other.size) return false;
    for (const value of a) if (!other.has(value) && ![...other].some(item => isEqual(value, item, seen))) return false;
  }
  if (Array.isArray(a) && a.length !== (b as unknown[]).length) return false;
  const keys = ownKeys(a);
  if (keys.length !== ownKeys(b).length) return false;
  const [x, y] = [a as Record<PropertyKey, unknown>, b as Record<PropertyKey, unknown>];
  return keys.every(key => Object.hasOwn(b, key) && isEqual(x[key], y[key], seen));
}

function ownKeys(value: object): PropertyKey[] {
  const symbols = Object.getOwnPropertySymbols(value).filter(key =>
    Object.prototype.propertyIsEnumerable.call(value, key),
  );
  return [...Object.keys(value), ...symbols];
}
