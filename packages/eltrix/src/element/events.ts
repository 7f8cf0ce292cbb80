import type { EventDeclaration } from '../contract/index.ts';
import { mistake } from './messages.ts';
import { type Contract, type Core, declarations } from './plan.ts';

/** Dispatches an event as declared by the nearest class. */
export function dispatch(core: Core, type: string, detail: unknown): boolean {
  const { host, plan } = core;
  let declared: EventDeclaration | undefined;
  for (const declaration of declarations(plan.contract)) {
    declared = declaration.events?.[type];
    if (declared) break;
  }
  if (__DEV__ && !declared && isWritten(plan.contract)) {
    const names = [...declarations(plan.contract)].flatMap(d => Object.keys(d.events ?? {}));
    throw mistake(
      'TypeError',
      'event-undeclared',
      host.localName,
      `<${host.localName}> sends "${type}", which its contract does not declare. ` +
        `Add it: events: { '${type}': event<…>() }.${names.length ? ` Declared are ${names.map(n => `"${n}"`).join(', ')}.` : ''} Nothing was sent.`,
    );
  }
  const { bubbles = true, composed = true, cancelable = false } = declared ?? {};
  return host.dispatchEvent(new CustomEvent(type, { detail, bubbles, composed, cancelable }));
}

/** Whether every class of the chain has its declaration; a class compiled for production does not. */
function isWritten(contract: Contract | undefined): boolean {
  return contract === undefined || (contract.declaration !== undefined && isWritten(contract.parent));
}
