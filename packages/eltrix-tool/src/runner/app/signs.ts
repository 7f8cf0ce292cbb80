import type { Outcome } from './state.ts';

/** The mark before a name, with a word for assistive technology. */
export const signs: Readonly<Record<Outcome, string>> = {
  passed: '✓',
  failed: '✕',
  skipped: '○',
  todo: '○',
  running: '◌',
  waiting: '·',
};
