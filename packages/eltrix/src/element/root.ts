import { atRoot } from './part.ts';
import type { Part } from './plan.ts';

/** For shadow roots that are not simply open. */
export const rootPart: Part = {
  at: atRoot,
  construct(core) {
    const init = { mode: 'open', ...(core.plan.contract.shadow as Partial<ShadowRootInit>) } as const;
    core.root = core.openRoot(init);
    // Only internals lead to a closed root. Another document may not know the element: they are attached while it can.
    if ((init as ShadowRootInit).mode === 'closed') core.getInternals();
  },
};
