/** Members that elements have for their own use, one ability each. */
import { type Ability, members } from './abilities.ts';
import { coreKey, type HasCore } from './core-key.ts';
import { dispatch } from './events.ts';
import { callHook } from './hooks.ts';
import { declarations } from './plan.ts';

/** `emit()`: sends a declared event as it is declared. */
export const emitAbility: Ability = /* @__PURE__ */ members({
  emit: {
    value(this: HasCore, type: string, detail: unknown = null): boolean {
      return dispatch(this[coreKey], type, detail);
    },
    writable: true,
    configurable: true,
  },
});

/** `emit()` for classes whose events all bubble, are composed and cannot be cancelled. */
export const plainEmitAbility: Ability = {
  rank: 0,
  extend({ prototype }) {
    (prototype as { emit?: unknown }).emit = function (this: HTMLElement, type: string, detail: unknown = null) {
      return this.dispatchEvent(new CustomEvent(type, { detail, bubbles: true, composed: true }));
    };
  },
};

/** `internals`: roles, states, form. */
export const internalsAbility: Ability = /* @__PURE__ */ members({
  internals: {
    get(this: HasCore): ElementInternals {
      return this[coreKey].getInternals();
    },
    configurable: true,
  },
});

/** `states`: the custom states, matched by `:state(name)`. */
export const statesAbility: Ability = {
  rank: 0,
  core: Base =>
    class extends Base {
      override attachRoot(): void {
        super.attachRoot();
        // Another document may not know the element: internals are attached while it can. A build has this ability only
        // where states are used.
        const { contract } = this.plan;
        if (!contract.declaration || [...declarations(contract)].some(({ states }) => states)) this.getInternals();
      }
    },
  extend({ prototype }) {
    Object.defineProperty(prototype, 'states', {
      get(this: HasCore): CustomStateSet {
        return this[coreKey].getInternals().states;
      },
      configurable: true,
    });
  },
};

function moveCallback(this: HasCore): void {
  this[coreKey].moved();
  callHook(this[coreKey], 'moved');
}

/** `moved()`: without it a move is a disconnection and a connection (DOM §4.2.6). */
export const moveAbility: Ability = /* @__PURE__ */ members({
  connectedMoveCallback: {
    get(this: HasCore): (() => void) | undefined {
      return 'moved' in this ? moveCallback : undefined;
    },
    configurable: true,
  },
});
