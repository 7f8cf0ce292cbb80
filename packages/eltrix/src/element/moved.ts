/** What follows the place of an element is told when the element moves without being disconnected. */
const followers = new WeakMap<object, Set<() => void>>();

/** @returns a function that ends it. */
export function onMoved(host: object, fn: () => void): () => void {
  const all = followers.get(host) ?? new Set();
  followers.set(host, all.add(fn));
  return () => void all.delete(fn);
}

export function tellMoved(host: object): void {
  for (const fn of [...(followers.get(host) ?? [])]) fn();
}
