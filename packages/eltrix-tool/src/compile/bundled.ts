import type { Uncompiled } from './compiled-module.ts';

/** An output file of the bundler. */
export interface Bundled {
  readonly file: string;
  readonly code: string | Uint8Array;
  /** The chunks that it imports statically. */
  readonly imports: readonly string[];
  /** Its modules, with their sizes in bytes. */
  readonly modules: ReadonlyMap<string, number>;
}

export interface Bundle {
  readonly files: readonly Bundled[];
  /** The rebuilt scripts; the others are those of the previous bundle. */
  readonly anew: readonly string[];
  readonly uncompiled: readonly Uncompiled[];
}
