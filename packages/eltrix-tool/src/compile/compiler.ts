/** Compiles the modules of a project, as often as they change. */
import { Remembered } from '../project/remembered.ts';
import type { CompiledModule, CompileOptions } from './compiled-module.ts';
import { compileModule } from './transform.ts';

const compiledBefore = new Remembered<CompiledModule | null>();

export class Compiler {
  readonly #options: CompileOptions;

  constructor(options: CompileOptions = {}) {
    this.#options = options;
  }

  /** @throws SourceMistake for what can never work. */
  compile(file: string, code: string): CompiledModule | null {
    return compiledBefore.get(file, JSON.stringify(this.#options) + code, () =>
      compileModule(file, code, this.#options),
    );
  }
}
