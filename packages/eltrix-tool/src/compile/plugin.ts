/** The Vite plugin: compiles elements while Vite bundles them. */
import { join, relative } from 'node:path';
import type { Plugin } from 'vite';
import { ownModules } from '../project/library.ts';
import { sheetModules } from '../project/sheet-modules.ts';
import {
  type CompiledModule,
  type CompileOptions,
  concerned,
  SourceMistake,
  type Uncompiled,
} from './compiled-module.ts';
import { hotElements } from './hot-plugin.ts';
import { signalNames } from './signal-names.ts';

export interface EltrixPluginOptions extends Omit<CompileOptions, 'usage'> {
  /** Called for code that stays as written. Without it the plugin warns through Vite, once for each position. */
  readonly onUncompiled?: (found: Uncompiled) => void;
  /**
   * False: a change of an element reloads the page. Otherwise existing elements get the new class and keep their
   * properties, state, focus and scroll position.
   */
  readonly hot?: boolean;
  /** Whether to compile on the development server as well, not only in builds. */
  readonly always?: boolean;
  /**
   * Whether static elements are compiled without dependency tracking, and so without its development messages. As
   * Vite's `isProduction` unless given.
   */
  readonly lean?: boolean;
  /** @internal Compiles modules, if that is done in another thread. */
  readonly compile?: (file: string, code: string) => Promise<CompiledModule | null>;
}

/** Vite's default target. */
const usualConditions = ['module', 'browser', 'development|production'];

/**
 * Compiles contracts, markup and style sheets in the modules of a Vite project: `plugins: [eltrix()]`. The development
 * server leaves them unchanged, since they work without a build. Imported style sheets work in both.
 * @example export default defineConfig({ plugins: [eltrix()] });
 */
export function eltrix(options: EltrixPluginOptions = {}): Plugin[] {
  const { onUncompiled, always, hot, lean, compile, ...settings } = options;
  let root = process.cwd();
  let mayBeLean = lean;
  let compiler: Promise<{ compile(file: string, code: string): CompiledModule | null }> | undefined;
  const compileHere = async (file: string, code: string) => {
    compiler ??= import('./compiler.ts').then(({ Compiler }) => new Compiler(root, settings, mayBeLean === true));
    return (await compiler).compile(file, code);
  };
  const compiling: Plugin = {
    name: 'eltrix',
    enforce: 'pre',
    ...(always ? {} : { apply: 'build' as const }),
    // Builds without `--render` use the library's version without the code to adopt sent views.
    config({ resolve }) {
      const given = resolve?.conditions;
      if (settings.rendered || always || given?.includes('development')) return undefined;
      return { resolve: { conditions: ['eltrix-unrendered', ...(given ? [] : usualConditions)] } };
    },
    configResolved(config) {
      root = config.root;
      mayBeLean ??= config.isProduction;
    },
    buildStart() {
      compiler = undefined;
    },
    resolveId: {
      filter: { id: /^eltrix(?:\/compiled)?$/ },
      // A compiled module of another package may not have the library among its dependencies.
      async handler(id, importer) {
        const found = await this.resolve(id, importer, { skipSelf: true });
        return found ?? this.resolve(id, join(root, 'package.json'), { skipSelf: true });
      },
    },
    transform: {
      // Filters that the bundler evaluates itself, without a call to this thread.
      filter: {
        id: { include: /\.[cm]?[jt]sx?(?:\?|$)/, exclude: [/[\\/]node_modules[\\/]/, /\0/, ownModules] },
        code: concerned,
      },
      async handler(code, id) {
        // A server renders elements as written.
        if (this.environment.config.consumer === 'server') return null;
        const file = id.replace(/\?.*$/, '');
        try {
          const compiled = await (compile ?? compileHere)(file, code);
          if (!compiled) return null;
          for (const path of Object.keys(compiled.read ?? {})) this.addWatchFile(path);
          for (const found of compiled.uncompiled) {
            const place = { ...found, file: relative(root, found.file).replaceAll('\\', '/') };
            if (onUncompiled) onUncompiled(place);
            else
              this.warn(`${place.file}:${place.line}:${place.column} (not-compiled): ${place.what}: ${place.reason}.`);
          }
          return { code: compiled.code, map: compiled.map };
        } catch (error) {
          if (error instanceof SourceMistake) {
            const { line, column } = error.loc;
            this.error({ message: error.message, id: file, loc: { file, line, column: column - 1 } });
          }
          throw error;
        }
      },
    },
  };
  const report = (file: string, reason: string) =>
    onUncompiled!({ file: relative(root, file).replaceAll('\\', '/'), line: 1, column: 1, what: 'stylesheet', reason });
  return [
    compiling,
    ...(hot === false || always ? [] : [hotElements(id => ownModules.test(id))]),
    ...(always ? [] : [{ ...signalNames(), apply: 'serve' as const }]),
    sheetModules(onUncompiled && report),
  ];
}
