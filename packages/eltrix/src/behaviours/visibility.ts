import { rootOf } from '../element/root-of.ts';
import type { Readable } from '../signals/computed.ts';
import { outside } from '../signals/outside.ts';
import { shareObserver, type Watch } from './shared-observer.ts';

export interface Visibility {
  readonly isVisible: boolean;
  /** The visible fraction, from 0 to 1. */
  readonly ratio: number;
}

/** By default `ratio` changes in steps of a twentieth. */
const threshold: number[] = [];
for (let step = 0; step <= 20; step++) threshold.push(step / 20);

const hidden: Visibility = { isVisible: false, ratio: 0 };
const byRoot = new WeakMap<object, Record<string, Watch<IntersectionObserverEntry>>>();

/** One observer for all elements with the same options. */
function observe(target: Element, given: IntersectionObserverInit, set: (seen: Visibility) => void): () => void {
  const options = { threshold, ...given };
  const root = options.root ?? document;
  let watches = byRoot.get(root);
  if (!watches) byRoot.set(root, (watches = {}));
  const watch = (watches[`${options.rootMargin} ${options.threshold}`] ??= shareObserver(
    report => new IntersectionObserver(report, options),
  ));
  return watch(target, ({ isIntersecting, intersectionRatio }) =>
    set({ isVisible: isIntersecting, ratio: intersectionRatio }),
  );
}

/**
 * Whether an element is visible, observed while something depends on it. Elements with the same options share an
 * observer.
 * @param options `root`, `rootMargin` and `threshold` (in steps of a twentieth unless given; Intersection Observer §2.2, IntersectionObserverInit).
 * @example seen = watchVisibility(this, { rootMargin: '200px' });  // ${() => this.seen.get().isVisible}
 */
export function watchVisibility(target: Element, options: IntersectionObserverInit = {}): Readable<Visibility> {
  return outside(hidden, set => observe(target, options, set));
}

/**
 * The same for all matching elements in an element's view and among its children, including later ones.
 * @example rows = watchVisibilityOf(this, 'li');  // ${() => this.rows.get().get(row)?.isVisible}
 */
export function watchVisibilityOf(
  host: Element,
  selector: string,
  options: IntersectionObserverInit = {},
): Readable<ReadonlyMap<Element, Visibility>> {
  return outside<ReadonlyMap<Element, Visibility>>(new Map(), set => {
    const roots = [host, rootOf(host)];
    const stops = new Map<Element, () => void>();
    const seen = new Map<Element, Visibility>();
    const report = () => set(new Map(seen));
    const look = () => {
      const found = new Set(roots.flatMap(root => [...root.querySelectorAll(selector)]));
      for (const [element, stop] of stops) if (!found.has(element)) stop();
      for (const element of found) {
        if (stops.has(element)) continue;
        const stop = observe(element, options, visibility => {
          seen.set(element, visibility);
          report();
        });
        stops.set(element, () => {
          stop();
          stops.delete(element);
          seen.delete(element);
          report();
        });
      }
    };
    const observer = new MutationObserver(look);
    for (const root of roots) observer.observe(root, { childList: true, subtree: true, attributes: true });
    // The view is being created when its first expression reads this.
    queueMicrotask(look);
    return () => {
      observer.disconnect();
      roots.length = 0;
      look();
    };
  });
}
