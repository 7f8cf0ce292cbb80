/**
 * `attributeChanged`. A property that was set before the upgrade counts more than an attribute callback that the
 * platform queued before the constructor ran.
 */
import { callHook } from './hooks.ts';
import { atAttributes } from './part.ts';
import type { Living, Part } from './plan.ts';

interface Early {
  /** Whether the platform has queued a callback for the attribute. */
  readonly queued: boolean;
  readonly reflects: boolean;
}

/** Properties set before the upgrade whose attribute has had no callback yet, by attribute name. */
const early = new WeakMap<Living, Map<string, Early>>();

/** The platform queues no callback for attributes that the constructor sets. */
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
