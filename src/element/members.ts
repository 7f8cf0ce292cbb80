/** Members that elements have for their own use, one ability each. */
import type { Abilities } from './abilities.ts';
import { dispatch } from './events.ts';
import { coreKey, type HasCore } from './reflect.ts';

/** `emit()`: sends a declared event. */
export const emitAbility: Abilities = {
  members: {
    emit: {
      value(this: HasCore, type: string, detail: unknown = null): boolean {
        return dispatch(this[coreKey], type, detail);
      },
      writable: true,
      configurable: true,
    },
  },
};

/** `internals`: roles, states, form. */
export const internalsAbility: Abilities = {
  members: {
    internals: {
      get(this: HasCore): ElementInternals {
        return this[coreKey].getInternals();
      },
      configurable: true,
    },
  },
};

/** `states`: the custom states, matched by `:state(name)`. */
export const statesAbility: Abilities = {
  members: {
    states: {
      get(this: HasCore): CustomStateSet {
        return this[coreKey].getInternals().states;
      },
      configurable: true,
    },
  },
};

function moveCallback(this: HasCore): void {
  this[coreKey].call('moved');
}

/** `moved()`: without it a move is a disconnection and a connection (DOM §4.2.6). */
export const moveAbility: Abilities = {
  members: {
    connectedMoveCallback: {
      get(this: HasCore): (() => void) | undefined {
        return 'moved' in this ? moveCallback : undefined;
      },
      configurable: true,
    },
  },
};
