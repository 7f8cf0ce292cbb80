/** Compiles the modules of a project, as often as they change. */
import { Remembered } from '../project/remembered.ts';
import type { CompiledModule, CompileOptions } from './compiled-module.ts';
import { extendedBy, extendedIn } from './extended.ts';
import { compileModule } from './transform.ts';

const compiledBefore = new Remembered<CompiledModule | null>();

export class Compiler {
  readonly #options: CompileOptions;
  readonly #isExtended: ((name: string, file: string) => boolean) | undefined;

  /**
   * @param lean whether elements may do without the graph of readings.
   * @param extended the names of the project's classes that others are made from, if somebody has looked for them.
   */
  constructor(root: string, options: CompileOptions, lean: boolean, extended?: ReadonlySet<string>) {
    this.#options = options;
    this.#isExtended = lean ? extendedIn(root, extended) : undefined;
  }

  /** @throws SourceMistake for what can never work. */
  compile(file: string, code: string): CompiledModule | null {
    const isExtended = this.#isExtended;
    const here = extendedBy(code);
    const whole =
      isExtended && [...classesIn(code), 'default'].filter(name => here.includes(name) || isExtended(name, file));
    return compiledBefore.get(file, JSON.stringify([this.#options, whole]) + code, () =>
      compileModule(file, code, whole ? { ...this.#options, isExtended: name => whole.includes(name) } : this.#options),
    );
  }
}

/** The names of the classes in some code. */
const classesIn = (code: string) => [...code.matchAll(/\bclass\s+([\w$]+)/g)].map(([, name]) => name!);
