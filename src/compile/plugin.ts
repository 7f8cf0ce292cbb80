/** The Vite plugin: compiles elements while Vite bundles them. */
import { relative } from 'node:path';
import type { Plugin } from 'vite';
import { Remembered } from '../project/remembered.ts';
import { type CompileOptions, compileModule, concerned, SourceMistake, type Uncompiled } from './transform.ts';

export interface EltrixPluginOptions extends CompileOptions {
  /** Told of what stays as it was written. Without it Vite's own warning tells, once a place. */
  readonly onUncompiled?: (found: Uncompiled) => void;
  /** Also while Vite serves, not only in builds. */
  readonly always?: boolean;
}

const compiledBefore = new Remembered<ReturnType<typeof compileModule>>();

/**
 * Compiles contracts, markup and style sheets in the modules of a Vite project: `plugins: [eltrix()]`. The development
 * server leaves them as they are, since they work without a build.
 */
export function eltrix(options: EltrixPluginOptions = {}): Plugin {
  let root = process.cwd();
  return {
    name: 'eltrix',
    enforce: 'pre',
    ...(options.always ? {} : { apply: 'build' as const }),
    configResolved(config) {
      root = config.root;
    },
    transform: {
      // What the bundler can tell by itself it need not ask, from another thread.
      filter: { id: { include: /\.[cm]?[jt]sx?(?:\?|$)/, exclude: [/[\\/]node_modules[\\/]/, /\0/] }, code: concerned },
      handler(code, id) {
        const file = id.replace(/\?.*$/, '');
        try {
          const { onUncompiled: _, ...settings } = options;
          const compiled = compiledBefore.get(file, JSON.stringify(settings) + code, () =>
            compileModule(file, code, options),
          );
          if (!compiled) return null;
          for (const found of compiled.uncompiled) {
            const place = { ...found, file: relative(root, found.file).replaceAll('\\', '/') };
            if (options.onUncompiled) options.onUncompiled(place);
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
}
