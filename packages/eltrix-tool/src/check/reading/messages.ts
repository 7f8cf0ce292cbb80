/** Messages between the tool and its threads that read sources. */
import type { CompiledModule } from '../../compile/compiled-module.ts';
import type { Usage } from '../../compile/usage.ts';
import type { Emitted } from '../../describe/emitted.ts';
import type { ElementPlace } from '../../project/discover.ts';
import type { Position } from '../../project/tool-error.ts';

/** The sources of a project. */
interface State {
  readonly root: string;
  readonly source: string;
  /** The files that changed since the last reading; undefined if files were added or removed. */
  readonly changed: ReadonlySet<string> | undefined;
}

export type Unasked<T> = T extends unknown ? Omit<T, 'id'> : never;

export type Question =
  /** Reads the elements again. */
  | ({ readonly kind: 'read'; readonly id: number } & State)
  /** What modules are compiled with from now on. */
  | ({
      readonly kind: 'compiler';
      readonly id: number;
      /** Whether elements adopt views that a server has rendered. */
      readonly rendered: boolean;
      readonly usage: Usage;
      /** Whether the modules of elements are compiled in advance. */
      readonly ahead: boolean;
    } & State)
  | {
      readonly kind: 'compile';
      readonly id: number;
      readonly root: string;
      readonly rendered: boolean;
      readonly file: string;
      readonly code: string;
    }
  /** The findings in the sources that were read last. */
  | { readonly kind: 'findings'; readonly id: number }
  | {
      /** The answer is empty if they are unchanged. */
      readonly kind: 'companions';
      readonly id: number;
      readonly root: string;
      readonly rendered: boolean;
      /** For types that the sources leave to inference. */
      readonly emitted: Emitted | undefined;
      readonly project: Readonly<Record<string, unknown>>;
      readonly scripts: readonly string[];
    };

export type Answer =
  | { readonly kind: 'answer'; readonly id: number; readonly value: unknown }
  | { readonly kind: 'failure'; readonly id: number; readonly error: Failure }
  /** A module compiled in advance. */
  | { readonly kind: 'compiled'; readonly file: string; readonly code: string; readonly module: CompiledModule | null };

/** Data about elements, without their contracts. */
export interface ReadElements {
  readonly elements: readonly (ElementPlace & { readonly extends: string | undefined })[];
  /** Whether modules had to be loaded. */
  readonly loaded: boolean;
  /** The files with types that only TypeScript can infer. */
  readonly unwritten: readonly string[];
}

/** An error as data, since its class is lost between threads. */
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
