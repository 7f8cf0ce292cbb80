import type { Readable } from '../signals/computed.ts';
import { signal } from '../signals/signal.ts';
import type { Store, StoreChange } from './store.ts';

export interface HistoryEntry {
  /** What made the state. */
  readonly label: string;
  /** When, as `Date.now()` has it. */
  readonly at: number;
}

export interface HistoryState {
  /** From the oldest that is kept. */
  readonly entries: readonly HistoryEntry[];
  /** Which of them is shown. */
  readonly index: number;
}

export interface HistoryOptions<S> {
  /** So many states are kept, at least one; 100 unless given. */
  readonly limit?: number;
  /** What a change is called; its name unless given. */
  readonly label?: (change: StoreChange<S>) => string;
}

export interface History extends Readable<HistoryState> {
  readonly canUndo: boolean;
  readonly canRedo: boolean;
  undo(): void;
  redo(): void;
  /** Shows the state of an entry. @throws RangeError for an index that is none. */
  jump(index: number): void;
  /** Ends it; the store stays as it is. */
  stop(): void;
}

/**
 * Keeps a store's states, to go back and forth in them. It begins again when a saved state is loaded, and when another tab
 * changes the state.
 * @example const past = history(ledger, { limit: 50 }); past.undo();
 */
export function history<S extends object>(store: Store<S>, { limit = 100, label }: HistoryOptions<S> = {}): History {
  const kept = Math.max(1, limit);
  let states: S[] = [store.peek()];
  const now = signal<HistoryState>({ entries: [{ label: 'begin', at: Date.now() }], index: 0 });
  const hear = ({ detail: change }: CustomEvent<StoreChange<S>>) => {
    if (change.origin === 'history') return;
    // Before what was saved there was nothing; what another tab has done is not undone here.
    if (change.origin === 'load' || change.origin === 'tab') {
      states = [change.after];
      return now.set({ entries: [{ label: 'begin', at: Date.now() }], index: 0 });
    }
    const { entries, index } = now.peek();
    // What was undone before is given up.
    states = [...states.slice(0, index + 1), change.after].slice(-kept);
    const entry = { label: label?.(change) ?? change.name, at: Date.now() };
    const list = [...entries.slice(0, index + 1), entry].slice(-kept);
    now.set({ entries: list, index: list.length - 1 });
  };
  store.addEventListener('change', hear);
  const jump = (index: number) => {
    const state = states[index];
    if (state === undefined)
      throw new RangeError(
        __DEV__
          ? `(history-index): There is no entry ${index}; there are ${states.length}, from 0. Nothing was changed.`
          : 'history-index',
      );
    now.set({ ...now.peek(), index });
    store.replace(state, 'history', 'history');
  };
  return {
    get: () => now.get(),
    peek: () => now.peek(),
    get canUndo() {
      return now.get().index > 0;
    },
    get canRedo() {
      const { entries, index } = now.get();
      return index < entries.length - 1;
    },
    undo() {
      const { index } = now.peek();
      if (index > 0) jump(index - 1);
    },
    redo() {
      const { entries, index } = now.peek();
      if (index < entries.length - 1) jump(index + 1);
    },
    jump,
    stop: () => store.removeEventListener('change', hear),
  };
}
