import { isSignal } from '../signals/readable.ts';
import type { ExpressionPlace, Owner } from './template.ts';
import { warnOnce } from './warn-once.ts';
import { whereIs } from './whereabouts.ts';

interface Shown {
  readonly home: Owner;
  readonly node: Node;
  readonly name: string;
  readonly place?: ExpressionPlace | undefined;
}

/** Development: warns of a signal where its value is meant, also as an item of a class list or a style record. */
export function warnOfUnread({ home, place, name, node }: Shown, value: unknown): void {
  if (!isSignal(value) && !hasSignal(value)) return;
  if (!isKept(node as Element, name, value)) warnUnread(whereIs(home, place));
}

/** @param where the expression, in words. */
export function warnUnread(where: string): void {
  warnOnce(
    `Warning (signal-unread): ${where}: a signal was given, and its value is meant. Write \${() => name.get()}, which follows it.`,
  );
}

function hasSignal(value: unknown): boolean {
  if (typeof value !== 'object' || value === null) return false;
  if (Array.isArray(value)) return value.some(item => isSignal(item) || hasSignal(item));
  return Object.getPrototypeOf(value) === Object.prototype && Object.values(value).some(isSignal);
}

/** Whether an element has taken the value as that of a property, as `data` properties do. */
function isKept(node: Element, name: string, value: unknown): boolean {
  const property = name.replace(/-([a-z])/g, (_, letter: string) => letter.toUpperCase());
  const taken = (node as unknown as Record<string, unknown>)[property];
  if (Object.is(taken, value)) return true;
  // Elements of other libraries may keep it inside another object.
  return property !== 'style' && typeof taken === 'object' && taken !== null && node.localName.includes('-');
}
