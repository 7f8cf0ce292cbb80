import { contractKey } from './contract-key.ts';
import { partsOf } from './part.ts';
import { type Contract, type Plan, sheetsOf } from './plan.ts';

const plans = new WeakMap<object, Plan>();

/** The plan of a class, created with its first instance. */
export function planOf(Class: { readonly prototype: object; readonly [contractKey]: Contract }): Plan {
  let plan = plans.get(Class);
  if (!plan) {
    plan = { Class, contract: Class[contractKey], styleSheets: [...new Set(sheetsOf(Class))], parts: partsOf(Class) };
    plans.set(Class, plan);
  }
  return plan;
}
