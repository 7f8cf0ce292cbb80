/** Functions to call when an element moves without being disconnected (DOM §4.2.6, moveBefore). */
const followers = new WeakMap<object, Set<() => void>>();

/** @returns a function that unregisters it. */
export function onMoved(host: object, fn: () => void): () => void {
  const all = followers.get(host) ?? new Set();
  followers.set(host, all.add(fn));
  return () => void all.delete(fn);
}

export function notifyMoved(host: object): void {
  for (const fn of [...(followers.get(host) ?? [])]) fn();
}
