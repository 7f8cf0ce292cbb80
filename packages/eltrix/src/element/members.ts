/** Members for the element's own code, one part each. */

import { callHook } from './call-hook.ts';
import { coreKey, type HasCore, type HasLife } from './core-key.ts';
import { dispatch } from './events.ts';
import { notifyMoved } from './moved.ts';
import { atRoot, members } from './part.ts';
import { declarations, type Living, type Part } from './plan.ts';

/** `emit()`: dispatches a declared event with its options. */
export const emitPart: Part = /* @__PURE__ */ members({
  emit: {
    value(this: HasCore, type: string, detail: unknown = null): boolean {
      return dispatch(this[coreKey], type, detail);
    },
    writable: true,
    configurable: true,
  },
});

/** `emit()` for classes whose events all bubble, are composed and cannot be cancelled. */
export const plainEmitPart: Part<Living> = {
  at: atRoot,
  extend({ prototype }) {
    (prototype as { emit?: unknown }).emit = function (this: HTMLElement, type: string, detail: unknown = null) {
      return this.dispatchEvent(new CustomEvent(type, { detail, bubbles: true, composed: true }));
    };
  },
};

/** `internals`: roles, states, form. */
export const internalsPart: Part<Living> = /* @__PURE__ */ members({
  internals: {
    get(this: HasLife): ElementInternals {
      return this[coreKey].getInternals();
    },
    configurable: true,
  },
});

/** `states`: the custom states, matched by `:state(name)`. */
export const statesPart: Part<Living> = {
  at: atRoot,
  construct(core) {
    // Another document may not know the element, so internals are attached now. A build includes this part only where
    // states are used.
    const { contract } = core.plan;
    if (contract.extends !== undefined) return;
    if (!contract.declaration || [...declarations(contract)].some(({ states }) => states)) core.getInternals();
  },
  extend({ prototype }) {
    Object.defineProperty(prototype, 'states', {
      get(this: HasLife): CustomStateSet {
        return this[coreKey].getInternals().states;
      },
      configurable: true,
    });
  },
};

function moveCallback(this: HasLife): void {
  const core = this[coreKey];
  notifyMoved(this);
  core.run('move');
  // In between, the next `connected` will find it where it is.
  if (core.shown && core.calledConnected) callHook(core, 'moved');
}

/**
 * `moved()`: an element without it is disconnected and connected when it is moved (DOM §4.2.6). It is called between
 * `connected` and `disconnected`.
 */
export const movePart: Part<Living> = /* @__PURE__ */ members({
  connectedMoveCallback: {
    get(this: HasLife): (() => void) | undefined {
      return 'moved' in this ? moveCallback : undefined;
    },
    configurable: true,
  },
});
