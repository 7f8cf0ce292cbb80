import type { Readable } from '../signals/computed.ts';
import { signal } from '../signals/signal.ts';
import type { Store, StoreChange } from './store.ts';

export interface HistoryEntry {
  /** The name of the change. */
  readonly label: string;
  /** The time, in milliseconds as in `Date.now()`. */
  readonly at: number;
}

export interface HistoryState {
  /** The oldest entry first. */
  readonly entries: readonly HistoryEntry[];
  /** The index of the current entry. */
  readonly index: number;
}

export interface HistoryOptions<S> {
  /** The number of states to keep, at least one; 100 unless given. */
  readonly limit?: number | undefined;
  /** Names a change; by default its own name. */
  readonly label?: ((change: StoreChange<S>) => string) | undefined;
}

export interface History extends Readable<HistoryState> {
  readonly canUndo: boolean;
  readonly canRedo: boolean;
  undo(): void;
  redo(): void;
  /** Goes to an entry. @throws RangeError for an index without an entry. */
  jump(index: number): void;
  /** Stops recording; the store keeps its state. */
  stop(): void;
}

/**
 * Records a store's states for undo and redo. The history starts again when a saved state is loaded, and when another
 * tab changes the state.
 * @example const past = history(ledger, { limit: 50 }); past.undo();
 */
export function history<S extends object>(store: Store<S>, { limit = 100, label }: HistoryOptions<S> = {}): History {
  const kept = Math.max(1, limit);
  let states: S[] = [store.peek()];
  const now = signal<HistoryState>({ entries: [{ label: 'begin', at: Date.now() }], index: 0 });
  const hear = ({ detail: change }: CustomEvent<StoreChange<S>>) => {
    if (change.origin === 'history') return;
    // A loaded state has no past, and a change of another tab is not undone here.
    if (change.origin === 'load' || change.origin === 'tab') {
      states = [change.after];
      return now.set({ entries: [{ label: 'begin', at: Date.now() }], index: 0 });
    }
    const { entries, index } = now.peek();
    // A new change discards the undone ones.
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
