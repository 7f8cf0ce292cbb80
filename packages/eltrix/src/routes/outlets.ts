/** The elements that stand in the outlets, from the outermost. */
import { report } from '../signals/report.ts';
import type { Match, Route, RouteParameters } from './match.ts';

export interface OutletOptions {
  /** What stands in the outlet while an element is being loaded. */
  readonly pending?: (() => Node) | undefined;
  /** What stands there when loading failed; `again` loads once more. */
  readonly failure?: ((error: unknown, again: () => void) => Node) | undefined;
  /** Changes of the outermost element that changes are view transitions (CSS View Transitions 1), unless less motion is preferred. */
  readonly transitions?: boolean | undefined;
}

/** A route whose element stands, or that only groups others. */
export interface Level {
  readonly route: Route;
  readonly key: string;
  readonly element: HTMLElement | undefined;
}

/** The first in an element's shadow root, else among its children. */
export const within = (element: Element | undefined, selector: string): Element | null | undefined =>
  element?.shadowRoot?.querySelector(selector) ?? element?.querySelector(selector);

export function reportRoute(code: string, { path }: Route, what: string, cause?: unknown): void {
  report(new Error(__DEV__ ? `(${code}): The route "${path}" ${what}` : code, { cause }));
}

const attributeOf = (name: string) => name.replace(/[A-Z]/g, letter => `-${letter.toLowerCase()}`);

/** A parameter is the element's own property if it has one of the name, else an attribute. */
function give(element: HTMLElement, parameters: RouteParameters, before: RouteParameters): void {
  const isOwn = (name: string) => name in element && !(name in HTMLElement.prototype);
  const properties = element as unknown as Record<string, unknown>;
  for (const name of Object.keys(before)) {
    if (name in parameters) continue;
    // An attribute that is gone gives its property the default.
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
  /** Called when an element begins or ends to load. */
  readonly #onPending: (isPending: boolean) => void;
  /** Outlets of elements that have something of ours in them: others keep what their author put there. */
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
   * Puts the elements of a match in their outlets; those of the same routes stay.
   *
   * @param isCurrent whether this is still where the reader goes.
   * @returns whether all stand.
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
    for (const [at, route] of routes.entries()) {
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
        // What was pending or failed may stand in the place of an element that stays.
        if (outlet.firstElementChild !== element) {
          const shown = element;
          await this.#change(!isMoved, () => outlet.replaceChildren(shown));
          if (!isCurrent()) return false;
          isMoved = true;
          this.#filled.add(outlet);
        }
        inner = within(element, '[data-outlet]');
      }
      next.push({ route, key, element });
      // What is shown so far stays, also if the rest fails.
      this.#levels = next;
      this.#given = parameters;
    }
    // A parent that is shown alone has nothing in its outlet.
    if (inner && inner !== this.#outlet && this.#filled.has(inner)) inner.replaceChildren();
    return true;
  }

  async #change(isFirst: boolean, change: () => void): Promise<void> {
    const page = document as { startViewTransition?(change: () => void): { updateCallbackDone: Promise<unknown> } };
    const isWanted = isFirst && this.#options.transitions && !matchMedia('(prefers-reduced-motion: reduce)').matches;
    if (isWanted && page.startViewTransition) await page.startViewTransition(change).updateCallbackDone;
    else change();
  }

  /** @returns whether it is there, and still wanted. */
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
          // The reader keeps what was there.
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
