import { effectOf } from '../signals/effect.ts';
import { measure } from '../signals/measure.ts';
import { atScope } from './part.ts';
import type { Part } from './plan.ts';
import { giveEffects, giveMeasures } from './scope.ts';

/** `scope.effect()`. */
export const scopeEffectsPart: Part = { at: atScope, extend: () => giveEffects(effectOf) };

/** `scope.measure()`. */
export const scopeMeasurePart: Part = { at: atScope, extend: () => giveMeasures(measure) };
