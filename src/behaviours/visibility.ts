import type { Readable } from '../signals/computed.ts';
import { outside } from '../signals/outside.ts';

export interface Visibility {
  readonly isVisible: boolean;
  /** How much of it, from 0 to 1. */
  readonly ratio: number;
}

export interface VisibilityOptions {
  /** The scroller; the viewport unless given. */
  readonly root?: Element | Document;
  /** As CSS margins: `"200px 0px"`. */
  readonly margin?: string;
  /** Ratios that are told of; 0 unless given. */
  readonly thresholds?: readonly number[];
}

const hidden: Visibility = { isVisible: false, ratio: 0 };
type Set_ = (seen: Visibility) => void;

interface Shared {
  readonly observer: IntersectionObserver;
  readonly setters: Map<Element, Set<Set_>>;
}

const shared = new WeakMap<object, Map<string, Shared>>();

/** One observer for all of the same options. */
function observe(
  target: Element,
  { root, margin = '0px', thresholds = [0] }: VisibilityOptions,
  set: Set_,
): () => void {
  const key = root ?? target.ownerDocument;
  const byOptions = shared.get(key) ?? new Map<string, Shared>();
  shared.set(key, byOptions);
  const options = `${margin} ${thresholds.join()}`;
  let found = byOptions.get(options);
  if (!found) {
    const setters = new Map<Element, Set<Set_>>();
    const observer = new IntersectionObserver(
      entries => {
        for (const { target, isIntersecting, intersectionRatio } of entries)
          for (const set of setters.get(target) ?? []) set({ isVisible: isIntersecting, ratio: intersectionRatio });
      },
      { root: root ?? null, rootMargin: margin, threshold: [...thresholds] },
    );
    byOptions.set(options, (found = { observer, setters }));
  }
  const { observer, setters } = found;
  const own = setters.get(target) ?? new Set();
  setters.set(target, own.add(set));
  // One that is watched already tells nothing more by itself.
  observer.unobserve(target);
  observer.observe(target);
  return () => {
    own.delete(set);
    if (own.size > 0) return;
    setters.delete(target);
    observer.unobserve(target);
    if (setters.size === 0) {
      observer.disconnect();
      byOptions.delete(options);
    }
  };
}

/**
 * Whether an element is seen, kept current while something shows it. Elements with the same options share an observer.
 */
export function watchVisibility(target: Element, options: VisibilityOptions = {}): Readable<Visibility> {
  return outside(hidden, set => observe(target, options, set));
}

/**
 * The same for each of the elements that match in an element's own view and among its children, as they come and go.
 * @example rows = watchVisibilityOf(this, 'li');  // ${() => this.rows.get().get(row)?.isVisible}
 */
export function watchVisibilityOf(
  host: Element,
  selector: string,
  options: VisibilityOptions = {},
): Readable<ReadonlyMap<Element, Visibility>> {
  return outside<ReadonlyMap<Element, Visibility>>(new Map(), set => {
    let seen = new Map<Element, Visibility>();
    const stops = new Map<Element, () => void>();
    const roots: ParentNode[] = host.shadowRoot ? [host, host.shadowRoot] : [host];
    const look = () => {
      const now = new Set(roots.flatMap(root => [...root.querySelectorAll(selector)]));
      for (const [element, stop] of stops) {
        if (now.has(element)) continue;
        stop();
        stops.delete(element);
        seen.delete(element);
      }
      for (const element of now)
        if (!stops.has(element))
          stops.set(
            element,
            observe(element, options, visibility => set((seen = new Map(seen).set(element, visibility)))),
          );
      set((seen = new Map(seen)));
    };
    const observer = new MutationObserver(look);
    for (const root of roots) observer.observe(root, { childList: true, subtree: true, attributes: true });
    // The view is being made when its first hole reads this.
    queueMicrotask(() => stops.size === 0 && look());
    return () => {
      observer.disconnect();
      for (const stop of stops.values()) stop();
      stops.clear();
    };
  });
}
