import type { Core } from './core.ts';
import { LightRoot } from './light.ts';

/** Attaches the root that the view goes into. A root that is there already (declarative, or cloned) is used. */
export function attachRoot(core: Core): void {
  const { host, plan } = core;
  if (plan.shadow === 'none') {
    core.root = host;
    const light = new LightRoot(core);
    core.light = light;
    core.placed = node => light.placed(node);
    return;
  }
  if (host.shadowRoot !== null) {
    core.root = host.shadowRoot;
    return;
  }
  try {
    core.root = host.attachShadow({ mode: 'open', ...plan.shadow });
  } catch (error) {
    // A closed root that is there can only be reached through the internals.
    const internals = host.attachInternals();
    core.internals = internals;
    if (internals.shadowRoot === null) throw error;
    core.root = internals.shadowRoot;
  }
}
