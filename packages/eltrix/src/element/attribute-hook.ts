/**
 * `attributeChanged`. A property that was set before the upgrade counts more than an attribute callback that the
 * platform queued before the constructor ran.
 */
import { callHook } from './call-hook.ts';
import { atAttributes } from './part.ts';
import type { Hooked, Living, Member, Part } from './plan.ts';

/** The platform queues no callback for attributes that the constructor sets. */
function deliver(core: Hooked): void {
  for (const [name, isQueued] of core.early ?? []) {
    if (isQueued) continue;
    core.early!.delete(name);
    const after = core.host.getAttributeNS(null, name);
    if (after !== null) callHook(core, 'attributeChanged', name, null, after);
  }
}

/** For classes that have `attributeChanged`. */
export const attributePart = {
  at: atAttributes,
  construct(core: Hooked): void {
    const { host, plan } = core;
    for (const { name, attribute, reflects } of plan.contract.members) {
      if (!reflects || !Object.hasOwn(host, name)) continue;
      (core.early ??= new Map()).set(attribute!, host.hasAttributeNS(null, attribute!));
      queueMicrotask(() => deliver(core));
    }
  },
  prepare: deliver,
  attributeChanged(core: Hooked, member: Pick<Member, 'attribute'>, before: string | null, after: string | null): void {
    const name = member.attribute!;
    const isEarly = core.early?.delete(name);
    callHook(core, 'attributeChanged', name, before, isEarly ? core.host.getAttributeNS(null, name) : after);
  },
} satisfies Part<Living>;
