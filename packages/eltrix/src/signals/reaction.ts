import { always, check, dirty, stopped, within } from './flags.ts';
import { report } from './report.ts';
import { type Reaction, state } from './state.ts';
import { traceUpdate } from './trace.ts';

/** Runs a reaction if something that it read has changed. While its home is not shown it stays marked. */
export function rerun(reaction: Reaction): void {
  if (reaction.flags & within) reaction.before!();
  const { home } = reaction;
  // What else has changed of its element comes at once: it may make this one needless.
  if (home !== undefined && home.stale !== 0 && home !== (reaction as object)) home.look();
  const { flags } = reaction;
  if ((flags & (dirty | check)) === 0 || flags & stopped) return;
  if (home !== undefined && !home.shown && (flags & always) === 0) return;
  if (flags & dirty || state.graph!.outdated!(reaction)) {
    const ended = __DEV__ ? traceUpdate(reaction) : undefined;
    try {
      reaction.react();
    } catch (error) {
      report(error, ((home ?? reaction) as { host?: object }).host);
    }
    if (__DEV__) ended?.();
  } else reaction.flags &= ~check;
}
