import { always, check, dirty, stopped, within } from './flags.ts';
import { report } from './report.ts';
import { type Reaction, state } from './state.ts';
import { traceUpdate } from './trace.ts';

/** Runs a reaction if one of its dependencies has changed. While its owner is disconnected it stays marked. */
export function rerun(reaction: Reaction): void {
  if (reaction.flags & within) reaction.before!();
  const { home } = reaction;
  // The owner's own changes come first: they may remove the part of the view that this reaction belongs to.
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
