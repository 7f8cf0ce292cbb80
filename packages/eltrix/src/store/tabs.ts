import { reportProblem, type Store, type StoreChange } from './store.ts';

interface Message {
  readonly state: unknown;
  /**
   * The time and the tab of a change. The later change wins; of two in the same millisecond the one from the tab with
   * the greater identifier.
   */
  readonly at: number;
  readonly tab: string;
}

export interface TabsOptions {
  /** The version of the state's shape; 1 unless given. Tabs with another version are ignored. */
  readonly version?: number | undefined;
}

/**
 * Synchronizes the stores of all tabs with the same key. Of two concurrent changes the later one replaces the other as
 * a whole; in the same millisecond the tab whose identifier sorts last wins.
 *
 * @returns a function that stops it. Without BroadcastChannel nothing happens.
 * @example const stop = followTabs(ledger, 'ledger');
 */
export function followTabs<S extends object>(
  store: Store<S>,
  key: string,
  { version = 1 }: TabsOptions = {},
): () => void {
  if (typeof BroadcastChannel === 'undefined') return () => {};
  const channel = new BroadcastChannel(`eltrix.store.${key}.${version}`);
  const tab = Math.random().toString(36).slice(2);
  let last = { at: 0, tab };
  const isLater = (message: Message) => message.at > last.at || (message.at === last.at && message.tab > last.tab);
  const hear = ({ detail: { origin, after } }: CustomEvent<StoreChange<S>>) => {
    if (origin === 'tab' || origin === 'load') return;
    last = { at: Math.max(Date.now(), last.at + 1), tab };
    try {
      channel.postMessage({ state: after, ...last } satisfies Message);
    } catch (cause) {
      const text = __DEV__
        ? `The state cannot be sent to other tabs: ${(cause as Error).message} Keep functions and elements out of it.`
        : '';
      reportProblem('tabs-failed', store as unknown as Store<object>, text, cause);
    }
  };
  store.addEventListener('change', hear);
  channel.addEventListener('message', ({ data }) => {
    const message = data as Message;
    if (!isLater(message)) return;
    last = { at: message.at, tab: message.tab };
    store.replace(message.state as S, 'tab', 'tab');
  });
  return () => {
    store.removeEventListener('change', hear);
    channel.close();
  };
}
