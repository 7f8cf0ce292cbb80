/** Where the reader goes: the Navigation API (HTML §7.2.7), and links and history where there is none. */

/** Decides about navigations, and carries them out. */
export interface Travels {
  /** Whether an address is one of the routes. */
  has(url: URL): boolean;
  /** Whether anybody has a say in leaving for an address. */
  hasGuards(url: URL): boolean;
  mayLeave(url: URL): Promise<boolean>;
  /** Shows an address. @param isNew whether the reader goes there, rather than back. */
  arrive(url: URL, isNew: boolean): Promise<void>;
  /** Only the fragment has changed. */
  fragment(url: URL): void;
}

/** Goes to an address that is one of the routes. */
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

/** Resolves when it is over, also where a guard says no or another navigation comes between. */
const over = (going: Going) => Promise.allSettled(Object.values(going));

export function followNavigation(travels: Travels, signal: AbortSignal): Travel {
  const { navigation } = globalThis as unknown as { navigation?: NavigationLike };
  addEventListener('hashchange', () => travels.fragment(new URL(location.href)), { signal });
  return navigation ? withNavigation(navigation, travels, signal) : withHistory(travels, signal);
}

function withNavigation(navigation: NavigationLike, travels: Travels, signal: AbortSignal): Travel {
  /** Where all guards have agreed to go. */
  let agreed: string | undefined;
  /** Guards that think about a navigation, up to its end. */
  let guarding: Promise<unknown> | undefined;
  const navigate = ({ href }: URL, replace: boolean) =>
    over(navigation.navigate(href, { history: replace ? 'replace' : 'push' }));
  const intercept = (event: NavigateEventLike) => {
    const { canIntercept, hashChange, downloadRequest, formData, navigationType, destination } = event;
    const url = new URL(destination.url);
    // A page that is loaded again is loaded by the engine.
    if (!canIntercept || hashChange || navigationType === 'reload') return;
    if (downloadRequest !== null || formData || !travels.has(url)) return;
    // A guard may think about it: the navigation is given up, and made again when all agree. The reader's own way back
    // cannot always be held (HTML §7.2.7.1, "cancelable"); then the element goes.
    if (agreed !== url.href && event.cancelable && travels.hasGuards(url)) {
      event.preventDefault();
      guarding = travels.mayLeave(url).then(async may => {
        if (!may) return;
        // Chromium drops a step to the entry that it has just been kept from, until that has ended.
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

/** Under this key the state of an entry has its number. */
const key = 'eltrix.routes';

function withHistory(travels: Travels, signal: AbortSignal): Travel {
  const numberOf = () => ((history.state as Record<string, number> | null)?.[key] ?? 0) as number;
  let number = numberOf();
  let current = new URL(location.href);
  /** Whether a step in the history is our own, back to where the reader stays. */
  let isReturning = false;
  const travel: Travel = async (url, replace) => {
    if (!(await travels.mayLeave(url))) return;
    if (!replace) number++;
    history[replace ? 'replaceState' : 'pushState']({ [key]: number }, '', url);
    current = url;
    await travels.arrive(url, true);
  };
  const click = (event: MouseEvent) => {
    const { defaultPrevented, button, metaKey, ctrlKey, shiftKey, altKey } = event;
    if (defaultPrevented || button || metaKey || ctrlKey || shiftKey || altKey) return;
    const link = event
      .composedPath()
      .find((node): node is HTMLAnchorElement => node instanceof HTMLAnchorElement && node.href !== '');
    if (!link || !/^(_self)?$/.test(link.target) || link.hasAttribute('download')) return;
    const url = new URL(link.href);
    // A fragment of the same page is the engine's own affair.
    if ((url.hash && current.href.split('#')[0] === url.href.split('#')[0]) || !travels.has(url)) return;
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
      return;
    }
    const to = numberOf();
    if (!(await travels.mayLeave(url))) {
      // The reader stays: back to the entry of what is shown.
      if (to === number) return;
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
