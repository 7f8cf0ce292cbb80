import { effect } from '../signals/effect.ts';
import { atScope } from './part.ts';
import type { Part } from './plan.ts';
import { giveEffects } from './scope.ts';

/** `scope.effect()`. */
export const scopeEffectsPart: Part = { at: atScope, extend: () => giveEffects(effect) };
