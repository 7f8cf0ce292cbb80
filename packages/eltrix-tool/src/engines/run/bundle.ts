/** Bundles test files for pages: `node:test` and `node:assert` are replaced by implementations for pages. */

import { isBuiltin } from 'node:module';
import { isAbsolute, join } from 'node:path';
import { build, type Plugin, type Rolldown } from 'vite';
import { eltrix } from '../../compile/plugin.ts';
import { signalNames } from '../../compile/signal-names.ts';
import { bundlerConfig } from '../../project/bundler.ts';
import { toolFile } from '../../project/library.ts';
import { readableModules } from '../../project/readable-modules.ts';
import { fileOf, sheetModules } from '../../project/sheet-modules.ts';
import { sourceError } from '../../project/source-error.ts';
import type { ToolError } from '../../project/tool-error.ts';
import type { Form } from '../../testing/host.ts';
import { filesOf, importsOf, libraryApart, type PageModules } from './library-bundle.ts';

export interface TestBundle {
  /** Path to content: modules and source maps. */
  readonly files: ReadonlyMap<string, string | Uint8Array>;
  readonly imports: PageModules['imports'];
  /** The path of each test file's module. */
  readonly modules: ReadonlyMap<string, string>;
  /** The absolute paths of each test file's sources, including itself; those that were read, if it was not bundled. */
  readonly sources: ReadonlyMap<string, ReadonlySet<string>>;
}

const prefix = 'virtual:eltrix-tests/';

/** The files that can be bundled, and the errors of the others. */
export interface TestBundles extends TestBundle {
  readonly failures: ReadonlyMap<string, ToolError>;
}

/** Bundles all files together. If that fails, each file is bundled alone, so that only files with errors fail. */
export async function bundleTests(root: string, tests: readonly string[], form: Form): Promise<TestBundles> {
  const none = { files: new Map(), imports: new Map(), modules: new Map(), sources: new Map() };
  const failures = new Map<string, ToolError>();
  if (tests.length === 0) return { ...none, failures };
  // The bundler may fail before it has read anything.
  const read = new Map<string, ReadonlySet<string>>(tests.map(test => [test, new Set([join(root, test)])]));
  try {
    return { ...(await bundle(root, tests, form, read)), failures };
  } catch (error) {
    if (tests.length === 1)
      return { ...none, sources: read, failures: new Map([[tests[0]!, sourceError(error, root)]]) };
  }
  const alone = await Promise.all(tests.map(test => bundleTests(root, [test], form)));
  const sources = new Map(alone.flatMap(({ failures, sources }) => (failures.size > 0 ? [...sources] : [])));
  for (const one of alone) for (const [test, problem] of one.failures) failures.set(test, problem);
  const rest = await bundleTests(
    root,
    tests.filter(test => !failures.has(test)),
    form,
  );
  return { ...rest, sources: new Map([...rest.sources, ...sources]), failures };
}

const nodePrefix = '\0eltrix-node:';

/** Node's own modules, imported by the project's files: a use throws an error that explains it. */
function nodeModules(): Plugin {
  return {
    name: 'eltrix-node-modules',
    enforce: 'pre',
    async resolveId(id, importer) {
      if (!isBuiltin(id) || importer === undefined || /[\\/]node_modules[\\/]/.test(importer)) return undefined;
      // A package of that name, or an alias, is taken instead.
      const found = await this.resolve(id, importer, { skipSelf: true });
      return found && /^(?:\0?__vite-browser-external|node:)/.test(found.id) ? nodePrefix + id : found;
    },
    load(id) {
      if (!id.startsWith(nodePrefix)) return undefined;
      const name = JSON.stringify(id.slice(nodePrefix.length));
      return `module.exports = Object.create(new Proxy({}, { get(_, key) {
  if (typeof key === 'symbol' || key === '__esModule' || key === 'then') return undefined;
  throw new Error('(node-module): "' + key + '" is of ' + ${name} + ', which only Node has, and this test runs in a page. Import the file that it needs, for example with ?raw or as JSON, or fetch it from environment.project.');
} }));`;
    },
  };
}

/** @param sources receives the sources of each file, also of one that cannot be bundled. */
async function bundle(
  root: string,
  tests: readonly string[],
  form: Form,
  sources: Map<string, ReadonlySet<string>>,
): Promise<TestBundle> {
  const mode = form.production ? 'production' : 'development';
  const testing = toolFile(`dist/${mode}/testing`);
  const library = libraryApart();
  const entry = (file: string) =>
    `import { startPage } from ${JSON.stringify(join(testing, 'page.js'))};\nvoid startPage(() => import(${JSON.stringify(join(root, file))}));\n`;
  const { output } = (await build(
    await bundlerConfig(root, {
      mode,
      base: './',
      worker: { format: 'es' },
      define: { 'process.env.NODE_ENV': JSON.stringify(mode) },
      resolve: {
        conditions: [mode, 'browser', 'module'],
        alias: {
          'node:test': join(testing, 'runner.js'),
          'node:assert/strict': join(testing, 'assert.js'),
          'node:assert': join(testing, 'assert.js'),
        },
      },
      plugins: [
        library.plugin,
        readableModules(root),
        nodeModules(),
        ...(form.compiled
          ? eltrix({ always: true, lean: true, places: true, leaveMistakes: true, onUncompiled: () => {} })
          : [sheetModules(), signalNames()]),
        {
          name: 'eltrix-tests',
          enforce: 'pre',
          resolveId: id => (id.startsWith(prefix) ? `\0${id}` : undefined),
          load: id => (id.startsWith(`\0${prefix}`) ? entry(id.slice(prefix.length + 1)) : undefined),
          buildEnd() {
            for (const file of tests) {
              const seen = new Set([`\0${prefix}${file}`, join(root, file)]);
              // A set that grows while it is read.
              for (const id of seen) {
                const info = this.getModuleInfo(id);
                for (const other of [...(info?.importedIds ?? []), ...(info?.dynamicallyImportedIds ?? [])])
                  seen.add(other);
              }
              sources.set(file, new Set([...seen].map(id => fileOf(id) ?? '').filter(isAbsolute)));
            }
          },
        },
      ],
      build: {
        write: false,
        minify: false,
        target: 'es2022',
        modulePreload: false,
        sourcemap: true,
        rolldownOptions: {
          input: Object.fromEntries(tests.map((file, i) => [`test-${i}`, prefix + file])),
          output: {
            entryFileNames: '[name].js',
            chunkFileNames: 'part-[hash].js',
            assetFileNames: '[name]-[hash][extname]',
          },
        },
      },
    }),
  )) as Rolldown.RolldownOutput;
  const shared = await library.modules(mode);
  return {
    files: new Map([...shared.files, ...filesOf(output)]),
    imports: new Map([...shared.imports, ...importsOf(output.filter(file => file.type === 'chunk'))]),
    modules: new Map(tests.map((file, i) => [file, `test-${i}.js`])),
    sources,
  };
}
