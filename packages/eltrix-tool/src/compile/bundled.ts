import type { Uncompiled } from './compiled-module.ts';

/** An output file as it was bundled. */
export interface Bundled {
  readonly file: string;
  readonly code: string | Uint8Array;
  /** The chunks that it imports as it loads. */
  readonly imports: readonly string[];
  /** What it consists of: module to bytes. */
  readonly modules: ReadonlyMap<string, number>;
}

export interface Bundle {
  readonly files: readonly Bundled[];
  /** The scripts that were rebuilt; the others are those of the previous bundle. */
  readonly anew: readonly string[];
  readonly uncompiled: readonly Uncompiled[];
}
