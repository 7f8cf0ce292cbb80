/** Shows an element in an outlet for each URL. Links stay plain `<a href>`. */
import type { Readable } from '../signals/computed.ts';
import { signal } from '../signals/signal.ts';
import { type Match, matcher, type Route, type RouteParameters } from './match.ts';
import { followNavigation, isFragment } from './navigation.ts';
import { type Level, type OutletOptions, Outlets, reportRoute, within } from './outlets.ts';

export interface RouterOptions extends OutletOptions {
  /** The path of the application; `/` unless given. */
  readonly base?: string | undefined;
}

export interface Place {
  readonly url: URL;
  readonly parameters: RouteParameters;
  /** The matched routes, outermost first; empty if none matches. */
  readonly routes: readonly Route[];
}

/**
 * The result of `go()`: the element is shown; a guard has cancelled; a newer navigation has started; loading has
 * failed or a redirect leads nowhere; no route matches, so the browser loads the page.
 */
export type Outcome = 'arrived' | 'refused' | 'superseded' | 'failed' | 'left';

export interface Router {
  /** The current match; tracked. */
  readonly place: Readable<Place>;
  readonly isPending: Readable<boolean>;
  /**
   * Navigates to a path below the base, or to a URL of this origin.
   *
   * @throws TypeError for a URL of another origin, or another scheme.
   */
  go(to: string | URL, options?: { readonly replace?: boolean }): Promise<Outcome>;
  /** The URL of a path below the base, for `href`. */
  href(path: string): string;
  /** Stops the router; the element in the outlet stays. */
  stop(): void;
}

/** After this number of redirects, they count as a loop. */
const mostRedirects = 10;

const active = signal<Router | undefined>(undefined);

/**
 * The router that was started last; tracked. For links in elements: `currentRouter()?.href('/hives')`.
 * @example markup`<a href=${currentRouter()?.href('/hives')}>Hives</a>`
 */
export function currentRouter(): Router | undefined {
  return active.get();
}

/**
 * Starts a router: shows an element in an outlet for the current URL and each later one.
 *
 * @throws TypeError if there is no outlet.
 * @example
 * const router = routes(document.querySelector('main'), [
 *   { path: '/', element: 'hive-list', title: 'Hives' },
 *   { path: '/hives/:name', element: 'hive-page', load: () => import('./hive-page.ts'), title: ({ name }) => name },
 *   { path: '*', element: 'lost-page', title: 'Not here' },
 * ]);
 */
