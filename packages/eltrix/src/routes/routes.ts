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
  readonly element: HTMLElement | undefined;
}

const here = () => new URL(location.href);
const navigation = () => (globalThis as unknown as { navigation?: NavigationLike }).navigation;

/** Resolves when it is over, also where a guard says no or another navigation comes between. */
async function navigateTo({ href }: URL, replace: boolean): Promise<void> {
  await Promise.allSettled(Object.values(navigation()!.navigate(href, { history: replace ? 'replace' : 'push' })));
}

/** The first in an element's shadow root, else among its children. */
const within = (element: Element | undefined, selector: string): Element | null | undefined =>
  element?.shadowRoot?.querySelector(selector) ?? element?.querySelector(selector);

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

interface Pattern {
  exec(input: { pathname: string }): { pathname: { groups: Record<string, string | undefined> } } | null;
}

/** A way to an element: the routes from the outermost, and the pattern of them all. */
interface Way {
  readonly routes: readonly Route[];
  readonly path: string;
  readonly pattern: Pattern;
}

/** Each route's way, those of its children first. */
function waysOf(routes: readonly Route[], before: string, around: readonly Route[]): Way[] {
  const { URLPattern } = globalThis as unknown as { URLPattern?: new (init: { pathname: string }) => Pattern };
  if (!URLPattern)
    throw new Error(
      __DEV__
        ? '(pattern-missing): This engine has no URLPattern. Load a script that adds it, before routes() is called.'
        : 'pattern-missing',
    );
  return routes.flatMap(route => {
    const path = `${before}/${route.path}`.replace(/\/+/g, '/').replace(/(.)\/$/, '$1');
    const own = [...around, route];
    return [
      ...waysOf(route.children ?? [], path, own),
      { routes: own, path, pattern: new URLPattern({ pathname: path }) },
    ];
  });
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
  const base = new URL(options.base ?? '', location.origin).pathname.replace(/\/$/, '');
  // What no other matches comes last.
  const isLast = ({ path }: Way) => +path.endsWith('*');
  const ways = waysOf(routes, '', []).sort((a, b) => isLast(a) - isLast(b));
  const place = signal<Place>({ url: here(), parameters: {}, routes: [] });
  const isPending = signal(false);
  const control = new AbortController();
  const { pending, failure } = options;
  let levels: readonly Level[] = [];
  /** Counts arrivals: what comes too late is nobody's. */
  let visit = 0;
  /** Where all guards let the reader go. */
  let agreed: string | undefined;

  const href = (path: string) => base + path;

  async function go(to: string | URL, { replace = false } = {}): Promise<void> {
    const url = new URL(`${to}`.startsWith('/') ? href(`${to}`) : to, location.href);
    if (!find(url)) return location.assign(url);
    if (navigation()) return navigateTo(url, replace);
    if (!(await mayLeave(url))) return;
    history[replace ? 'replaceState' : 'pushState'](null, '', url);
    await arrive(url, true);
  }

  // Matching.

  function find({ origin, pathname }: URL): Match | undefined {
    if (origin !== location.origin || !`${pathname}/`.startsWith(`${base}/`)) return undefined;
    for (const { routes, pattern } of ways) {
      const found = pattern.exec({ pathname: pathname.slice(base.length) || '/' });
      if (!found) continue;
      const parameters: Record<string, string> = {};
      for (const [name, value] of Object.entries(found.pathname.groups))
        if (value !== undefined && Number.isNaN(+name)) parameters[name] = decodeURIComponent(value);
      return { routes, parameters };
    }
    return undefined;
  }

  /** What stands now, will go, and has a say in that. */
  function guards(url: URL): Level[] {
    const next = find(url)?.routes ?? [];
    return levels.filter(
      ({ route, element }) => element && route.leave && agreed !== url.href && !next.includes(route),
    );
  }

  async function mayLeave(url: URL): Promise<boolean> {
    for (const { route, element } of guards(url)) if (!(await route.leave!(element!, url))) return false;
    return true;
  }

  // The Navigation API (HTML §7.2.7), and what stands in for it.

  function intercept(event: NavigateEventLike): void {
    const url = new URL(event.destination.url);
    const { canIntercept, hashChange, downloadRequest, formData, navigationType } = event;
    if (!canIntercept || hashChange || downloadRequest !== null || formData || !find(url)) return;
    // A guard may think about it: the navigation is given up, and made again when all agree. The reader's own way back
    // cannot always be held (HTML §7.2.7.1, "cancelable"); then the element goes.
    if (guards(url).length > 0 && event.cancelable) {
      event.preventDefault();
      void mayLeave(url).then(may => {
        if (!may) return;
        agreed = url.href;
        void navigateTo(url, navigationType === 'replace');
      });
      return;
    }
    agreed = undefined;
    const isNew = navigationType === 'push' || navigationType === 'replace';
    event.intercept({
      async handler() {
        await arrive(url, isNew);
        if (!isNew) event.scroll();
      },
      focusReset: 'manual',
      scroll: 'manual',
    });
  }

  function click(event: MouseEvent): void {
    const { defaultPrevented, button, metaKey, ctrlKey, shiftKey, altKey } = event;
    if (defaultPrevented || button || metaKey || ctrlKey || shiftKey || altKey) return;
    const link = event
      .composedPath()
      .find((node): node is HTMLAnchorElement => node instanceof HTMLAnchorElement && node.href !== '');
    if (!link || !/^(_self)?$/.test(link.target) || link.hasAttribute('download')) return;
    const url = new URL(link.href);
    // A fragment of the same page is the engine's own affair.
    if ((url.hash && place.peek().url.href.split('#')[0] === url.href.split('#')[0]) || !find(url)) return;
    event.preventDefault();
    void go(url);
  }

  async function back(): Promise<void> {
    const url = here();
    if (await mayLeave(url)) return arrive(url, false);
    // The reader stays: the address goes back to where the element is.
    history.pushState(null, '', place.peek().url);
  }

  // Arriving.

  /** @param isNew whether the reader goes there, rather than back; undefined for where the page began. */
  async function arrive(url: URL, isNew?: boolean): Promise<void> {
    const found = find(url);
    if (!found) return;
    const { routes, parameters } = found;
    const own = ++visit;
    const isCurrent = () => own === visit;
    const path = routes
      .at(-1)!
      .redirect?.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(parameters[name] ?? ''));
    if (path) return go(path, { replace: true });
    const next: Level[] = [];
    let inner: Element | null | undefined = outlet;
    let isSame = true;
    for (const route of routes) {
      const before = levels[next.length];
      isSame &&= before?.route === route;
      let element = isSame ? before?.element : undefined;
      if (route.element && inner) {
        if (!element) {
          if (!(await load(route, inner, isCurrent, () => void arrive(url, isNew)))) return;
          element = document.createElement(route.element);
        }
        give(element, parameters);
        if (!isSame) inner.replaceChildren(element);
        inner = within(element, '[data-outlet]');
      }
      next.push({ route, element });
    }
    // A parent that is shown alone has nothing in its outlet.
    if (isSame && next.length < levels.length) inner?.replaceChildren();
    levels = next;
    place.set({ url, parameters, routes });
    for (const { title } of routes) if (title) document.title = typeof title === 'function' ? title(parameters) : title;
    if (isNew !== undefined) show(url, isNew);
  }

  /** @returns whether it is there, and still wanted. */
  async function load(
    { load, element }: Route,
    outlet: Element,
    isCurrent: () => boolean,
    again: () => void,
  ): Promise<boolean> {
    if (!load || customElements.get(element!)) return true;
    isPending.set(true);
    if (pending) outlet.replaceChildren(pending());
    try {
      await load();
    } catch (error) {
      if (isCurrent()) {
        if (!failure) throw error;
        outlet.replaceChildren(failure(error, again));
      }
      return false;
    } finally {
      if (isCurrent()) isPending.set(false);
    }
    return isCurrent();
  }

  /** As after the load of a page: at its top or its fragment, with the focus where reading begins. */
  function show({ hash }: URL, isNew: boolean): void {
    const target = document.getElementById(decodeURIComponent(hash.slice(1)));
    if (isNew) target ? target.scrollIntoView() : scrollTo(0, 0);
    const last = levels.at(-1)?.element;
    const heading = (target ?? within(last, 'h1') ?? last) as HTMLElement | undefined;
    if (heading && heading.tabIndex < 0) heading.tabIndex = -1;
    heading?.focus({ preventScroll: true });
  }

  const listening = { signal: control.signal };
  const target = navigation();
  if (target) target.addEventListener('navigate', event => intercept(event as NavigateEventLike), listening);
  else {
    document.addEventListener('click', click, listening);
    addEventListener('popstate', () => void back(), listening);
  }
  void arrive(here());
  return {
    place,
    isPending,
    go,
    href,
    stop() {
      control.abort();
      visit++;
    },
  };
}
