/** The methods that the library calls on an author's class: of every class in the chain, parents first. */
import { untracked } from '../signals/graph.ts';
import { report } from '../signals/report.ts';
import { trace } from '../signals/trace.ts';
import type { Ability } from './abilities.ts';
import type { Core } from './core.ts';
import type { ConnectionScope } from './scope.ts';

export type HookName =
  | 'assembled'
  | 'connected'
  | 'disconnected'
  | 'moved'
  | 'adopted'
  | 'attributeChanged'
  | 'formAssociated'
  | 'formDisabled'
  | 'formReset'
  | 'formStateRestore';

type Method = (this: object, ...args: unknown[]) => void;
type Methods = Record<string, Method>;

const known = new WeakMap<object, Record<string, readonly Methods[]>>();

/** The prototypes of a class's chain that have a method, parents first. */
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

/** Calls a hook. An error is reported and the rest goes on. */
export function callHook(core: Core, name: HookName, ...args: unknown[]): void {
  callWhile(() => true, core, name, ...args);
}

/** Calls a hook as long as it is still time for it: each call may move or remove the element. */
function callWhile(still: () => boolean, { host, plan }: Core, name: HookName, ...args: unknown[]): void {
  for (const prototype of prototypesWith(name, plan.Class)) {
    if (!still()) return;
    if (__DEV__) trace({ kind: 'hook', host, name });
    try {
      // A test may have taken it away again.
      untracked(() => prototype[name]?.apply(host, args));
    } catch (error) {
      report(error);
    }
  }
}

/** For classes that have `assembled`, `connected`, `disconnected`, `adopted` or `attributeChanged`. */
export const hooksAbility: Ability = {
  rank: 4,
  core: Base =>
    class extends Base {
      #scope: ConnectionScope | undefined;
      /** Counts connections: a hook may have removed the element and put it back. */
      #connections = 0;
      /** Whether `connected` has been called for this connection, and `disconnected` has to be. */
      #isTold = false;

      override assemble(): void {
        super.assemble();
        callHook(this, 'assembled');
      }

      override connect(): void {
        const connection = ++this.#connections;
        const still = () => this.shown && connection === this.#connections;
        super.connect();
        if (!still()) return;
        this.#isTold = true;
        if (prototypesWith('connected', this.plan.Class).length === 0) return;
        this.#scope = this.makeScope?.();
        callWhile(still, this, 'connected', this.#scope);
      }

      override disconnect(): void {
        super.disconnect();
        const scope = this.#scope;
        this.#scope = undefined;
        scope?.end();
        if (this.#isTold) callHook(this, 'disconnected');
        this.#isTold = false;
      }

      override adopted(from: Document, to: Document): void {
        super.adopted(from, to);
        callHook(this, 'adopted', from, to);
      }
    },
};
