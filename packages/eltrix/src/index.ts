/** Eltrix: author standards-based custom elements. */
export * from './contract/index.ts';
export * from './element/index.ts';
export {
  batch,
  type CleanUp,
  computed,
  effect,
  liveObject,
  matches,
  plain,
  type Readable,
  type Signal,
  type SignalOptions,
  settled,
  signal,
  untracked,
} from './signals/index.ts';
export * from './view/index.ts';
