export { computed, type Readable, type SignalOptions } from './computed.ts';
export { deep, liveObject, plain } from './deep.ts';
export { type CleanUp, effect } from './effect.ts';
export { matches } from './matches.ts';
export { batch, settled } from './queue.ts';
export { type Signal, signal } from './signal.ts';
export { untracked } from './state.ts';
