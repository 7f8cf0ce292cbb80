/** Development: logs the activity of elements, and marks it in the browser's performance timeline. */
import { listenToTrace } from '../signals/trace.ts';
import { causesOf, hostOf, targetOf } from './trace-words.ts';

/** One line of the log. */
export interface LoggedChange {
  readonly element: Element;
  /** A hook, an attribute with both its values, or an expression or effect with its causes. */
  readonly what: string;
}

/**
 * Logs hooks, attribute changes and updates with their causes, of one element or of all elements with a tag. Logs
 * nothing in production.
 *
 * @param write receives the lines; `console.debug` unless given.
 * @returns a function that stops logging.
 * @example logChanges('hive-card')
 * @example logChanges($0)
 */
export function logChanges(
  of: string | Element,
  write: (change: LoggedChange) => void = ({ element, what }) => console.debug(what, element),
): () => void {
  return listenToTrace(entry => {
    const element = hostOf(entry) as Element | undefined;
    if (!element || (typeof of === 'string' ? element.localName !== of : element !== of)) return;
    const say = (what: string) => write({ element, what: `<${element.localName}> ${what}` });
    if (entry.kind === 'update') say(`updates ${targetOf(entry)}, because of ${causesOf(entry)}`);
    else if (entry.kind === 'hook') say(entry.name);
    else if (entry.kind === 'attribute')
      say(`attribute ${entry.name}: ${JSON.stringify(entry.before)} → ${JSON.stringify(entry.after)}`);
  });
}

/**
 * Marks each view and each update in the browser's performance timeline (User Timing). Marks nothing in production.
 *
 * @returns a function that stops marking.
 * @example const stop = markPerformance();  // look at the browser's performance timeline, then stop()
 */
export function markPerformance(): () => void {
  return listenToTrace(entry => {
    const host = hostOf(entry) as Element | undefined;
    if (!host || (entry.kind !== 'update' && entry.kind !== 'view')) return undefined;
    const start = performance.now();
    const name = `<${host.localName}> ${entry.kind}`;
    const detail = entry.kind === 'update' ? { target: targetOf(entry), causes: causesOf(entry) } : undefined;
    return () => void performance.measure(name, { start, detail });
  });
}
