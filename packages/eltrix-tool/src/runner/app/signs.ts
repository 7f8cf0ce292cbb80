import type { Outcome } from './state.ts';

/** Shown before a name, with the word for who does not see it. */
export const signs: Readonly<Record<Outcome, string>> = {
  passed: '✓',
  failed: '✕',
  skipped: '○',
  todo: '○',
  running: '◌',
  waiting: '·',
};
