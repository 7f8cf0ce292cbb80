/** The language and direction of an element, from the page's `lang` and `dir` attributes. */

import { asked } from '../signals/asked.ts';
import type { Readable } from '../signals/computed.ts';

/** Counts changes of `lang` and `dir` in a tree. One observer for each document and root. */
const changes = new WeakMap<Node, Readable<number>>();

function follow(root: Node): void {
  let counted = changes.get(root);
  if (counted === undefined) {
    let count = 0;
    const next = () => ++count;
    counted = asked(
      next,
      set => {
        set(next());
        const observer = new MutationObserver(() => set(next()));
        observer.observe(root, { subtree: true, attributes: true, attributeFilter: ['lang', 'dir'] });
        return () => observer.disconnect();
      },
      0,
    );
    changes.set(root, counted);
  }
  counted.get();
}

/** The value of an attribute on the nearest element that has it, across shadow roots (HTML §3.2.6.2); tracked. */
function nearestValue(host: Element, name: string): string | undefined {
  for (let at: Node | null = host; at; at = at.parentNode ?? (at as Partial<ShadowRoot>).host ?? null) {
    const value = (at as Partial<Element>).getAttribute?.(name);
    if (value !== null && value !== undefined) return value;
  }
  return undefined;
}

/** Depends on every root up to the document: each may have another language. */
function followRoots(host: Element): void {
  if (!globalThis.document) return;
  for (let root: Node | undefined = host.getRootNode(); root; root = (root as Partial<ShadowRoot>).host?.getRootNode())
    follow(root);
}

/**
 * The language of an element as a BCP 47 tag: of the nearest `lang`, through shadow roots, else the browser's. A tracked
 * reading: expressions that read it run again when a `lang` changes.
 *
 * @example ${() => new Intl.NumberFormat(locale(this)).format(this.weight)}
 */
export function locale(host: Element): string {
  followRoots(host);
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
  followRoots(host);
  const stated = nearestValue(host, 'dir')?.toLowerCase();
  // A server does not look at the text.
  if (stated !== 'auto' || !globalThis.document) return stated === 'rtl' ? 'rtl' : 'ltr';
  return getComputedStyle(host).direction === 'rtl' ? 'rtl' : 'ltr';
}
