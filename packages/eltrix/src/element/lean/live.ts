import { deep, original, showLive } from '../../signals/deep.ts';
import type { Maker } from './data.ts';

/** For a property whose array or plain object is tracked deeply. */
export function leanLive(make: () => unknown): Maker {
  showLive();
  return Object.assign(() => make(), { given: deep, taken: original });
}
