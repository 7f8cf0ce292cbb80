/** `propertyChanged`: called for each declared property with a new value. */
import { keyOf, untracked } from '../signals/state.ts';
import { callHook } from './call-hook.ts';
import { atHooks } from './part.ts';
import type { Living, Part } from './plan.ts';

/** For classes that have `propertyChanged`. */
export const propertyPart: Part<Living> = {
  at: atHooks,
  assemble(core) {
    if (!('propertyChanged' in core.host)) return;
    const host = core.host as unknown as Record<string, unknown>;
    const { members } = core.plan.contract;
    const read = (name: string) => untracked(() => host[name]);
    const last = members.map(({ name }) => read(name));
    core.noted = bits => {
      for (const { name, index } of members) {
        if (!(bits & (1 << keyOf(index)))) continue;
        const before = last[index];
        const after = read(name);
        if (Object.is(before, after)) continue;
        last[index] = after;
        callHook(core, 'propertyChanged', name, before, after);
      }
    };
  },
};
