/** Compiles the modules of a project, repeatedly. */
import MagicString from 'magic-string';
import { importedBy, RememberedReading } from '../project/passed-names.ts';
import { type CompiledModule, type CompileOptions, concerned, type ModuleMap } from './compiled-module.ts';
import { modulesFrom } from './source-modules.ts';
import { compileModule } from './transform.ts';
import { type Usage, usageIn } from './usage.ts';

const compiledBefore = new RememberedReading<CompiledModule | null>();

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
    return compiledBefore.get(file, key + code, read => {
      const imported = importedBy(file, read);
      const modules = modulesFrom(file, read);
      const compiled = compileModule(file, code, { ...this.#options, imported, modules, ...(usage && { usage }) });
      return Object.keys(read).length > 0 ? { ...(compiled ?? unchanged(file, code)), read } : compiled;
    });
  }
}

/** A module that may be compiled otherwise once another one changes. */
function unchanged(file: string, code: string): CompiledModule {
  const map = new MagicString(code).generateMap({ source: file, hires: 'boundary', includeContent: true });
  return { code, map: { ...map } as ModuleMap, uncompiled: [] };
}
