import { effectOf } from '../signals/effect.ts';
import { measure } from '../signals/measure.ts';
import { atScope } from './part.ts';
import type { Living, Part } from './plan.ts';
import { giveEffects, giveMeasures } from './scope.ts';

/** `scope.effect()`. */
export const scopeEffectsPart: Part<Living> = { at: atScope, extend: () => giveEffects(effectOf) };

/** `scope.measure()`. */
export const scopeMeasurePart: Part<Living> = { at: atScope, extend: () => giveMeasures(measure) };
