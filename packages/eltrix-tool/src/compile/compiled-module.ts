/** What comes of a module that is compiled, and what is asked for. */
import type { ModuleUsage } from './usage.ts';

/** What a module that has to do with elements says somewhere. */
export const concerned = /\beltrix\b|\bextends\b/;

/** Something that stays as it was written and works when it runs. */
export interface Uncompiled {
  readonly file: string;
  /** From 1. */
  readonly line: number;
  readonly column: number;
  readonly what: 'contract' | 'markup' | 'stylesheet';
  readonly reason: string;
}

/** A mistake of the template's author. */
export class SourceMistake extends Error {
  constructor(
    readonly code: string,
    message: string,
    readonly loc: { readonly file: string; readonly line: number; readonly column: number },
  ) {
    super(`(${code}): ${message}`);
  }
}

export interface CompiledModule {
  readonly code: string;
  readonly map: ModuleMap;
  readonly uncompiled: readonly Uncompiled[];
}

export interface CompileOptions {
  /** Whether messages should say where an expression stands, as they do without a build. */
  readonly places?: boolean;
  /** Whether templates that can never work are left to say so when they are placed; else they stop the build. */
  readonly leaveMistakes?: boolean;
  /** Whether views may have been rendered by a server, so that every element needs what takes them over. */
  readonly rendered?: boolean;
  /** How the project uses the classes of the module; without it, in every way. */
  readonly usage?: ModuleUsage;
}

/** A source map (ECMA-426), as data. */
export interface ModuleMap {
  readonly version: number;
  readonly file?: string;
  readonly sources: string[];
  readonly sourcesContent?: string[];
  readonly names: string[];
  readonly mappings: string;
}
