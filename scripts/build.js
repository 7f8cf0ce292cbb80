// Builds the library into dist/: browser modules twice (development, production), the tool, and the types.
import { execFileSync } from 'node:child_process';
import { chmodSync, copyFileSync, existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { rolldown } from 'rolldown';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const source = join(root, 'src');
const dist = join(root, 'dist');

/** Entry points that run in a browser; the others run in Node. */
const browser = [
  'index',
  'compiled',
  'behaviours',
  'store',
  'context',
  'routes',
  'testing',
  'testing/page',
  'testing/assert',
].filter(name => existsSync(join(source, `${name}.ts`)));
const inPages = ['index', 'behaviours', 'store', 'context', 'routes'];
const tool = [
  'vite',
  'simulated',
  'cli/main',
  'engines/index',
  'check/reading/thread',
  'gallery/index',
  'engines/run/mirror',
  'engines/run/simulated-page',
].filter(name => existsSync(join(source, `${name}.ts`)));

rmSync(dist, { recursive: true, force: true });
for (const mode of ['development', 'production']) {
  await bundle(browser, join(dist, mode), 'browser', { __DEV__: String(mode === 'development') });
}
for (const mode of ['development', 'production']) await bundlePage(join(dist, 'page', mode), mode === 'development');
await bundle(tool, join(dist, 'tool'), 'node', { __DEV__: 'true' });
chmodSync(join(dist, 'tool/cli/main.js'), 0o755);
await buildGallery(join(dist, 'gallery'));
await buildCheck(join(dist, 'check'));
execFileSync(
  process.execPath,
  [join(root, 'node_modules/typescript/bin/tsc'), '-p', join(root, 'tsconfig.build.json')],
  { stdio: 'inherit' },
);
// Declarations name their neighbours as the browser modules do.
for (const entry of readdirSync(join(dist, 'types'), { recursive: true })) {
  const file = join(dist, 'types', entry);
  if (file.endsWith('.d.ts'))
    writeFileSync(file, readFileSync(file, 'utf8').replace(/(from '\.[^']*)\.ts'/g, "$1.js'"));
}
console.log(`Built ${browser.join(', ')} and the tool into dist/ (${count(dist)} files).`);

/** The library for pages without a build: few files, and small. */
async function bundlePage(dir, development) {
  const build = await rolldown({
    cwd: root,
    input: Object.fromEntries(inPages.map(name => [name, join(source, `${name}.ts`)])),
    platform: 'browser',
    transform: { define: { __DEV__: String(development) }, target: 'es2022' },
    tsconfig: join(root, 'tsconfig.json'),
  });
  await build.write({
    dir,
    format: 'esm',
    chunkFileNames: '[name].js',
    // What several of them need stands in one file, so that none is further than one request away.
    codeSplitting: { groups: [{ name: 'shared', minShareCount: 2 }] },
    sourcemap: true,
    minify: !development,
  });
  await build.close();
}

/** What runs in the pages of the check, each in one file. */
async function buildCheck(dir) {
  for (const name of ['main', 'slowly', 'picture']) {
    const build = await rolldown({
      cwd: root,
      input: { [name === 'main' ? 'page' : name]: join(source, `check/page/${name}.ts`) },
      platform: 'browser',
      transform: { define: { __DEV__: 'false' }, target: 'es2022' },
    });
    await build.write({
      dir,
      format: 'esm',
      minify: { mangle: false, compress: true, codegen: false },
      comments: false,
    });
    await build.close();
  }
  copyFileSync(fileURLToPath(import.meta.resolve('axe-core/axe.min.js')), join(dir, 'axe.js'));
}

/** The gallery's page and what runs in its frames; the page is compiled by the library itself. */
async function buildGallery(dir) {
  const library = browser.filter(name => !name.includes('/'));
  await bundle(library, join(dir, 'library'), 'node', { __DEV__: 'true' }, { sourcemap: false });
  for (const file of readdirSync(join(source, 'gallery/page')))
    copyFileSync(join(source, 'gallery/page', file), join(dir, file));
  copyFileSync(fileURLToPath(import.meta.resolve('axe-core/axe.min.js')), join(dir, 'axe.js'));
  const [{ build }, { eltrix }] = await Promise.all([import('vite'), import(join(dist, 'tool/vite.js'))]);
  for (const [name, file] of [
    ['app', 'gallery/app/app.ts'],
    ['frame', 'gallery/frame/main.ts'],
  ])
    await build({
      root,
      configFile: false,
      logLevel: 'warn',
      publicDir: false,
      define: { __DEV__: 'false' },
      resolve: { conditions: ['production', 'browser', 'module'] },
      plugins: [eltrix()],
      build: {
        outDir: dir,
        emptyOutDir: false,
        target: 'es2022',
        minify: 'oxc',
        modulePreload: false,
        rolldownOptions: { input: { [name]: join(source, file) }, output: { entryFileNames: '[name].js' } },
      },
    });
}

async function bundle(names, dir, platform, define, options = {}) {
  const build = await rolldown({
    cwd: root,
    input: Object.fromEntries(names.map(name => [name, join(source, `${name}.ts`)])),
    platform,
    external: id => !id.startsWith('.') && !id.startsWith('/') && !id.startsWith(source),
    transform: { define, target: 'es2022' },
    tsconfig: join(root, 'tsconfig.json'),
  });
  await build.write({
    dir,
    format: 'esm',
    // A page may load single modules without a build; the tool starts faster from few files.
    ...(platform === 'browser'
      ? { preserveModules: true, preserveModulesRoot: source }
      : { chunkFileNames: 'parts/[name]-[hash].js' }),
    sourcemap: platform === 'node',
    minify: { mangle: false, compress: platform === 'browser', codegen: false },
    comments: true,
    ...options,
  });
  await build.close();
}

function count(dir) {
  return readdirSync(dir, { recursive: true, withFileTypes: true }).filter(entry => entry.isFile()).length;
}
