/** Compiles the modules of a project, repeatedly. */
import { Remembered } from '../project/remembered.ts';
import { type CompiledModule, type CompileOptions, concerned } from './compiled-module.ts';
import { compileModule } from './transform.ts';
import { type Usage, usageIn } from './usage.ts';

const compiledBefore = new Remembered<CompiledModule | null>();

export class Compiler {
  readonly #options: CompileOptions;
  readonly #usage: ReturnType<typeof usageIn> | undefined;

  /**
   * @param lean whether static elements may be compiled without dependency tracking.
   * @param usage how the project uses its classes, if that is known.
   */
  constructor(root: string, options: CompileOptions, lean: boolean, usage?: Usage) {
    this.#options = options;
    this.#usage = lean ? usageIn(root, usage) : undefined;
  }

  /** @throws SourceMistake for a template that can never work. */
  compile(file: string, code: string): CompiledModule | null {
    if (!concerned.test(code)) return null;
    const usage = this.#usage?.(file, code);
    const key = JSON.stringify([this.#options, usage && [[...usage.extended], [...usage.members], [...usage.names]]]);
    return compiledBefore.get(file, key + code, () =>
      compileModule(file, code, { ...this.#options, ...(usage && { usage }) }),
    );
  }
}
