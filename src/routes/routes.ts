/** Which element stands in an outlet for which address. Links stay plain `<a href>`. */
import type { Readable } from '../signals/computed.ts';
import { signal } from '../signals/signal.ts';

export type RouteParameters = Readonly<Record<string, string>>;

export interface Route {
  /** A path as URLPattern has it, below that of its parent: `/hives/:name`. `*` is what no other matches. */
  readonly path: string;
  /** The tag of the element that stands in the outlet; its parameters become properties, else attributes. */
  readonly element?: string;
  /** Imports what defines the element, the first time. */
  readonly load?: () => Promise<unknown>;
  /** The page's title. */
  readonly title?: string | ((parameters: RouteParameters) => string);
  /** Goes elsewhere instead: a path with the same parameters. */
  readonly redirect?: string;
  /** Asked before its element goes; false stays. */
  readonly leave?: (element: HTMLElement, to: URL) => boolean | Promise<boolean>;
  /** What stands in the outlet of its element: the first `[data-outlet]` in it or in its shadow root. */
  readonly children?: readonly Route[];
}

export interface RouterOptions {
  /** The path under which the application lives; `/` unless given. */
  readonly base?: string;
  /** What stands in the outlet while an element is being loaded. */
  readonly pending?: () => Node;
  /** What stands there when loading failed; `again` tries anew. */
  readonly failure?: (error: unknown, again: () => void) => Node;
}

export interface Place {
  readonly url: URL;
  readonly parameters: RouteParameters;
  /** The routes that matched, from the outermost; empty if none did. */
  readonly routes: readonly Route[];
}

export interface Router {
  /** Where the reader is; tracked. */
  readonly place: Readable<Place>;
  readonly isPending: Readable<boolean>;
  /** Goes to a path below the base, or to an address. Resolves when its element stands, or was refused. */
  go(to: string | URL, options?: { readonly replace?: boolean }): Promise<void>;
  /** The address of a path below the base, for `href`. */
  href(path: string): string;
  /** Ends it; what stands in the outlet stays. */
  stop(): void;
}

interface Match {
  readonly routes: readonly Route[];
  readonly parameters: RouteParameters;
}

interface NavigateEventLike extends Event {
  readonly canIntercept: boolean;
  readonly hashChange: boolean;
  readonly downloadRequest: string | null;
  readonly formData: unknown;
  readonly destination: { readonly url: string };
  readonly navigationType: string;
  intercept(options: { handler(): Promise<void>; focusReset: 'manual'; scroll: 'manual' }): void;
  scroll(): void;
}

interface NavigationLike extends EventTarget {
  navigate(url: string, options: { history: 'push' | 'replace' }): Record<'committed' | 'finished', Promise<unknown>>;
}

interface Level {
  readonly route: Route;
  readonly element: HTMLElement;
}

/** Resolves when it is over, also where a guard says no or another navigation comes between. */
async function navigateTo(navigation: NavigationLike, { href }: URL, replace: boolean): Promise<void> {
  const { committed, finished } = navigation.navigate(href, { history: replace ? 'replace' : 'push' });
  await Promise.allSettled([committed, finished]);
}

class PageRouter implements Router {
  readonly #place = signal<Place>({ url: new URL(location.href), parameters: {}, routes: [] });
  readonly #pending = signal(false);
  readonly #control = new AbortController();
  readonly #base: string;
  #levels: Level[] = [];
  /** Counts arrivals: what comes too late is nobody's. */
  #visit = 0;
  #url = location.href;

