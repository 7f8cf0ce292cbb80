/** Calls the hooks of an author's classes: of every class in the chain, parents first. */
import { report } from '../signals/report.ts';
import { untracked } from '../signals/state.ts';
import { trace } from '../signals/trace.ts';
import type { Hooked, Methods } from './plan.ts';

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

/** The prototypes of a class's chain that have a hook, parents first; looked up once. */
function prototypesWith(name: HookName, plan: Hooked['plan']): readonly Methods[] {
  const hooks = (plan.hooks ??= {});
  if (hooks[name]) return hooks[name];
  const chain: Methods[] = [];
  for (let p = plan.Class.prototype as Methods | null; p; p = Object.getPrototypeOf(p) as Methods | null)
    if (Object.hasOwn(p, name)) chain.unshift(p);
  return (hooks[name] = chain);
}

/** Calls a hook. An error is reported and does not stop the caller. */
export function callHook(core: Hooked, name: HookName, ...args: unknown[]): void {
  callWhile(() => true, core, name, ...args);
}

/** Calls a hook of each class while `still` returns true: each call may move or remove the element. */
export function callWhile(still: () => boolean, { host, plan }: Hooked, name: HookName, ...args: unknown[]): void {
  for (const prototype of prototypesWith(name, plan)) {
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
