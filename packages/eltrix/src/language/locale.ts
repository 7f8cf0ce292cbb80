/** The language and direction of an element, from the page's `lang` and `dir` attributes. */

import { onMoved } from '../element/moved.ts';
import { parentAcross } from '../element/parent-across.ts';
import { asked } from '../signals/asked.ts';
import type { Readable } from '../signals/computed.ts';

type Counts = WeakMap<Node, Readable<number>>;

/** For each document and root, a number that changes with `lang` and `dir` in it: one observer for each. */
const roots: Counts = new WeakMap();
/** For each element, a number that changes when it moves. */
const places: Counts = new WeakMap();
let count = 0;

function follow(counts: Counts, node: Node, begin: (changed: () => void) => () => void): void {
  let counted = counts.get(node);
  if (counted === undefined) {
    const next = () => ++count;
    counted = asked(
      next,
      set => {
        const changed = () => set(next());
        changed();
        return begin(changed);
      },
      0,
    );
    counts.set(node, counted);
  }
  counted.get();
}

/** The value of an attribute on the nearest element that has it, across shadow roots (HTML §3.2.6.2); tracked. */
function nearestValue(host: Element, name: string): string | undefined {
  for (let at: Node | undefined = host; at; at = parentAcross(at)) {
    const value = (at as Partial<Element>).getAttribute?.(name);
    if (value !== null && value !== undefined) return value;
  }
  return undefined;
}

/** Depends on the place of an element, and on every root up to the document: each may have another language. */
function followPlace(host: Element): void {
  if (!globalThis.document) return;
  follow(places, host, changed => onMoved(host, changed));
  for (let root: Node | undefined = host.getRootNode(); root; root = parentAcross(root)?.getRootNode()) {
    const observed = root;
    follow(roots, observed, changed => {
      const observer = new MutationObserver(changed);
      observer.observe(observed, { subtree: true, attributes: true, attributeFilter: ['lang', 'dir'] });
      return () => observer.disconnect();
    });
  }
}

/**
 * The language of an element as a BCP 47 tag: of the nearest `lang`, through shadow roots, else the browser's. A tracked
 * reading: expressions that read it run again when a `lang` changes.
 *
 * @example ${() => new Intl.NumberFormat(locale(this)).format(this.weight)}
 */
export function locale(host: Element): string {
  followPlace(host);
  const stated = nearestValue(host, 'lang');
  if (isLocale(stated)) return stated;
  const own = globalThis.navigator?.language;
  // WebKitGTK returns "C" if the machine has no language.
  return isLocale(own) ? own : 'en';
}

/** `lang` may contain a text for which `Intl` throws. */
function isLocale(tag: string | undefined): tag is string {
  if (!tag) return false;
  try {
    return Intl.getCanonicalLocales(tag).length > 0;
  } catch {
    return false;
  }
}

/**
 * The direction of an element: the nearest `dir`, else left to right (HTML §3.2.6.4). A tracked reading.
 * @example markup`${() => (direction(this) === 'rtl' ? '←' : '→')}`
 */
export function direction(host: Element): 'ltr' | 'rtl' {
  followPlace(host);
  const stated = nearestValue(host, 'dir')?.toLowerCase();
  // A server does not look at the text.
  if (stated !== 'auto' || !globalThis.document) return stated === 'rtl' ? 'rtl' : 'ltr';
  return getComputedStyle(host).direction === 'rtl' ? 'rtl' : 'ltr';
}
