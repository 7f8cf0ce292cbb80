/** Calls the hooks of an author's classes: of every class in the chain, parents first. */
import { report } from '../signals/report.ts';
import { untracked } from '../signals/state.ts';
import { trace } from '../signals/trace.ts';
import { atHooks, atScope } from './part.ts';
import type { Living, Part } from './plan.ts';
import { ConnectionScope } from './scope.ts';

export type HookName =
  | 'assembled'
  | 'connected'
  | 'disconnected'
  | 'moved'
  | 'adopted'
  | 'attributeChanged'
  | 'propertyChanged'
  | 'formAssociated'
  | 'formDisabled'
  | 'formReset'
  | 'formStateRestore';

type Method = (this: object, ...args: unknown[]) => void;
type Methods = Record<string, Method>;

const known = new WeakMap<object, Record<string, readonly Methods[]>>();

/** The prototypes of a class's chain that have a hook, parents first. */
function prototypesWith(name: HookName, Class: { readonly prototype: object }): readonly Methods[] {
  let byName = known.get(Class);
  if (!byName) known.set(Class, (byName = {}));
  let found = byName[name];
  if (!found) {
    const chain: Methods[] = [];
    for (let p = Class.prototype as Methods | null; p; p = Object.getPrototypeOf(p) as Methods | null)
      if (Object.hasOwn(p, name)) chain.unshift(p);
    byName[name] = found = chain;
  }
  return found;
}

/** Calls a hook. An error is reported and does not stop the caller. */
export function callHook(core: Living, name: HookName, ...args: unknown[]): void {
  callWhile(() => true, core, name, ...args);
}

/** Calls a hook of each class while `still` returns true: each call may move or remove the element. */
function callWhile(still: () => boolean, { host, plan }: Living, name: HookName, ...args: unknown[]): void {
  for (const prototype of prototypesWith(name, plan.Class)) {
    if (!still()) return;
    if (__DEV__) trace({ kind: 'hook', host, name });
    try {
      // A test may have deleted the method.
      untracked(() => prototype[name]?.apply(host, args));
    } catch (error) {
      report(error, host);
    }
  }
}

/** For classes that have `assembled`, `connected`, `disconnected` or `adopted`. */
export const hooksPart: Part<Living> = {
  at: atHooks,
  assemble: core => callHook(core, 'assembled'),
  connect(core) {
    const { connections } = core;
    core.calledConnected = true;
    callWhile(() => core.shown && core.connections === connections, core, 'connected', core.scope);
  },
  adopt: (core, from, to) => callHook(core, 'adopted', from, to),
  disconnect(core) {
    if (core.calledConnected) callHook(core, 'disconnected');
    core.calledConnected = false;
  },
};

/** For classes whose `connected` takes a scope. */
export const scopePart: Part<Living> = {
  at: atScope,
  connect(core) {
    core.scope = new ConnectionScope(core.host);
  },
  disconnect(core) {
    const { scope } = core;
    core.scope = undefined;
    scope?.end();
  },
};
