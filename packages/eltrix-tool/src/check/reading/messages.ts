/** What the tool and its reading thread say to each other. */
import type { CompiledModule } from '../../compile/compiled-module.ts';
import type { Usage } from '../../compile/usage.ts';
import type { ElementPlace } from '../../project/discover.ts';
import type { Position } from '../../project/tool-error.ts';

export type Question =
  /** Reads the elements again: their modules are compiled. */
  | {
      readonly kind: 'read';
      readonly id: number;
      readonly root: string;
      readonly source: string;
      /** Whether elements take over what a server has rendered. */
      readonly rendered: boolean;
      readonly usage: Usage;
      /** All files that were changed since the last reading, if none has come or gone. */
      readonly changed: ReadonlySet<string> | undefined;
    }
  | {
      readonly kind: 'compile';
      readonly id: number;
      readonly root: string;
      readonly rendered: boolean;
      readonly file: string;
      readonly code: string;
    }
  /** What can be seen to be wrong in the sources that were read last. */
  | { readonly kind: 'findings'; readonly id: number }
  | {
      /** Answered with nothing where they are the same as last time. */
      readonly kind: 'companions';
      readonly id: number;
      readonly rendered: boolean;
      readonly project: Readonly<Record<string, unknown>>;
      readonly scripts: readonly string[];
    };

export type Answer =
  | { readonly kind: 'answer'; readonly id: number; readonly value: unknown }
  | { readonly kind: 'failure'; readonly id: number; readonly error: Failure }
  /** A module that was compiled before anybody asked. */
  | { readonly kind: 'compiled'; readonly file: string; readonly code: string; readonly module: CompiledModule | null };

/** What is known of elements, where their contracts are not. */
export interface ReadElements {
  readonly elements: readonly (ElementPlace & { readonly extends: string | undefined })[];
  /** Whether modules had to be loaded to know them. */
  readonly loaded: boolean;
}

/** An error as data: threads do not keep its class. */
export interface Failure {
  readonly name: string;
  readonly message: string;
  readonly stack?: string | undefined;
  /** Of a `ToolError`, and of a `SourceMistake`. */
  readonly code?: string | undefined;
  readonly position?: Position | undefined;
  readonly excerpt?: string | undefined;
  readonly exitCode?: 1 | 2 | undefined;
  readonly loc?: { readonly file: string; readonly line: number; readonly column: number } | undefined;
}
