import { deep, original, showLive } from '../signals/deep.ts';
import { type Accessor, dataProperty } from './accessors.ts';
import type { Member } from './plan.ts';

/** A property whose array or plain object is tracked deeply. */
export const liveProperty =
  (make: () => unknown) =>
  (member: Member): Accessor => {
    const { get, set } = dataProperty(make, true)(member);
    showLive();
    return {
      get() {
        return deep(get.call(this));
      },
      set(value) {
        set.call(this, original(value));
      },
    };
  };
