/** Records events in the frame: those that elements dispatch, and the trace of the library's development build. */
import type { TraceEntry } from '../../../../eltrix/src/signals/trace.ts';
import type { FrameNews, Happening } from '../model.ts';

/** `declared`: whether an element declares the event; undefined if unknown. */
export function recordEvents(
  report: (news: FrameNews) => void,
  isDeclared: (element: Element, type: string) => boolean | undefined,
): void {
  const { dispatchEvent } = EventTarget.prototype;
  EventTarget.prototype.dispatchEvent = function (event) {
    const went = dispatchEvent.call(this, event);
    const declared = this instanceof Element ? isDeclared(this, event.type) : undefined;
    if (declared !== undefined) {
      const detail = (event as CustomEvent<unknown>).detail;
      report({
        type: 'event',
        name: event.type,
        from: `<${(this as Element).localName}>`,
        detail: detail === null || detail === undefined ? undefined : printed(detail),
        declared,
        cancelled: !went,
        at: performance.now(),
      });
    }
    return went;
  };
}

export function printed(value: unknown): string {
  try {
    return JSON.stringify(value) ?? String(value);
  } catch {
    return String(value);
  }
}

/** Has to be called before the library is loaded, which notifies existing listeners. Entries are sent once a frame. */
export function recordTimeline(report: (entries: readonly Happening[]) => void): void {
  const key = Symbol.for('eltrix.trace.1');
  const listeners = ((globalThis as unknown as Record<symbol, Set<(entry: TraceEntry) => void>>)[key] ??= new Set());
  let waiting: Happening[] = [];
  listeners.add(entry => {
    if (waiting.length === 0)
      setTimeout(() => {
        report(waiting.slice(-200));
        waiting = [];
      }, 16);
    const one = happening(entry);
    if (one) waiting.push(one);
  });
}

function nameOf(host: object): string {
  return 'localName' in host ? `<${(host as Element).localName}>` : '';
}

function happening(entry: TraceEntry): Happening | undefined {
  const at = performance.now();
  switch (entry.kind) {
    // The timeline shows the hook.
    case 'view':
      return undefined;
    case 'hook':
      return { kind: 'life', element: nameOf(entry.host), what: entry.name, cause: '', at };
    case 'attribute': {
      const text = (value: string | null) => (value === null ? 'absent' : `"${value}"`);
      const what = `${entry.name}: ${text(entry.before)} → ${text(entry.after)}`;
      return { kind: 'attribute', element: nameOf(entry.host), what, cause: '', at };
    }
    case 'update': {
      const host = (entry.reaction.home as { host?: object } | undefined)?.host;
      const element = host ? nameOf(host) : '';
      const described = entry.reaction.describe?.() ?? 'an effect';
      const causes = entry.causes.map(source => source.describe?.() ?? (source.refresh ? 'a computed' : 'a list'));
      return {
        kind: 'update',
        element,
        what: described.startsWith(`${element}, `) ? described.slice(element.length + 2) : described,
        cause: [...new Set(causes)].join(', '),
        at,
      };
    }
  }
}
