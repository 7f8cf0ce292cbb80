/** Navigations: the Navigation API (HTML §7.2.7), or links and the history API where it is missing. */

/** Decides about navigations, and performs them. */
export interface Travels {
  /** Whether a route matches a URL. */
  has(url: URL): boolean;
  /** Whether a guard has to be asked before leaving for a URL. */
  hasGuards(url: URL): boolean;
  mayLeave(url: URL): Promise<boolean>;
  /** Shows a URL. @param isNew true for a new history entry, false for a step back or forward. */
  arrive(url: URL, isNew: boolean): Promise<void>;
  /** Called when only the fragment has changed. */
  fragment(url: URL): void;
}

/** Whether the way from one URL to another leads to a fragment of the same page. */
export const isFragment = (from: URL, to: URL): boolean =>
  to.hash !== '' && from.href.split('#')[0] === to.href.split('#')[0];

/** Navigates to a URL that a route matches. */
export type Travel = (url: URL, replace: boolean) => Promise<void>;

interface NavigateEventLike extends Event {
  readonly canIntercept: boolean;
  readonly hashChange: boolean;
  readonly downloadRequest: string | null;
  readonly formData: unknown;
  readonly destination: { readonly url: string; readonly key: string };
  readonly navigationType: 'push' | 'replace' | 'reload' | 'traverse';
  intercept(options: { handler(): Promise<void>; focusReset: 'manual'; scroll: 'manual' }): void;
  scroll(): void;
}

type Going = Record<'committed' | 'finished', Promise<unknown>>;

interface NavigationLike extends EventTarget {
  navigate(url: string, options: { history: 'push' | 'replace' }): Going;
  traverseTo(key: string): Going;
}

/** Resolves at the end of the navigation, even if a guard cancels it or another navigation replaces it. */
const over = (going: Going) => Promise.allSettled(Object.values(going));

export function followNavigation(travels: Travels, signal: AbortSignal): Travel {
  const { navigation } = globalThis as unknown as { navigation?: NavigationLike };
  addEventListener('hashchange', () => travels.fragment(new URL(location.href)), { signal });
  return navigation ? withNavigation(navigation, travels, signal) : withHistory(travels, signal);
}

function withNavigation(navigation: NavigationLike, travels: Travels, signal: AbortSignal): Travel {
  /** The URL to which all guards have agreed. */
  let agreed: string | undefined;
  /** Guards that have not answered yet. */
  let guarding: Promise<unknown> | undefined;
  /** Counts navigations: one whose guards answer after a newer one has begun is dropped. */
  let last = 0;
  const navigate = ({ href }: URL, replace: boolean) =>
    over(navigation.navigate(href, { history: replace ? 'replace' : 'push' }));
  const intercept = (event: NavigateEventLike) => {
    const { canIntercept, hashChange, downloadRequest, formData, navigationType, destination } = event;
    const url = new URL(destination.url);
    // The engine reloads the page.
    if (!canIntercept || hashChange || navigationType === 'reload') return;
    if (downloadRequest !== null || formData || !travels.has(url)) return;
    const own = ++last;
    // Guards may be asynchronous: the navigation is cancelled, and repeated when all guards agree. A user's step back
    // cannot always be cancelled (HTML §7.2.7.1, "cancelable"); then the element is removed.
    if (agreed !== url.href && event.cancelable && travels.hasGuards(url)) {
      event.preventDefault();
      guarding = travels.mayLeave(url).then(async may => {
        if (!may || own !== last) return;
        // Chromium ignores a step to an entry whose navigation was just cancelled, until that navigation has ended.
        if (navigationType === 'traverse') await new Promise(resolve => setTimeout(resolve));
        agreed = url.href;
        if (navigationType === 'traverse') await over(navigation.traverseTo(destination.key));
        else await navigate(url, navigationType === 'replace');
      });
      return;
    }
    agreed = undefined;
    const isNew = navigationType !== 'traverse';
    event.intercept({
      async handler() {
        await travels.arrive(url, isNew);
        if (!isNew) event.scroll();
      },
      focusReset: 'manual',
      scroll: 'manual',
    });
  };
  navigation.addEventListener('navigate', event => intercept(event as NavigateEventLike), { signal });
  return async (url, replace) => {
    guarding = undefined;
    await navigate(url, replace);
    await guarding;
  };
}

/** The key in `history.state` of an entry's number. */
const key = 'eltrix.routes';

function withHistory(travels: Travels, signal: AbortSignal): Travel {
  const numberOf = () => (history.state as Record<string, number> | null)?.[key];
  /** Numbers an entry that this module has not made: the first one, and those of links to fragments. */
  const mark = (number: number) => {
    const before = history.state as object | null;
    if (typeof before === 'object') history.replaceState({ ...before, [key]: number }, '');
    return number;
  };
  let number = numberOf() ?? mark(0);
  let current = new URL(location.href);
  /** Whether a step in the history comes from this module: back to the current entry. */
  let isReturning = false;
  /** As above. */
  let last = 0;
  /** @returns undefined if a newer navigation has begun before the guards have answered. */
  const ask = async (url: URL) => {
    const own = ++last;
    const may = await travels.mayLeave(url);
    return own === last ? may : undefined;
  };
  const travel: Travel = async (url, replace) => {
    if (isFragment(current, url)) {
      if (replace) history.replaceState(history.state, '', url);
      else location.assign(url);
      return travels.fragment(url);
    }
    if (!(await ask(url))) return;
    // The user may have gone back while the guards were asked.
    number = (numberOf() ?? number) + (replace ? 0 : 1);
    history[replace ? 'replaceState' : 'pushState']({ [key]: number }, '', url);
    current = url;
    await travels.arrive(url, true);
  };
  const click = (event: MouseEvent) => {
    const { defaultPrevented, button, metaKey, ctrlKey, shiftKey, altKey } = event;
    if (defaultPrevented || button || metaKey || ctrlKey || shiftKey || altKey) return;
    const link = event.composedPath().find(isLink);
    if (!link || !/^(_self)?$/.test(link.target) || link.hasAttribute('download')) return;
    const url = new URL(link.href);
    // The engine handles fragments of the same page.
    if (isFragment(current, url) || !travels.has(url)) return;
    event.preventDefault();
    void travel(url, false);
  };
  const step = async () => {
    if (isReturning) {
      isReturning = false;
      return;
    }
    const url = new URL(location.href);
    if (url.href.split('#')[0] === current.href.split('#')[0] && url.hash !== current.hash) {
      current = url;
      number = numberOf() ?? mark(number + 1);
      return;
    }
    const to = numberOf() ?? 0;
    const may = await ask(url);
    if (!may) {
      // Cancelled: go back to the current entry.
      if (may === undefined || to === number) return;
      isReturning = true;
      return history.go(number - to);
    }
    [number, current] = [to, url];
    await travels.arrive(url, false);
  };
  document.addEventListener('click', click, { signal });
  addEventListener('popstate', () => void step(), { signal });
  return travel;
}

function isLink(node: EventTarget): node is HTMLAnchorElement {
  const { localName, href } = node as HTMLAnchorElement;
  // Not a link in SVG, whose `href` is an object.
  return localName === 'a' && typeof href === 'string' && href !== '';
}
