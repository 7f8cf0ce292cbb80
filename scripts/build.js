// Builds the library into dist/: browser modules twice (development, production), the tool, and the types.
import { execFileSync } from 'node:child_process';
import { chmodSync, existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
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
const tool = [
  'vite',
  'simulated',
  'cli/main',
  'engines/index',
  'engines/run/mirror',
  'engines/run/simulated-page',
].filter(name => existsSync(join(source, `${name}.ts`)));

rmSync(dist, { recursive: true, force: true });
for (const mode of ['development', 'production']) {
  await bundle(browser, join(dist, mode), 'browser', { __DEV__: String(mode === 'development') });
}
await bundle(tool, join(dist, 'tool'), 'node', { __DEV__: 'true' });
chmodSync(join(dist, 'tool/cli/main.js'), 0o755);
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

async function bundle(names, dir, platform, define) {
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
  });
  await build.close();
}

function count(dir) {
  return readdirSync(dir, { recursive: true, withFileTypes: true }).filter(entry => entry.isFile()).length;
}
