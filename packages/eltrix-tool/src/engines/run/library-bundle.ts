/**
 * The library and the test helpers as modules for test pages, bundled once: they do not change between runs, and have
 * more modules than most projects.
 */
import { createHash } from 'node:crypto';
import { build, type Plugin, type Rolldown } from 'vite';
import { ownModules } from '../../project/library.ts';

type Files = ReadonlyMap<string, string>;

/** Bundles, by what is bundled. */
const bundles = new Map<string, Promise<Files>>();

/** The modules that a bundle leaves out, and the plugin that leaves them out. */
export function libraryApart(): { readonly plugin: Plugin; files(mode: string): Promise<Files> } {
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
    files(mode) {
      const modules = [...used].sort();
      const key = JSON.stringify([mode, modules]);
      let files = bundles.get(key);
      if (!files) bundles.set(key, (files = bundleLibrary(mode, modules)));
      return files;
    },
  };
}

const nameOf = (path: string) => `library-${createHash('sha1').update(path).digest('hex').slice(0, 12)}`;

async function bundleLibrary(mode: string, modules: readonly string[]): Promise<Files> {
  if (modules.length === 0) return new Map();
  const { output } = (await build({
    configFile: false,
    logLevel: 'silent',
    publicDir: false,
    mode,
    base: './',
    resolve: { conditions: [mode, 'browser', 'module'] },
    build: {
      write: false,
      minify: false,
      target: 'es2022',
      modulePreload: false,
      rolldownOptions: {
        input: Object.fromEntries(modules.map(path => [nameOf(path), path])),
        preserveEntrySignatures: 'strict',
        output: { entryFileNames: '[name].js', chunkFileNames: 'library-part-[hash].js' },
      },
    },
  })) as Rolldown.RolldownOutput;
  return new Map(output.flatMap(file => (file.type === 'chunk' ? [[file.fileName, file.code] as const] : [])));
}
