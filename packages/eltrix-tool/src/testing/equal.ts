/**
 * Strict deep equality, as in Node's `assert.deepStrictEqual`. Nodes of a document, promises and weak collections are
 * compared by identity.
 */
export function isEqual(a: unknown, b: unknown): boolean {
  return same(a, b, { of: new Map(), other: new Map(), depth: 0 });
}

/** The objects being compared, with their depth: cycles have to lead to the same depth. */
interface Path {
  readonly of: Map<object, number>;
  readonly other: Map<object, number>;
  depth: number;
}

function same(a: unknown, b: unknown, path: Path): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Object.getPrototypeOf(a) !== Object.getPrototypeOf(b) || 'nodeType' in a || isOpaque(a)) return false;
  const [backOf, backOther] = [path.of.get(a), path.other.get(b)];
  if (backOf !== undefined && backOther !== undefined) return backOf === backOther;
  path.depth++;
  path.of.set(a, path.depth);
  path.other.set(b, path.depth);
  const are = sameValue(a, b, path) && sameKeys(a, b, path);
  path.of.delete(a);
  path.other.delete(b);
  return are;
}

/** Its content cannot be read. */
const isOpaque = (value: object) => [Promise, WeakMap, WeakSet, WeakRef].some(kind => value instanceof kind);

/** The content of two objects besides their properties. */
function sameValue(a: object, b: object, path: Path): boolean {
  if (a instanceof Date) return Object.is(a.getTime(), (b as Date).getTime());
  if (a instanceof RegExp) return String(a) === String(b) && a.lastIndex === (b as RegExp).lastIndex;
  if (a instanceof Error) return sameError(a, b as Error, path);
  if (a instanceof Map) return sameMap(a, b as Map<unknown, unknown>, path);
  if (a instanceof Set) return sameSet(a, b as Set<unknown>, path);
  if (a instanceof ArrayBuffer) return sameBytes(new Uint8Array(a), new Uint8Array(b as ArrayBuffer));
  if (a instanceof DataView) return sameBytes(bytesOf(a), bytesOf(b as DataView));
  if ([Number, String, Boolean, BigInt, Symbol].some(boxed => a instanceof boxed))
    return Object.is(a.valueOf(), b.valueOf());
  return !Array.isArray(a) || a.length === (b as unknown[]).length;
}

function sameError(a: Error, b: Error, path: Path): boolean {
  if (a.message !== b.message || a.name !== b.name) return false;
  // Not enumerable, so not among the keys.
  return (['cause', 'errors'] as const).every(key => {
    if (Object.hasOwn(a, key) !== Object.hasOwn(b, key)) return false;
    return same((a as AggregateError)[key], (b as AggregateError)[key], path);
  });
}

const isObject = (value: unknown): value is object => typeof value === 'object' && value !== null;

function sameMap(a: ReadonlyMap<unknown, unknown>, b: ReadonlyMap<unknown, unknown>, path: Path): boolean {
  if (a.size !== b.size) return false;
  const left = new Set([...b.keys()].filter(isObject));
  for (const [key, value] of a) {
    if (b.has(key)) {
      if (!same(value, b.get(key), path)) return false;
      if (isObject(key)) left.delete(key);
      continue;
    }
    if (!isObject(key)) return false;
    const found = [...left].find(other => same(key, other, path) && same(value, b.get(other), path));
    if (found === undefined) return false;
    left.delete(found);
  }
  return true;
}

function sameSet(a: ReadonlySet<unknown>, b: ReadonlySet<unknown>, path: Path): boolean {
  if (a.size !== b.size) return false;
  const left = new Set([...b].filter(value => isObject(value) && !a.has(value)));
  for (const value of a) {
    if (b.has(value)) continue;
    if (!isObject(value)) return false;
    const found = [...left].find(other => same(value, other, path));
    if (found === undefined) return false;
    left.delete(found);
  }
  return true;
}

const bytesOf = ({ buffer, byteOffset, byteLength }: DataView) => new Uint8Array(buffer, byteOffset, byteLength);

function sameBytes(a: Uint8Array, b: Uint8Array): boolean {
  return a.length === b.length && a.every((byte, i) => byte === b[i]);
}

function sameKeys(a: object, b: object, path: Path): boolean {
  const keys = ownKeys(a);
  if (keys.length !== ownKeys(b).length) return false;
  const [x, y] = [a as Record<PropertyKey, unknown>, b as Record<PropertyKey, unknown>];
  return keys.every(key => Object.prototype.propertyIsEnumerable.call(b, key) && same(x[key], y[key], path));
}

function ownKeys(value: object): PropertyKey[] {
  const symbols = Object.getOwnPropertySymbols(value).filter(key =>
    Object.prototype.propertyIsEnumerable.call(value, key),
  );
  return [...Object.keys(value), ...symbols];
}
