import { check, dirty } from './flags.ts';
import { report } from './report.ts';
import type { Reaction } from './state.ts';

/** How often one reaction may run in one flush before it counts as a cycle. */
export const limit = 100;

/** Reports reactions that set their own dependencies, and stops running them. */
export function reportCycle(reactions: readonly Reaction[]): void {
  for (const reaction of reactions) reaction.flags &= ~(dirty | check);
  if (!__DEV__) return report(new Error('update-cycle'));
  const names = [...new Set(reactions.map(reaction => reaction.describe?.() ?? 'an effect'))];
  report(
    new Error(
      `(update-cycle): ${names.join(' → ')} → ${names[0]} set what they read, ${limit} times in a row. ` +
        'Set only when the value differs, read it with peek(), or compute it. They were left as they are until the next change.',
    ),
  );
}
