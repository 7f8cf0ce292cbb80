/**
 * The library and the test helpers as modules for test pages, bundled once: they do not change between runs, and have
 * more modules than most projects.
 */
import { createHash } from 'node:crypto';
import { build, type Plugin, type Rolldown } from 'vite';
import { ownModules } from '../../project/library.ts';

export interface PageModules {
  readonly files: ReadonlyMap<string, string | Uint8Array>;
  /** The modules that each module imports, also on demand. */
  readonly imports: ReadonlyMap<string, readonly string[]>;
}

/** Bundles, by what is bundled. */
const bundles = new Map<string, Promise<PageModules>>();

/** The modules that a bundle leaves out, and the plugin that leaves them out. */
export function libraryApart(): { readonly plugin: Plugin; modules(mode: string): Promise<PageModules> } {
  const used = new Set<string>();
  const plugin: Plugin = {
    name: 'eltrix-library-apart',
    enforce: 'pre',
    buildStart: () => used.clear(),
    resolveId: {
      order: 'pre',
      async handler(id, importer, options) {
        if (importer === undefined || id.startsWith('\0')) return undefined;
        const found = await this.resolve(id, importer, { ...options, skipSelf: true });
        if (!found || found.external || !ownModules.test(found.id)) return found;
        used.add(found.id);
        return { id: `./${nameOf(found.id)}.js`, external: true };
      },
    },
  };
  return {
    plugin,
    modules(mode) {
      const paths = [...used].sort();
      const key = JSON.stringify([mode, paths]);
      let bundle = bundles.get(key);
      if (!bundle) bundles.set(key, (bundle = bundleLibrary(mode, paths)));
      return bundle;
    },
  };
}

/** Whether a file of a test page is of the library or the test helpers. */
export const isLibraryFile = (name: string): boolean => name.startsWith('library-');

const nameOf = (path: string) => `library-${createHash('sha1').update(path).digest('hex').slice(0, 12)}`;

async function bundleLibrary(mode: string, paths: readonly string[]): Promise<PageModules> {
  if (paths.length === 0) return { files: new Map(), imports: new Map() };
  const { output } = (await build({
    configFile: false,
    logLevel: 'silent',
    publicDir: false,
    mode,
    base: './',
    resolve: { conditions: [mode, 'browser', 'module'] },
    build: {
      write: false,
      target: 'es2022',
      modulePreload: false,
      sourcemap: true,
      rolldownOptions: {
        input: Object.fromEntries(paths.map(path => [nameOf(path), path])),
        preserveEntrySignatures: 'strict',
        output: {
          entryFileNames: '[name].js',
          chunkFileNames: 'library-part-[hash].js',
          // Each page reads it again. Debuggers show it by the map.
          minify: { compress: false, mangle: false, codegen: true },
        },
      },
    },
  })) as Rolldown.RolldownOutput;
  const chunks = output.filter(file => file.type === 'chunk');
  return {
    files: filesOf(output),
    imports: importsOf(chunks),
  };
}

/** The files of a bundle, with their source maps. */
export function filesOf(output: Rolldown.RolldownOutput['output']): Map<string, string | Uint8Array> {
  const files = new Map<string, string | Uint8Array>();
  for (const file of output) {
    files.set(file.fileName, file.type === 'chunk' ? file.code : file.source);
    if (file.type === 'chunk' && file.map) files.set(`${file.fileName}.map`, file.map.toString());
  }
  return files;
}

/** What chunks import, by their file names; modules that are left out are among it. */
export function importsOf(chunks: readonly Rolldown.OutputChunk[]): Map<string, readonly string[]> {
  return new Map(
    chunks.map(({ fileName, imports, dynamicImports }) => [
      fileName,
      [...imports, ...dynamicImports].map(name => name.replace(/^\.\//, '')),
    ]),
  );
}

/** A module, and what it imports. */
export function reachable(imports: PageModules['imports'], module: string): ReadonlySet<string> {
  const found = new Set([module]);
  // A set that grows while it is read.
  for (const one of found) for (const other of imports.get(one) ?? []) found.add(other);
  return found;
}