  constructor(
    readonly outlet: Element,
    readonly routes: readonly Route[],
    readonly options: RouterOptions,
  ) {
    this.#base = `/${(options.base ?? '').replace(/^\/|\/$/g, '')}`.replace(/\/$/, '');
    const { signal } = this.#control;
    const { navigation } = globalThis as unknown as { navigation?: NavigationLike };
    if (navigation)
      navigation.addEventListener('navigate', event => this.#intercept(event as NavigateEventLike), { signal });
    else {
      document.addEventListener('click', event => this.#click(event), { signal });
      addEventListener('popstate', () => void this.#back(), { signal });
    }
    void this.#arrive(new URL(location.href), true);
  }

  get place(): Readable<Place> {
    return this.#place;
  }

  get isPending(): Readable<boolean> {
    return this.#pending;
  }

  href(path: string): string {
    return this.#base + path;
  }

  stop(): void {
    this.#control.abort();
    this.#visit++;
  }

  async go(to: string | URL, { replace = false } = {}): Promise<void> {
    const url =
      typeof to === 'string' && to.startsWith('/') ? new URL(this.href(to), location.href) : new URL(to, location.href);
    if (!this.#owns(url)) return location.assign(url);
    const { navigation } = globalThis as unknown as { navigation?: NavigationLike };
    if (navigation) {
      await navigateTo(navigation, url, replace);
      return;
    }
    if (!(await this.#mayLeave(url))) return;
    history[replace ? 'replaceState' : 'pushState'](null, '', url);
    await this.#arrive(url, false);
  }

  #owns(url: URL): boolean {
    return url.origin === location.origin && (url.pathname === this.#base || url.pathname.startsWith(`${this.#base}/`));
  }

  // The Navigation API (HTML §7.2.7), and what stands in for it.

  #intercept(event: NavigateEventLike): void {
    const url = new URL(event.destination.url);
    if (!event.canIntercept || event.hashChange || event.downloadRequest !== null || event.formData || !this.#owns(url))
      return;
    if (!this.#find(url)) return;
    const guards = this.#guards(url);
    if (guards.length > 0) {
      // A guard may think about it: the navigation is given up, and made again when all agree. The reader's own way back
      // cannot always be held (HTML §7.2.7.1, "cancelable"); then the element goes.
      if (event.cancelable) {
        event.preventDefault();
        void this.#mayLeave(url).then(may => {
          if (!may) return;
          this.#agreed = url.href;
          const { navigation } = globalThis as unknown as { navigation: NavigationLike };
          void navigateTo(navigation, url, event.navigationType === 'replace');
        });
        return;
      }
    }
    this.#agreed = undefined;
    const isNew = event.navigationType === 'push' || event.navigationType === 'replace';
    event.intercept({
      handler: async () => {
        await this.#arrive(url, false, isNew);
        if (!isNew) event.scroll();
      },
      focusReset: 'manual',
      scroll: 'manual',
    });
  }

  #agreed: string | undefined;

  #click(event: MouseEvent): void {
    if (
      event.defaultPrevented ||
      event.button !== 0 ||
      event.metaKey ||
      event.ctrlKey ||
      event.shiftKey ||
      event.altKey
    )
      return;
    const link = event
      .composedPath()
      .find((node): node is HTMLAnchorElement => node instanceof HTMLAnchorElement && node.href !== '');
    if (!link || (link.target && link.target !== '_self') || link.hasAttribute('download')) return;
    const url = new URL(link.href);
    const isHere = url.pathname === location.pathname && url.search === location.search && url.hash !== '';
    if (isHere || !this.#owns(url) || !this.#find(url)) return;
    event.preventDefault();
    void this.go(url);
  }

  async #back(): Promise<void> {
    const url = new URL(location.href);
    if (await this.#mayLeave(url)) return this.#arrive(url, false, false);
    // The reader stays: the address goes back to where the element is.
    history.pushState(null, '', this.#url);
  }

  // Matching.

  #find(url: URL): Match | undefined {
    const path = url.pathname.slice(this.#base.length) || '/';
    return match(this.routes, path, '', []) ?? match(this.routes, '*', '', []);
  }

  #guards(url: URL): Level[] {
    if (this.#agreed === url.href) return [];
    const found = this.#find(url)?.routes ?? [];
    return this.#levels.filter(({ route }) => route.leave && !found.includes(route));
  }

  async #mayLeave(url: URL): Promise<boolean> {
    for (const { route, element } of this.#guards(url)) if (!(await route.leave!(element, url))) return false;
    return true;
  }

  // Arriving.

  async #arrive(url: URL, first: boolean, isNew = true): Promise<void> {
    const found = this.#find(url);
    if (!found) return;
    const visit = ++this.#visit;
    const isHere = () => visit === this.#visit;
    const redirect = found.routes.at(-1)!.redirect;
    if (redirect !== undefined) {
      const path = redirect.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(found.parameters[name] ?? ''));
      return this.go(path, { replace: true });
    }
    const kept = this.#levels.findIndex(({ route }, at) => found.routes[at] !== route);
    const levels = kept < 0 ? this.#levels.slice(0, found.routes.length) : this.#levels.slice(0, kept);
    for (const { element } of levels) give(element, found.parameters);
    let outlet: Element | undefined = levels.length > 0 ? outletOf(levels.at(-1)!.element) : this.outlet;
    for (const route of found.routes.slice(levels.length)) {
      if (!route.element || !outlet) continue;
      if (!(await this.#load(route, outlet, isHere, () => void this.#arrive(url, first, isNew)))) return;
      const element = document.createElement(route.element);
      give(element, found.parameters);
      outlet.replaceChildren(element);
      levels.push({ route, element });
      outlet = outletOf(element);
    }
    // A parent that is shown alone has nothing in its outlet.
    if (outlet && levels.length < this.#levels.length && levels.length > 0) outlet.replaceChildren();
    this.#levels = levels;
    this.#url = url.href;
    this.#place.set({ url, parameters: found.parameters, routes: found.routes });
    const title = found.routes.findLast(route => route.title !== undefined)?.title;
    if (title !== undefined) document.title = typeof title === 'function' ? title(found.parameters) : title;
    if (!first) this.#show(url, isNew);
  }

  async #load({ load, element }: Route, outlet: Element, isHere: () => boolean, again: () => void): Promise<boolean> {
    if (!load || customElements.get(element!)) return true;
    const { pending, failure } = this.options;
    this.#pending.set(true);
    if (pending) outlet.replaceChildren(pending());
    try {
      await load();
      return isHere();
    } catch (error) {
      if (!isHere()) return false;
      if (!failure) throw error;
      outlet.replaceChildren(failure(error, again));
      return false;
    } finally {
      if (isHere()) this.#pending.set(false);
    }
  }

  /** As after the load of a page: at its top or its fragment, with the focus where reading begins. */
  #show({ hash }: URL, isNew: boolean): void {
    const target = hash ? document.getElementById(decodeURIComponent(hash.slice(1))) : null;
    if (isNew) {
      if (target) target.scrollIntoView();
      else scrollTo(0, 0);
    }
    const last = this.#levels.at(-1)?.element;
    const heading = target ?? last?.shadowRoot?.querySelector('h1') ?? last?.querySelector('h1') ?? last;
    if (!(heading instanceof HTMLElement)) return;
    if (!heading.hasAttribute('tabindex') && heading.tabIndex < 0) heading.setAttribute('tabindex', '-1');
    heading.focus({ preventScroll: true });
  }
}

function outletOf(element: HTMLElement): Element | undefined {
  return element.shadowRoot?.querySelector('[data-outlet]') ?? element.querySelector('[data-outlet]') ?? undefined;
}

/** A parameter is the element's own property if it has one of the name, else an attribute. */
function give(element: HTMLElement, parameters: RouteParameters): void {
  for (const [name, value] of Object.entries(parameters)) {
    if (name in element && !(name in HTMLElement.prototype))
      (element as unknown as Record<string, unknown>)[name] = value;
    else
      element.setAttribute(
        name.replace(/[A-Z]/g, letter => `-${letter.toLowerCase()}`),
        value,
      );
  }
}

type Pattern = {
  exec(input: { pathname: string }): { pathname: { groups: Record<string, string | undefined> } } | null;
};
const patterns = new Map<string, Pattern>();

function patternOf(pathname: string): Pattern {
  let pattern = patterns.get(pathname);
  if (!pattern) {
    const { URLPattern } = globalThis as unknown as { URLPattern?: new (init: { pathname: string }) => Pattern };
    if (!URLPattern)
      throw new Error(
        __DEV__
          ? '(pattern-missing): This engine has no URLPattern. Load a script that adds it, before routes() is called.'
          : 'pattern-missing',
      );
    patterns.set(pathname, (pattern = new URLPattern({ pathname })));
  }
  return pattern;
}

/** The first route that matches a path, with the routes around it. */
function match(routes: readonly Route[], path: string, before: string, around: readonly Route[]): Match | undefined {
  for (const route of routes) {
    if (route.path === '*') {
      if (path === '*') return { routes: [...around, route], parameters: {} };
      continue;
    }
    const own = `${before}${route.path === '/' && before ? '' : route.path}`.replace(/(?!^)\/$/, '');
    const inner = route.children && match(route.children, path, own, [...around, route]);
    if (inner) return inner;
    if (path === '*') continue;
    const groups = patternOf(own || '/').exec({ pathname: path })?.pathname.groups;
    if (!groups) continue;
    const named = Object.entries(groups).filter(([name, value]) => !/^\d+$/.test(name) && value !== undefined);
    return {
      routes: [...around, route],
      parameters: Object.fromEntries(named.map(([name, value]) => [name, decodeURIComponent(value!)])),
    };
  }
  return undefined;
}

/**
 * Shows an element in an outlet for each address, from now on, and for the one that the page has.
 * @example
 * const router = routes(document.querySelector('main'), [
 *   { path: '/', element: 'hive-list', title: 'Hives' },
 *   { path: '/hives/:name', element: 'hive-page', load: () => import('./hive-page.ts'), title: ({ name }) => name },
 *   { path: '*', element: 'lost-page', title: 'Not here' },
 * ]);
 */
export function routes(outlet: Element, routes: readonly Route[], options: RouterOptions = {}): Router {
  return new PageRouter(outlet, routes, options);
}
