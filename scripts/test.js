// npm test: installs what is missing, builds, checks types and style, and runs every test with Node's own runner.
import { spawnSync } from 'node:child_process';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { buildLibrary, installBrowsers, installPackages, root } from './prepare.js';

installPackages();
installBrowsers();
buildLibrary();

const node = (...args) => spawnSync(process.execPath, args, { cwd: root, stdio: 'inherit' }).status === 0;
const bin = (name, ...args) =>
  spawnSync(join(root, 'node_modules/.bin', name), args, { cwd: root, stdio: 'inherit' }).status === 0;

const named = process.argv.slice(2);
const files = readdirSync(join(root, 'test'), { recursive: true })
  .filter(file => file.endsWith('.test.ts') && !/^(?:pages|testing.suite)/.test(file))
  .map(file => join('test', file))
  .sort();

const checks =
  named.length > 0
    ? []
    : [
        bin('biome', 'check', '--error-on-warnings', '.'),
        bin('tsc', '--noEmit'),
        bin('tsc', '--noEmit', '-p', 'examples/apiary'),
      ];
const passed = node(
  '--conditions=development',
  '--import',
  './scripts/typescript.js',
  '--test',
  '--test-reporter=spec',
  ...(named.length > 0 ? named : files),
);
if (checks.includes(false))
  console.error('The formatter, the linter or the type checker has findings; they stand above.');
process.exit(passed && !checks.includes(false) ? 0 : 1);
