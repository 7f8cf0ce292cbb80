/** The Vite plugin: compiles elements while Vite bundles them. */
import { join, relative } from 'node:path';
import type { Plugin } from 'vite';
import { libraryFolder, toolFile } from '../project/library.ts';
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
  /** Called for code that stays as it was written. Without it the plugin warns through Vite, once a place. */
  readonly onUncompiled?: (found: Uncompiled) => void;
  /**
   * False reloads the page when an element changes while Vite serves. Otherwise living elements get the new class and keep
   * properties, state, focus and scroll.
   */
  readonly hot?: boolean;
  /** Also while Vite serves, not only in builds. */
  readonly always?: boolean;
  /**
   * Whether elements that show nothing but their own attributes do without the graph of readings, and so without its
   * development messages. As Vite's `isProduction` unless given.
   */
  readonly lean?: boolean;
  /** @internal What compiles, where that is done elsewhere. */
  readonly compile?: (file: string, code: string) => Promise<CompiledModule | null>;
}

/** What Vite uses where a configuration names none. */
const usualConditions = ['module', 'browser', 'development|production'];

const escaped = (path: string) => path.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** The modules of the library and of the test helpers, also where they are linked and not below node_modules. */
const library = new RegExp(`^(?:${escaped(join(libraryFolder(), 'dist'))}|${escaped(toolFile('dist'))})/`);

/**
 * Compiles contracts, markup and style sheets in the modules of a Vite project: `plugins: [eltrix()]`. The development
 * server leaves them as they are, since they work without a build. Sheets that are files are sheets in both.
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
    // Builds whose elements no server renders get the library without what takes sent views over.
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
      filter: { id: /^eltrix\/compiled$/ },
      // A neighbour's module that is compiled need not have the library installed.
      async handler(id, importer) {
        const found = await this.resolve(id, importer, { skipSelf: true });
        return found ?? this.resolve(id, join(root, 'package.json'), { skipSelf: true });
      },
    },
    transform: {
      // What the bundler can decide without a call need not cross threads.
      filter: {
        id: { include: /\.[cm]?[jt]sx?(?:\?|$)/, exclude: [/[\\/]node_modules[\\/]/, /\0/, library] },
        code: concerned,
      },
      async handler(code, id) {
        // A server renders elements as they were written.
        if (this.environment.config.consumer === 'server') return null;
        const file = id.replace(/\?.*$/, '');
        try {
          const compiled = await (compile ?? compileHere)(file, code);
          if (!compiled) return null;
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
    ...(hot === false || always ? [] : [hotElements(id => library.test(id))]),
    ...(always ? [] : [{ ...signalNames(), apply: 'serve' as const }]),
    sheetModules(onUncompiled && report),
  ];
}
