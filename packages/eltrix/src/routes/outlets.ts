/** The elements in the outlets, outermost first. */
import { rootOf } from '../element/root-of.ts';
import { report } from '../signals/report.ts';
import type { Match, Route, RouteParameters } from './match.ts';

export interface OutletOptions {
  /** The view of an outlet while its element is loading. */
  readonly pending?: (() => Node) | undefined;
  /** The view of an outlet after loading has failed; `again` retries. */
  readonly failure?: ((error: unknown, again: () => void) => Node) | undefined;
  /**
   * Whether changes of the outermost changed element use view transitions (CSS View Transitions 1), unless the user
   * prefers reduced motion.
   */
  readonly transitions?: boolean | undefined;
}

/** A matched route and its element; a route that only groups others has none. */
export interface Level {
  readonly route: Route;
  readonly key: string;
  readonly element: HTMLElement | undefined;
}

/** The first outlet in an element's shadow root, else among its descendants. */
export const within = (element: Element | undefined, selector: string): Element | null | undefined =>
  element && (rootOf(element).querySelector(selector) ?? element.querySelector(selector));

export function reportRoute(code: string, { path }: Route, what: string, cause?: unknown): void {
  report(new Error(__DEV__ ? `(${code}): The route "${path}" ${what}` : code, { cause }));
}

const attributeOf = (name: string) => name.replace(/[A-Z]/g, letter => `-${letter.toLowerCase()}`);

/** Sets a parameter as the element's property, or as an attribute if it has no such property. */
function give(element: HTMLElement, parameters: RouteParameters, before: RouteParameters): void {
  const isOwn = (name: string) => name in element && !(name in HTMLElement.prototype);
  const properties = element as unknown as Record<string, unknown>;
  for (const name of Object.keys(before)) {
    if (name in parameters) continue;
    // Removing an attribute resets its property to the default.
    if (element.hasAttribute(attributeOf(name))) element.removeAttribute(attributeOf(name));
    else if (isOwn(name)) properties[name] = undefined;
  }
  for (const [name, value] of Object.entries(parameters)) {
    if (isOwn(name)) properties[name] = value;
    else element.setAttribute(attributeOf(name), value);
  }
}

export class Outlets {
  readonly #outlet: Element;
  readonly #options: OutletOptions;
  /** Called when an element starts or ends loading. */
  readonly #onPending: (isPending: boolean) => void;
  /** Outlets with elements of this module: other outlets keep their authors' content. */
  readonly #filled = new WeakSet<Element>();
  #levels: readonly Level[] = [];
  #given: RouteParameters = {};

  constructor(outlet: Element, options: OutletOptions, onPending: (isPending: boolean) => void) {
    this.#outlet = outlet;
    this.#options = options;
    this.#onPending = onPending;
  }

  get levels(): readonly Level[] {
    return this.#levels;
  }

  /**
   * Shows the elements of a match in their outlets. Elements of the same routes stay.
   *
   * @param isCurrent whether the navigation is still the latest.
   * @returns whether all elements are shown.
   */
  async show(match: Match, isCurrent: () => boolean, again: () => void): Promise<boolean> {
    const { routes, parameters, keys } = match;
    const before = this.#levels;
    const given = this.#given;
    const next: Level[] = [];
    let inner: Element | null | undefined = this.#outlet;
    let isSame = true;
    let isMoved = false;
    this.#onPending(false);
    for (let at = 0; at < routes.length; at++) {
      const route = routes[at]!;
      const key = keys[at]!;
      const old = before[at];
      isSame &&= old?.route === route && (!route.fresh || old.key === key);
      let element = isSame ? old?.element : undefined;
      if (route.element && inner) {
        const outlet: Element = inner;
        if (!element) {
          if (!(await this.#load(route, outlet, isCurrent, again))) return false;
          element = document.createElement(route.element);
          give(element, parameters, {});
        } else give(element, parameters, given);
        // An outlet may show its pending or failed view instead of an element that stays.
        if (outlet.firstElementChild !== element) {
          const shown = element;
          // Before it waits: a newer navigation empties the outlet if it has nothing to show there.
          this.#filled.add(outlet);
          await this.#change(!isMoved, () => isCurrent() && outlet.replaceChildren(shown));
          if (!isCurrent()) return false;
          isMoved = true;
        }
        inner = within(element, '[data-outlet]');
      }
      next.push({ route, key, element });
      // Elements shown so far stay, even if the rest fails.
      this.#levels = next;
      this.#given = parameters;
    }
    // Without a matched child route the outlet is empty.
    if (inner && inner !== this.#outlet && this.#filled.has(inner)) inner.replaceChildren();
    return true;
  }

  async #change(isFirst: boolean, change: () => unknown): Promise<void> {
    const page = document as { startViewTransition?(change: () => unknown): { updateCallbackDone: Promise<unknown> } };
    const isWanted = isFirst && this.#options.transitions && !matchMedia('(prefers-reduced-motion: reduce)').matches;
    if (isWanted && page.startViewTransition) await page.startViewTransition(change).updateCallbackDone;
    else change();
  }

  /** @returns whether it is loaded, and the navigation is still the latest. */
  async #load(route: Route, outlet: Element, isCurrent: () => boolean, again: () => void): Promise<boolean> {
    const { load, element } = route;
    if (load && !customElements.get(element!)) {
      const { pending, failure } = this.#options;
      const before = [...outlet.childNodes];
      this.#onPending(true);
      if (pending) {
        outlet.replaceChildren(pending());
        this.#filled.add(outlet);
      }
      try {
        await load();
      } catch (error) {
        if (!isCurrent()) return false;
        if (failure) outlet.replaceChildren(failure(error, again));
        else {
          // The previous content stays.
          outlet.replaceChildren(...before);
          reportRoute('route-load', route, __DEV__ ? `could not be loaded: ${String(error)}` : '', error);
        }
        return false;
      } finally {
        if (isCurrent()) this.#onPending(false);
      }
    }
    if (element!.includes('-') && !customElements.get(element!))
      reportRoute(
        'route-element',
        route,
        __DEV__ ? `shows <${element}>, which is not defined. Define it, or load it in \`load\`.` : '',
      );
    return isCurrent();
  }
}
