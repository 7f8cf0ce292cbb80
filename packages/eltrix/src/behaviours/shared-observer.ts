interface Observer {
  observe(target: Element, options?: object): void;
  unobserve(target: Element): void;
}

/** Observes an element until the returned function is called. */
export type Watch<E> = (target: Element, report: (entry: E) => void, options?: object) => () => void;

/**
 * One observer for all elements with the same options, however many callers observe an element. It is kept when it has
 * no elements: an idle observer costs nothing.
 * @param make creates the observer, which calls the given function.
 */
export function shareObserver<E extends { readonly target: Element }>(
  make: (report: (entries: readonly E[]) => void) => Observer,
): Watch<E> {
  const watchers = new Map<Element, Set<(entry: E) => void>>();
  const observer = make(entries => {
    for (const entry of entries) watchers.get(entry.target)?.forEach(report => void report(entry));
  });
  return (target, report, options) => {
    let own = watchers.get(target);
    if (!own) watchers.set(target, (own = new Set()));
    own.add(report);
    // An element that is observed already gets no further initial entry.
    observer.unobserve(target);
    observer.observe(target, options);
    return () => {
      own.delete(report);
      if (own.size > 0) return;
      watchers.delete(target);
      observer.unobserve(target);
    };
  };
}
