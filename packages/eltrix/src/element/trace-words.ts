/** Development: describes trace entries. */
import type { TraceEntry } from '../signals/trace.ts';

type Update = Extract<TraceEntry, { kind: 'update' }>;

export function hostOf(entry: TraceEntry): object | undefined {
  return entry.kind === 'update' ? (entry.reaction.home as { host?: object } | undefined)?.host : entry.host;
}

/** The thing that is updated. */
export const targetOf = ({ reaction }: Update): string => reaction.describe?.() ?? 'an effect';

/** The causes, each once. */
export const causesOf = ({ causes }: Update): string =>
  [...new Set(causes.map(source => source.describe?.() ?? 'a list'))].join(', ');
