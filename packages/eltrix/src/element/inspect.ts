/** Development: collects what is known of an element, for the console. */
import { dirty } from '../signals/flags.ts';
import { keyOf, type Link, type Member, type Source } from '../signals/state.ts';
import { listenToTrace, type TraceEntry } from '../signals/trace.ts';
import { markAll } from '../view/template.ts';
import { coreKey, type HasCore } from './core-key.ts';
import { type Core, declarations } from './plan.ts';
import { takenBy } from './scope.ts';
import { causesOf, hostOf, targetOf } from './trace-words.ts';

/** The result of `inspect`. */
export interface Inspection {
  readonly tag: string;
  /** The declarations of the class chain, nearest first. */
  readonly contract: readonly object[];
  readonly values: Readonly<Record<string, unknown>>;
  /** Signals and their subscribers. */
  readonly signals: readonly { readonly name: string; readonly value: unknown; readonly readers: readonly string[] }[];
  /** The last updates, the latest first. */
  readonly updates: readonly { readonly what: string; readonly cause: string; readonly at: number }[];
  /** Resources that the element has taken through its scope and not released. */
  readonly taken: readonly string[];
}

const kept = 30;
const updates = new WeakMap<object, { what: string; cause: string; at: number }[]>();

if (__DEV__) listenToTrace(note);

function note(entry: TraceEntry): void {
  const host = hostOf(entry);
  if (!host) return;
  const list = updates.get(host) ?? [];
  updates.set(host, list);
  const at = Math.round(performance.now());
  if (entry.kind === 'update') list.unshift({ what: targetOf(entry), cause: causesOf(entry), at });
  else if (entry.kind === 'attribute')
    list.unshift({ what: `attribute ${entry.name}`, cause: `${entry.before} → ${entry.after}`, at });
  else if (entry.kind === 'hook') list.unshift({ what: entry.name, cause: '', at });
  list.length = Math.min(list.length, kept);
}

/**
 * Prints an element made with Eltrix: contract, values, signals with their subscribers, last updates with their
 * causes, resources taken through scopes. Meant for the console: `inspect($0)`. Prints nothing in production.
 * @example inspect(document.querySelector('hive-card'));
 */
export function inspect(element: Element): Inspection | undefined {
  if (!__DEV__) return undefined;
  const core = (element as Partial<HasCore>)[coreKey];
  if (!core) {
    console.warn(
      `(not-inspected): <${element.localName}> is not made with Eltrix, or not defined yet. Choose another element.`,
    );
    return undefined;
  }
  const { contract } = core.plan;
  const members = contract.members;
  const seen = new Set<Source>();
  for (const effect of core.outside ?? [])
    for (let link: Link | undefined = effect.sources; link; link = link.nextSource) seen.add(link.source);
  const readersOf = (source: Source | undefined) => {
    const readers: string[] = [];
    for (let link = source?.targets; link; link = link.nextTarget) readers.push(nameOf(link.target));
    return readers;
  };
  const result: Inspection = {
    tag: contract.tag,
    contract: [...declarations(contract)],
    values: Object.fromEntries(
      members.map(({ name }) => [name, (element as unknown as Record<string, unknown>)[name]]),
    ),
    signals: [
      ...members.map(({ name, index }) => ({
        name: `property "${name}"`,
        value: (element as unknown as Record<string, unknown>)[name],
        readers: [...bindingsThatRead(core, keyOf(index)), ...readersOf(core.held?.[keyOf(index)])],
      })),
      ...[...seen].map(source => ({
        name: source.describe?.() ?? 'a signal',
        value: currentOf(source),
        readers: readersOf(source),
      })),
    ].filter(({ readers }) => readers.length > 0),
    updates: [...(updates.get(element) ?? [])],
    taken: takenBy(element),
  };
  console.groupCollapsed(`<${contract.tag}>`, element);
  console.log('contract', ...result.contract);
  console.table(result.values);
  for (const { name, value, readers } of result.signals) console.log(name, '=', value, 'read by', ...readers);
  console.table(result.updates);
  console.log('taken through scopes:', ...(result.taken.length > 0 ? result.taken : ['nothing']));
  console.groupEnd();
  return result;
}

/** The value of a signal, or the last value of a computed. */
const currentOf = (source: object) => ('current' in source ? source.current : (source as { value?: unknown }).value);

const nameOf = (target: object) => (target as { describe?: () => string }).describe?.() ?? 'a computed';

/** The expressions of the view that depend on a value. They are marked to find them, and unmarked afterwards. */
function bindingsThatRead({ bindings }: Core, key: number): string[] {
  const marked: Member[] = [];
  markAll(bindings, 0, marked);
  const found: Member[] = [];
  markAll(bindings, 1 << key, found);
  const readers = found.filter(one => one.mask & (1 << key));
  for (const one of found) if (!marked.includes(one)) one.flags &= ~dirty;
  return readers.map(nameOf);
}
