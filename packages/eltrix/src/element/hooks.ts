/** The hooks of a connection: `assembled`, `connected`, `disconnected`, `adopted`, and the scope that `connected` takes. */
import { callHook, callWhile } from './call-hook.ts';
import { atHooks, atScope } from './part.ts';
import type { Living, Part } from './plan.ts';
import { ConnectionScope } from './scope.ts';

/** For classes that have `assembled`, `connected`, `disconnected` or `adopted`. */
export const hooksPart: Part<Living> = {
  at: atHooks,
  assemble: core => callHook(core, 'assembled'),
  connect(core) {
    const { connections } = core;
    core.calledConnected = true;
    callWhile(() => core.shown && core.connections === connections, core, 'connected', core.scope);
  },
  adopt: (core, from, to) => callHook(core, 'adopted', from, to),
  disconnect(core) {
    if (core.calledConnected) callHook(core, 'disconnected');
    core.calledConnected = false;
  },
};

/** For classes whose `connected` takes a scope. */
export const scopePart: Part<Living> = {
  at: atScope,
  connect(core) {
    core.scope = new ConnectionScope(core.host);
  },
  disconnect(core) {
    const { scope } = core;
    core.scope = undefined;
    scope?.end();
  },
};
