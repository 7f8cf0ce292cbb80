/** The methods of scopes that need the dependency graph. */
import { type EffectFunction, effectOf } from '../signals/effect.ts';
import { measure } from '../signals/measure.ts';
import type { ConnectionScope } from './scope.ts';
import { scopeMethod } from './scope-members.ts';

const starting = (start: typeof effectOf, what: string) =>
  function (this: ConnectionScope, fn: EffectFunction) {
    return this.ended ? () => {} : this.take(start(fn, this.host), what);
  };

/** `scope.effect()`. */
export const scopeEffectPart = /* @__PURE__ */ scopeMethod(
  'effect',
  /* @__PURE__ */ starting(effectOf, __DEV__ ? 'an effect' : ''),
);

/** `scope.measure()`. */
export const scopeMeasurePart = /* @__PURE__ */ scopeMethod(
  'measure',
  /* @__PURE__ */ starting(measure, __DEV__ ? 'a measuring effect' : ''),
);
