/** Cores with what abilities add to them, for abilities that look at each other. */
import type { Core } from './core.ts';
import type { FormSide } from './form.ts';
import type { LightRoot } from './light.ts';
import type { Slots } from './slots.ts';

export interface LightCore extends Core {
  /** The element's own children as its root. */
  readonly light: LightRoot | undefined;
}

export interface SlotsCore extends Core {
  slots: Slots | undefined;
}

export interface FormCore extends Core {
  readonly form: FormSide | undefined;
}
