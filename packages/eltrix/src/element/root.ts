import { atRoot } from './part.ts';
import type { Part } from './plan.ts';

/** For shadow roots with other options than `open`. */
export const rootPart: Part = {
  at: atRoot,
  isRoot: true,
  construct(core) {
    const init = { mode: 'open', ...(core.plan.contract.shadow as Partial<ShadowRootInit>) } as const;
    // Attaching a root to an element with a declarative root would empty that root (DOM §4.9, "attach a shadow root").
    const sent = __RENDERED__ && init.mode === 'closed' ? core.getInternals().shadowRoot : null;
    core.root = sent ?? core.openRoot(init);
    core.registry = init.customElementRegistry ?? undefined;
    // Only internals lead to a closed root. Another document may not know the element, so they are attached now.
    if ((init as ShadowRootInit).mode === 'closed') core.getInternals();
  },
};
