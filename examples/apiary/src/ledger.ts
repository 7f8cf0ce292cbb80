/** The honey ledger: what was filled and sold. */
import { history, store } from 'eltrix/store';

export interface Entry {
  readonly id: number;
  readonly what: string;
  /** Jars; below zero when they go. */
  readonly jars: number;
}

export interface Ledger {
  readonly entries: readonly Entry[];
}

const begin: Ledger = {
  entries: [
    { id: 1, what: 'Spring honey, Bramble', jars: 42 },
    { id: 2, what: 'Sold at the gate', jars: -12 },
    { id: 3, what: 'Lime honey, Rosemary', jars: 65 },
  ],
};

export const ledger = store(begin, {
  add: (state, what: string, jars: number) => ({
    ...state,
    entries: [...state.entries, { id: Math.max(0, ...state.entries.map(({ id }) => id)) + 1, what, jars }],
  }),
  clear: state => ({ ...state, entries: [] }),
  remove: (state, id: number) => ({ ...state, entries: state.entries.filter(entry => entry.id !== id) }),
});

export const past = history(ledger, { limit: 60, label: ({ name, args }) => (name === 'add' ? `${args[0]}` : name) });

/** All jars that are there. */
export const jars = ledger.select(({ entries }) => entries.reduce((sum, entry) => sum + entry.jars, 0));
