// Builds both packages into their dist folders: browser modules twice (development, production), the tool, and the types.
import { execFileSync } from 'node:child_process';
import { chmodSync, copyFileSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { rolldown } from 'rolldown';
import { writePages } from './package-pages.js';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const library = { source: join(root, 'packages/eltrix/src'), dist: join(root, 'packages/eltrix/dist') };
const tool = { source: join(root, 'packages/eltrix-tool/src'), dist: join(root, 'packages/eltrix-tool/dist') };
const modes = ['development', 'production'];

/** Entry points of the library for pages without a build, and those that only bundlers read. */
const inPages = ['index', 'behaviours', 'store', 'context', 'routes', 'views', 'language'];
const libraryEntries = [...inPages, 'compiled', 'server'];
const testingEntries = ['testing', 'testing/page', 'testing/assert', 'testing/runner'];
const toolEntries = [
  'vite',
  'config',
  'simulated',
  'cli/main',
  'engines/index',
  'check/reading/thread',
  'gallery/index',
  'engines/run/simulated-page',
  'project/held-guard',
];
/** Packages that are bundled into the tool's files, so that their dependencies are not installed. */
const bundledPackages = [
  'puppeteer-core',
  'send',
  'mime-types',
  'css-tree',
  'pixelmatch',
  'pngjs',
  'vscode-languageserver',
  'vscode-languageserver-textdocument',
  'vscode-html-languageservice',
];

for (const { dist } of [library, tool]) rmSync(dist, { recursive: true, force: true });
const entries = (names, source) => Object.fromEntries(names.map(name => [name, join(source, `${name}.ts`)]));
for (const mode of modes) {
  const define = { __DEV__: String(mode === 'development'), __RENDERED__: 'true' };
  await bundle(entries(libraryEntries, library.source), join(library.dist, mode), 'browser', define);
  await bundlePage(join(library.dist, 'page', mode), mode === 'development');
  await bundle(entries(testingEntries, tool.source), join(tool.dist, mode), 'browser', define, {
    preserveModulesRoot: tool.source,
  });
}
// Production files once more for builds whose elements no server renders: without the code that takes a sent view over.
await bundle(entries([...inPages, 'compiled'], library.source), join(library.dist, 'unrendered'), 'browser', {
  __DEV__: 'false',
  __RENDERED__: 'false',
});
await bundleTool();
copyFileSync(fileURLToPath(import.meta.resolve('axe-core/axe.min.js')), join(tool.dist, 'axe.cjs'));
const { configurationSchema } = await import(pathToFileURL(join(tool.dist, 'tool/config.js')));
writeFileSync(join(tool.dist, 'configuration.schema.json'), `${JSON.stringify(configurationSchema(), null, 2)}\n`);
await buildCheck(join(tool.dist, 'check'));
await buildGallery(join(tool.dist, 'gallery'));
await buildRunner(join(tool.dist, 'runner'));
writeTypes();
for (const { dist } of [library, tool]) writePages(root, dirname(dist));
console.log(`Built packages/eltrix (${size(library.dist)}) and packages/eltrix-tool (${size(tool.dist)}).`);

async function bundleTool() {
  const dir = join(tool.dist, 'tool');
  const input = Object.fromEntries(toolEntries.map(name => [name, join(tool.source, `${name}.ts`)]));
  const output = await bundle(input, dir, 'node', { __DEV__: 'true', __RENDERED__: 'true' });
  chmodSync(join(dir, 'cli/main.js'), 0o755);
  writeLicences(join(tool.dist, 'THIRD-PARTY-LICENSES.txt'), output);
  // The source maps of other people's code are larger than the code.
  for (const { fileName, moduleIds = [] } of output)
    if (moduleIds.some(id => id.includes('node_modules'))) {
      rmSync(join(dir, `${fileName}.map`));
      const file = join(dir, fileName);
      writeFileSync(file, readFileSync(file, 'utf8').replace(/\n\/\/# sourceMappingURL=.*$/m, ''));
    }
}

/** The licences of the packages bundled into the tool's files. */
function writeLicences(file, output) {
  const folders = new Set(['axe-core']);
  for (const { moduleIds = [] } of output)
    for (const id of moduleIds) {
      const name = /.*[\\/]node_modules[\\/]((?:@[^\\/]+[\\/])?[^\\/]+)/.exec(id)?.[1];
      if (name) folders.add(name);
    }
  const text = [...folders].sort().map(name => {
    const folder = join(root, 'node_modules', name);
    const { version, license } = JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8'));
    const licence = readdirSync(folder).find(entry => /^licen[cs]e/i.test(entry));
    return `${name} ${version} (${license})\n\n${licence ? readFileSync(join(folder, licence), 'utf8').trim() : 'No licence file is in the package.'}\n`;
  });
  writeFileSync(
    file,
    `The files of eltrix-tool contain code of these packages.\n\n${text.join(`\n${'-'.repeat(80)}\n\n`)}`,
  );
}

/** The library for pages without a build: few files, and small. */
async function bundlePage(dir, development) {
  const build = await rolldown({
    cwd: root,
    input: Object.fromEntries(inPages.map(name => [name, join(library.source, `${name}.ts`)])),
    platform: 'browser',
    transform: { define: { __DEV__: String(development), __RENDERED__: 'true' }, target: 'es2022' },
    tsconfig: false,
  });
  await build.write({
    dir,
    format: 'esm',
    chunkFileNames: '[name].js',
    // Shared modules are bundled into one file, so that each is at most one request away.
    codeSplitting: { groups: [{ name: 'shared', minShareCount: 2 }] },
    minify: !development,
  });
  await build.close();
}

/** What runs in the pages of the check, each in one file. */
async function buildCheck(dir) {
  for (const name of ['main', 'slowly', 'picture']) {
    const build = await rolldown({
      cwd: root,
      input: { [name === 'main' ? 'page' : name]: join(tool.source, `check/page/${name}.ts`) },
      platform: 'browser',
      transform: { define: { __DEV__: 'false', __RENDERED__: 'false' }, target: 'es2022' },
      tsconfig: false,
    });
    await build.write({
      dir,
      format: 'esm',
      minify: { mangle: false, compress: true, codegen: false },
      comments: false,
    });
    await build.close();
  }
}

/** The gallery's page and what runs in its frames; the page is compiled by the library itself. */
async function buildGallery(dir) {
  const input = {
    ...Object.fromEntries(libraryEntries.map(name => [name, join(library.source, `${name}.ts`)])),
    testing: join(tool.source, 'testing.ts'),
  };
  // The library and the test helpers once more, in few files and from one set of modules.
  const ownLibrary = {
    name: 'own-library',
    resolveId: id => (id === 'eltrix' ? join(library.source, 'index.ts') : undefined),
  };
  await bundle(input, join(dir, 'library'), 'node', { __DEV__: 'true', __RENDERED__: 'true' }, { sourcemap: false }, [
    ownLibrary,
  ]);
  await buildPages('gallery/page', dir, { app: 'gallery/app/app.ts', frame: 'gallery/frame/main.ts' });
}

/** The page of `eltrix test --open`. */
async function buildRunner(dir) {
  await buildPages('runner/page', dir, { app: 'runner/app/app.ts' });
  copyFileSync(join(tool.source, 'gallery/page/app.css'), join(dir, 'app.css'));
}

/** Copies pages and builds their scripts, each into one file, compiled by the library itself. */
async function buildPages(pages, dir, scripts) {
  mkdirSync(dir, { recursive: true });
  for (const file of readdirSync(join(tool.source, pages)))
    copyFileSync(join(tool.source, pages, file), join(dir, file));
  const [{ build }, { eltrix }] = await Promise.all([import('vite'), import(join(tool.dist, 'tool/vite.js'))]);
  for (const [name, file] of Object.entries(scripts))
    await build({
      root: join(root, 'packages/eltrix-tool'),
      configFile: false,
      logLevel: 'warn',
      publicDir: false,
      define: { __DEV__: 'false', __RENDERED__: 'false' },
      resolve: { conditions: ['production', 'browser', 'module'] },
      plugins: [eltrix()],
      build: {
        outDir: dir,
        emptyOutDir: false,
        target: 'es2022',
        minify: 'oxc',
        modulePreload: false,
        rolldownOptions: {
          input: { [name]: join(tool.source, file) },
          output: { entryFileNames: '[name].js' },
          checks: { pluginTimings: false },
        },
      },
    });
}

async function bundle(input, dir, platform, define, options = {}, plugins = []) {
  const build = await rolldown({
    cwd: root,
    input,
    platform,
    plugins,
    // The other form of some packages loads its parts by a way that no bundler follows.
    ...(platform === 'node' ? { resolve: { mainFields: ['module', 'main'] } } : {}),
    // Other packages stay imports, except the bundled ones and their imports.
    external: (id, importer) =>
      /^(?:@[\w-]+\/)?[\w-]/.test(id) &&
      !bundledPackages.some(name => id === name || id.startsWith(`${name}/`)) &&
      !(id === 'eltrix' && plugins.length > 0) &&
      !/[\\/]node_modules[\\/]/.test(importer ?? ''),
    transform: { define, target: 'es2022' },
    tsconfig: false,
    experimental: { attachDebugInfo: 'none' },
  });
  const { output } = await build.write({
    dir,
    format: 'esm',
    // A page may load single modules without a build; the tool starts faster from few files.
    ...(platform === 'browser'
      ? { preserveModules: true, preserveModulesRoot: library.source }
      : { chunkFileNames: 'parts/[name]-[hash].js' }),
    sourcemap: platform === 'node',
    minify: { mangle: false, compress: platform === 'browser', codegen: false },
    // What is shipped is read by programs; annotations say what may be dropped.
    comments: define.__DEV__ === 'true' || { annotation: true, jsdoc: false, legal: false },
    ...options,
  });
  await build.close();
  return output;
}

function writeTypes() {
  const tsc = join(root, 'node_modules/typescript/bin/tsc');
  for (const name of ['eltrix', 'eltrix-tool'])
    execFileSync(process.execPath, [tsc, '-p', join(root, 'packages', name)], { stdio: 'inherit' });
  // The tool's public types are those that its entry points reach.
  const emitted = join(tool.dist, 'emitted-types');
  const seen = new Set();
  const copy = file => {
    if (seen.has(file)) return;
    seen.add(file);
    const place = relative(join(emitted, 'eltrix-tool/src'), file);
    if (place.startsWith('..')) throw new Error(`${file}: public types of eltrix-tool import it by a relative path.`);
    const to = join(tool.dist, 'types', place);
    mkdirSync(dirname(to), { recursive: true });
    copyFileSync(file, to);
    for (const [, from] of readFileSync(file, 'utf8').matchAll(/(?:from|import)\s*\(?\s*'(\.[^']*)\.[tj]s'/g))
      copy(join(dirname(file), `${from}.d.ts`));
  };
  for (const name of ['testing', 'simulated', 'vite', 'config']) copy(join(emitted, 'eltrix-tool/src', `${name}.d.ts`));
  rmSync(emitted, { recursive: true });
  // Declarations name their neighbours as the browser modules do.
  for (const dist of [library.dist, tool.dist])
    for (const file of files(join(dist, 'types')))
      writeFileSync(file, readFileSync(file, 'utf8').replace(/(from '\.[^']*)\.ts'/g, "$1.js'"));
}

function files(dir) {
  return readdirSync(dir, { recursive: true, withFileTypes: true })
    .filter(entry => entry.isFile())
    .map(entry => join(entry.parentPath, entry.name));
}

function size(dir) {
  const all = files(dir);
  const bytes = all.reduce((sum, file) => sum + readFileSync(file).length, 0);
  return `${all.length} files, ${(bytes / 1e6).toFixed(1)} MB`;
}
