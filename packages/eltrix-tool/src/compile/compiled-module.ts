/** The result of compiling a module, and the options. */
import type { Imported } from '../project/library-names.ts';
import type { ReadModules } from '../project/passed-names.ts';
import type { FollowModules } from './source-modules.ts';
import type { ModuleUsage } from './usage.ts';

/** Kinds of code that a module with elements contains. */
export const concerned = /\beltrix\b|\bextends\b/;

/** Code that stays as written and works at run time. */
export interface Uncompiled {
  readonly file: string;
  /** From 1. */
  readonly line: number;
  readonly column: number;
  readonly what: 'contract' | 'markup' | 'stylesheet';
  readonly reason: string;
}

/** A mistake in a template. */
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
  /** The other modules on which its compilation depends. */
  readonly read?: Readonly<ReadModules>;
}

export interface CompileOptions {
  /** Whether messages include positions of expressions, as without a build. */
  readonly places?: boolean;
  /** Whether a template with a mistake throws when it is placed; otherwise it stops the build. */
  readonly leaveMistakes?: boolean;
  /** Whether a server may render the views, so that every element needs the code to adopt them. */
  readonly rendered?: boolean;
  /** How the project uses the module's classes; unknown unless given. */
  readonly usage?: ModuleUsage;
  /** What the module's imports lead to; only the library itself unless given. */
  readonly imported?: Imported;
  /** The modules that it imports; unknown unless given. */
  readonly modules?: FollowModules;
}

/** A source map (ECMA-426). */
export interface ModuleMap {
  readonly version: number;
  readonly file?: string;
  readonly sources: string[];
  readonly sourcesContent?: string[];
  readonly names: string[];
  readonly mappings: string;
}
