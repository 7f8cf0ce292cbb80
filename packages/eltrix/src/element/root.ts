import type { Ability } from './abilities.ts';

/** For shadow roots that are not simply open, and for roots that the page may have made otherwise than declared. */
export const rootAbility: Ability = {
  rank: 0,
  core: Base =>
    class extends Base {
      override attachRoot(): void {
        const { host } = this;
        try {
          const init = { mode: 'open', ...(this.plan.contract.shadow as Partial<ShadowRootInit>) } as const;
          this.root = host.shadowRoot ?? host.attachShadow(init);
        } catch (error) {
          // A closed root that is there can only be reached through the internals.
          const { shadowRoot } = this.getInternals();
          if (shadowRoot === null) throw error;
          this.root = shadowRoot;
        }
      }
    },
};
