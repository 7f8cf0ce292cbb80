/**
 * `attributeChanged`, and attributes and properties that meet while an element is upgraded: callbacks that the platform
 * queued before the constructor took over a property are out of date.
 */
import { callHook } from './hooks.ts';
import { atAttributes } from './part.ts';
import type { Living, Part } from './plan.ts';

interface Early {
  /** Whether the platform has queued a callback for the attribute. */
  readonly queued: boolean;
  readonly reflects: boolean;
}

/** By attribute name, those of properties that were set early and for whom no callback has come yet. */
const early = new WeakMap<Living, Map<string, Early>>();

/** Attributes that were written in the constructor have no their own callback. */
function deliver(core: Living): void {
  const waiting = early.get(core);
  for (const [name, { queued, reflects }] of waiting ?? []) {
    if (queued) continue;
    waiting!.delete(name);
    const after = core.host.getAttributeNS(null, name);
    if (reflects && after !== null) callHook(core, 'attributeChanged', name, null, after);
  }
}

/** For classes that have `attributeChanged`. */
export const attributePart: Part<Living> = {
  at: atAttributes,
  construct(core) {
    const { host, plan } = core;
    for (const { name, attribute, reflects } of plan.contract.members) {
      if (attribute === undefined || !Object.hasOwn(host, name)) continue;
      let waiting = early.get(core);
      if (!waiting) {
        early.set(core, (waiting = new Map()));
        queueMicrotask(() => deliver(core));
      }
      waiting.set(attribute, { queued: host.hasAttributeNS(null, attribute), reflects });
    }
  },
  prepare: deliver,
  attributeChanged(core, member, before, after) {
    const name = member.attribute!;
    const waiting = early.get(core);
    const one = waiting?.get(name);
    waiting?.delete(name);
    callHook(core, 'attributeChanged', name, before, one?.reflects ? core.host.getAttributeNS(null, name) : after);
  },
};
