import { atRoot } from './part.ts';
import type { Part } from './plan.ts';

/** For shadow roots that are not simply open. */
export const rootPart: Part = {
  at: atRoot,
  construct(core) {
    core.root = core.openRoot({ mode: 'open', ...(core.plan.contract.shadow as Partial<ShadowRootInit>) });
  },
};