export function routes(outlet: Element, routes: readonly Route[], options: RouterOptions = {}): Router {
  if (!outlet)
    throw new TypeError(
      __DEV__
        ? "(route-outlet): there is no element to show the routes in. Call routes() when it exists: routes(document.querySelector('main')!, […])."
        : 'route-outlet',
    );
  const base = new URL(options.base ?? '', location.origin).pathname.replace(/\/$/, '');
  const match = matcher(routes);
  const place = signal<Place>({ url: new URL(location.href), parameters: {}, routes: [] });
  const isPending = signal(false);
  const control = new AbortController();
  const outlets = new Outlets(outlet, options, pending => isPending.set(pending));
  const usualTitle = document.title;
  /** Counts navigations: the result of an earlier one is dropped. */
  let visit = 0;
  /** Ends the waiting of the last navigation. */
  let supersede: (() => void) | undefined;
  /** The URL and the outcome of the last navigation that has ended, for callers of `go`. */
  let ended: readonly [href: string, outcome: Outcome] | undefined;

  function find({ origin, pathname, searchParams }: URL): Match | undefined {
    if (origin !== location.origin || !`${pathname}/`.startsWith(`${base}/`)) return undefined;
    const path = pathname.slice(base.length).replace(/\/+$/, '') || '/';
    return match(path, searchParams);
  }

  /** Guards of elements that will be removed or get other parameters. */
  function guards(url: URL): Level[] {
    const next = find(url);
    return outlets.levels.filter(({ route, key, element }) => {
      if (!element || !route.leave) return false;
      const at = next?.routes.indexOf(route) ?? -1;
      return at < 0 || next!.keys[at] !== key;
    });
  }

  /** @returns the guard's answer; a guard that throws does not cancel. */
  function ask({ route, element }: Level, url: URL): boolean | Promise<boolean> {
    const failed = (error: unknown) => {
      reportRoute('route-leave', route, __DEV__ ? `has a \`leave\` that throws: ${String(error)}` : '', error);
      return true;
    };
    try {
      const answer = route.leave!(element!, url);
      return typeof answer === 'object' ? answer.catch(failed) : answer;
    } catch (error) {
      return failed(error);
    }
  }

  async function mayLeave(url: URL): Promise<boolean> {
    for (const level of guards(url)) {
      if (await ask(level, url)) continue;
      ended = [url.href, 'refused'];
      return false;
    }
    return true;
  }

  const travel = followNavigation(
    {
      has: url => find(url) !== undefined,
      hasGuards: url => guards(url).length > 0,
      mayLeave,
      arrive: (url, isNew) => arrive(url, isNew),
      fragment(url) {
        place.set({ ...place.peek(), url });
        const target = targetOf(url);
        // Engines look for the fragment outside shadow roots only.
        if (target && target.getRootNode() !== document) target.scrollIntoView();
      },
    },
    control.signal,
  );

  /** The element of the URL's fragment, in the document or in open shadow roots of the shown elements. */
  function targetOf({ hash }: URL): HTMLElement | undefined {
    if (hash.length < 2) return undefined;
    let id = hash.slice(1);
    try {
      id = decodeURIComponent(id);
    } catch {
      // A malformed fragment is used as it is written.
    }
    const find = (root: Document | ShadowRoot | Element): HTMLElement | null => {
      const own = root.querySelector<HTMLElement>(`#${CSS.escape(id)}`);
      if (own || root === document) return own;
      for (const { shadowRoot } of root.querySelectorAll('*')) {
        const inner = shadowRoot && find(shadowRoot);
        if (inner) return inner;
      }
      return null;
    };
    return find(document) ?? find(outlet) ?? undefined;
  }

  /** @param isNew true for a new history entry, false for a step back or forward; undefined for the initial URL. */
  async function arrive(url: URL, isNew?: boolean): Promise<void> {
    const found = find(url);
    if (!found) return;
    const own = ++visit;
    const isCurrent = () => own === visit;
    supersede?.();
    const superseded = new Promise<false>(resolve => {
      supersede = () => resolve(false);
    });
    if (found.routes.at(-1)!.redirect !== undefined) {
      const to = destination(url);
      if (to) await travel(to, true);
      return;
    }
    const showing = outlets.show(found, isCurrent, () => void arrive(url, isNew));
    const stands = await Promise.race([showing, superseded]);
    if (!stands) {
      if (isCurrent()) ended = [url.href, 'failed'];
      return;
    }
    place.set({ url, parameters: found.parameters, routes: found.routes });
    document.title = titleOf(found);
    ended = [url.href, 'arrived'];
    if (isNew !== undefined) await settleView(url, isNew);
  }

  /** @returns the URL after redirects; undefined, after a report, if they lead nowhere. */
  function destination(url: URL): URL | undefined {
    let to = url;
    for (let count = 0; ; count++) {
      const { routes = [], parameters = {} } = find(to) ?? {};
      const route = routes.at(-1);
      if (route?.redirect === undefined) return to;
      const missing = [...route.redirect.matchAll(/:(\w+)/g)].find(([, name]) => !(name! in parameters));
      if (missing || count > mostRedirects) {
        const what = !__DEV__
          ? ''
          : missing
            ? `leads to "${route.redirect}" without ${missing[0]}.`
            : 'redirects in a circle.';
        reportRoute('route-redirect', route, what);
        return undefined;
      }
      const path = route.redirect.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(parameters[name]!));
      const next = new URL(href(path), location.href);
      next.search ||= to.search;
      next.hash ||= to.hash;
      to = next;
    }
  }

  function titleOf({ routes, parameters }: Match): string {
    let found = usualTitle;
    for (const route of routes) {
      try {
        const { title } = route;
        if (title !== undefined) found = typeof title === 'function' ? title(parameters) : title;
      } catch (error) {
        reportRoute('route-title', route, __DEV__ ? `has a \`title\` that throws: ${String(error)}` : '', error);
      }
    }
    return found;
  }

  /** Scrolls to the top or the fragment and moves the focus, as after loading a page. */
  async function settleView(url: URL, isNew: boolean): Promise<void> {
    const { element: last, route } = outlets.levels.at(-1) ?? {};
    const target = targetOf(url);
    if (isNew) target ? target.scrollIntoView() : scrollTo(0, 0);
    const heading = (target ?? within(last, 'h1') ?? last) as HTMLElement | undefined;
    if (heading && heading.tabIndex < 0) heading.tabIndex = -1;
    heading?.focus({ preventScroll: true });
    // The scroll position needs the previous height of the page.
    if (!isNew && last) await route?.ready?.(last);
  }

  function href(path: string): string {
    return `${base}/${path.replace(/^\/+/, '')}`;
  }

  async function go(to: string | URL, { replace = false } = {}): Promise<Outcome> {
    const isPath = typeof to === 'string' && to.startsWith('/') && !/^\/[/\\]/.test(to);
    const wanted = new URL(isPath ? href(to) : to, location.href);
    if (wanted.origin !== location.origin)
      throw new TypeError(
        __DEV__
          ? `(route-address): go() stays on this origin, and "${to}" leads elsewhere. Use a link, or location.assign().`
          : 'route-address',
      );
    if (!find(wanted)) {
      location.assign(wanted);
      return 'left';
    }
    const url = destination(wanted);
    if (!url) return 'failed';
    ended = undefined;
    const isNear = isFragment(new URL(location.href), url);
    await travel(url, replace);
    // A newer navigation has started, unless the engine has scrolled to a fragment.
    if (isNear && location.href === url.href) return 'arrived';
    return ended?.[0] === url.href ? ended[1] : 'superseded';
  }

  addEventListener(
    'beforeunload',
    event => {
      const url = new URL(location.href);
      for (const level of outlets.levels)
        if (level.element && level.route.leave && ask(level, url) === false) event.preventDefault();
    },
    { signal: control.signal },
  );
  const router: Router = {
    place,
    isPending,
    go,
    href,
    stop() {
      control.abort();
      visit++;
      if (active.peek() === router) active.set(undefined);
    },
  };
  active.set(router);
  void arrive(new URL(location.href));
  return router;
}
