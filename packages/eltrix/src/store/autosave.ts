import type { Store, StoreChange } from './store.ts';
import { reportProblem } from './store.ts';

export interface AutosaveOptions<S> {
  /** The key under which the state is saved. */
  readonly key: string;
  /** `local` unless given. */
  readonly in?: 'local' | 'session' | 'indexed' | undefined;
  /** The version of the state's shape; 1 unless given. State of another version is migrated. */
  readonly version?: number | undefined;
  /** Converts a state of an earlier version. If it throws, that state is set aside. */
  readonly migrate?: ((saved: unknown, version: number) => S) | undefined;
  /** Validates a saved, migrated state. Missing fields get their initial values. */
  readonly check?: ((state: unknown) => boolean) | undefined;
  /** The delay between a change and saving, in milliseconds; 300 unless given. */
  readonly after?: number | undefined;
}

export interface Autosave {
  /** Resolves when the saved state was loaded; with `local` and `session` that is at once. */
  readonly ready: Promise<void>;
  /** Saves pending changes now. */
  flush(): Promise<void>;
  /** Saves pending changes, and stops. */
  stop(): Promise<void>;
}

/** A place to save text. */
export interface Keeper {
  read(key: string): string | null | Promise<string | null>;
  write(key: string, text: string): void | Promise<void>;
}

interface Saved {
  readonly version: number;
  readonly state: unknown;
}

/** Missing or forbidden storage is reported as a problem at the first save. */
function storage(name: 'localStorage' | 'sessionStorage'): Keeper {
  const area = () => (globalThis as unknown as Record<string, Storage>)[name]!;
  return { read: key => area().getItem(key), write: (key, text) => area().setItem(key, text) };
}

/**
 * Loads the saved state, and saves each change after a delay, or at once when the page is hidden. A state that cannot
 * be read is reported and kept under `<key>.aside`. If saving fails (no storage, quota exceeded), the store continues
 * in memory and sends one `problem` event until a save succeeds.
 * @example const saving = autosave(ledger, { key: 'ledger', version: 2 }); await saving.ready;
 */
export function autosave<S extends object>(store: Store<S>, options: AutosaveOptions<S>): Autosave {
  const { key, version = 1, migrate, check, after = 300 } = options;
  const where = options.in ?? 'local';
  const target = store as unknown as Store<object>;
  let keeper: Keeper | undefined = where === 'indexed' ? undefined : storage(`${where}Storage`);
  let timer: ReturnType<typeof setTimeout> | undefined;
  let waiting = false;
  let saving = Promise.resolve();
  let reported = false;
  let loading = false;
  const first = store.peek();
  /** Whether the store still has the loaded or saved state. */
  let loaded = first;
  /** Changes made before the state was loaded. */
  const early: StoreChange<S>[] = [];

  function take(text: string | null): void {
    if (text === null) return;
    try {
      const saved = JSON.parse(text) as Saved;
      if (typeof saved !== 'object' || saved === null || !('state' in saved))
        throw new TypeError('It is not what a store saves.');
      const state = saved.version === version ? saved.state : migrated(saved);
      if (typeof state !== 'object' || state === null || check?.(state) === false)
        throw new TypeError('It is no state.');
      loading = true;
      store.replace(withDefaults(state as S), 'load', 'load');
      loaded = store.peek();
      for (const change of early.splice(0)) repeat(change);
    } catch (error) {
      aside(text, error);
    } finally {
      loading = false;
    }
  }

  /** Applies a change that was made before loading to the loaded state. */
  function repeat({ name, args }: StoreChange<S>): void {
    try {
      target.change(name, ...(args as never[]));
    } catch (error) {
      reportProblem(
        'early-change',
        target,
        __DEV__
          ? `"${name}" was called before the saved state was loaded, and fails on that state: ${(error as Error).message} It was left out. Wait for \`ready\` before the first change.`
          : '',
        error,
      );
    }
  }

  /** A field that the saved state lacks keeps its initial value. */
  function withDefaults(state: S): S {
    return Array.isArray(state) || Array.isArray(first) ? state : { ...first, ...state };
  }

  function migrated({ state, version: from }: Saved): unknown {
    if (migrate) return migrate(state, from);
    throw new RangeError(`It is of version ${from}, and there is no migrate() to version ${version}.`);
  }

  function aside(text: string, error: unknown): void {
    let isKept = true;
    try {
      void Promise.resolve(keeper!.write(`${key}.aside`, text)).catch(() => {});
    } catch {
      isKept = false;
    }
    reportProblem(
      'saved-unreadable',
      target,
      __DEV__
        ? `What was saved under "${key}" cannot be used: ${(error as Error).message} ${isKept ? `It is kept under "${key}.aside".` : 'There was no room to keep it.'} The store begins with its initial state.`
        : '',
      error,
    );
  }

  /** Saves what is not saved yet, and waits for an earlier save as well. */
  function save(): Promise<void> {
    clearTimeout(timer);
    if (waiting) saving = write();
    return saving;
  }

  async function write(): Promise<void> {
    waiting = false;
    try {
      // localStorage is written synchronously, so this also works while the page is being closed.
      const done = keeper!.write(key, JSON.stringify({ version, state: store.peek() } satisfies Saved));
      if (done) await done;
      reported = false;
    } catch (error) {
      waiting = true;
      if (reported) return;
      reported = true;
      reportProblem(
        'save-failed',
        target,
        __DEV__
          ? `"${key}" cannot be saved: ${(error as Error).message} The store continues in memory, and tries again after the next change.`
          : '',
        error,
      );
    }
  }

  const changed = () => {
    if (loading) return;
    waiting = true;
    clearTimeout(timer);
    timer = setTimeout(save, after);
  };
  const hide = () => {
    if (globalThis.document === undefined || document.visibilityState === 'hidden') void save();
  };
  const leave = () => void save();

  const note = ({ detail }: CustomEvent<StoreChange<S>>) => void (detail.origin === 'change' && early.push(detail));

  async function begin(): Promise<void> {
    store.addEventListener('change', note);
    keeper ??= (await import('./indexed.ts')).indexedKeeper();
    try {
      const text = keeper.read(key);
      take(text instanceof Promise ? await text : text);
    } catch (error) {
      reported = true;
      reportProblem(
        'save-failed',
        target,
        __DEV__ ? `"${key}" cannot be read: ${(error as Error).message} The store continues in memory.` : '',
        error,
      );
    }
    store.removeEventListener('change', note);
    store.addEventListener('change', changed);
    if (store.peek() !== loaded) changed();
    globalThis.document?.addEventListener('visibilitychange', hide);
    globalThis.addEventListener?.('pagehide', leave);
  }

  const ready = begin();
  return {
    ready,
    flush: save,
    async stop() {
      await ready;
      await save();
      store.removeEventListener('change', changed);
      globalThis.document?.removeEventListener('visibilitychange', hide);
      globalThis.removeEventListener?.('pagehide', leave);
    },
  };
}
