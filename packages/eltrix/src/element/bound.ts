/** Keeps semantics and states of a contract up to date through ElementInternals. */
import type { Declaration, StateDeclaration } from '../contract/index.ts';
import { Expression } from '../view/expression.ts';
import type { Binding } from '../view/template.ts';
import { atRoot } from './part.ts';
import type { Bound, Contract, Core, Part } from './plan.ts';

export function boundOf({ states, semantics }: Declaration): Bound | undefined {
  const conditional = Object.entries(states ?? {}).filter(
    (entry): entry is [string, StateDeclaration] => typeof entry[1] === 'object',
  );
  return semantics || conditional.length > 0 ? { semantics, states: Object.fromEntries(conditional) } : undefined;
}

/** Parents first: a class overrides its parent. */
function chain(contract: Contract | undefined): Bound[] {
  return contract ? [...chain(contract.parent), ...(contract.bound ? [contract.bound] : [])] : [];
}

const each = (core: Core, fixed: (key: string, value: string | null) => void, live?: Live) => {
  for (const { semantics, states } of chain(core.plan.contract)) {
    for (const [key, value] of Object.entries(semantics ?? {}))
      if (typeof value === 'function') live?.(value, now => fixed(key, (now as string | null | undefined) ?? null));
      else fixed(key, value);
    for (const [name, { when }] of Object.entries(states ?? {}))
      live?.(when, now => {
        const { states } = core.getInternals();
        if (now) states.add(name);
        else states.delete(name);
      });
  }
};

type Live = (fn: (host: object) => unknown, show: (value: unknown) => void) => void;

/** For classes whose contract has `semantics`, or states with a condition. */
export const boundPart: Part = {
  at: atRoot,
  construct(core) {
    if (core.plan.contract.extends !== undefined) return;
    const internals = core.getInternals() as unknown as Record<string, unknown>;
    each(core, (key, value) => {
      internals[key] = value;
    });
  },
  assemble(core) {
    if (core.plan.contract.extends !== undefined) return;
    const internals = core.getInternals() as unknown as Record<string, unknown>;
    each(
      core,
      (key, value) => {
        internals[key] = value;
      },
      (fn, show) => {
        const expression = new Expression(core, core.host, (_node, value) => show(value));
        expression.set(() => fn(core.host));
        (core.bindings as Binding[]).push(expression);
      },
    );
  },
};
