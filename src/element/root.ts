import type { Abilities } from './abilities.ts';

/** A shadow root. One that is there already (declarative, or cloned) is used. */
export const shadowAbility: Abilities = {
  root(core) {
    const { host, plan } = core;
    if (host.shadowRoot !== null) {
      core.root = host.shadowRoot;
      return;
    }
    try {
      core.root = host.attachShadow({ mode: 'open', ...(plan.shadow as object) });
    } catch (error) {
      // A closed root that is there can only be reached through the internals.
      const internals = host.attachInternals();
      core.internals = internals;
      if (internals.shadowRoot === null) throw error;
      core.root = internals.shadowRoot;
    }
  },
};
