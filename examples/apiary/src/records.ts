/** The inspections: those that were there, and those that are written down now. */
import { signal } from 'eltrix';
import { type Inspection, inspections } from './hives.ts';

const all = signal<readonly Inspection[]>(inspections());

export const records = {
  get: () => all.get(),
  peek: () => all.peek(),
  add(draft: Omit<Inspection, 'id'>): Inspection {
    const inspection = { ...draft, id: (all.peek()[0]?.id ?? 0) + 1 };
    all.set([inspection, ...all.peek()]);
    return inspection;
  },
};
