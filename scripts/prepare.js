// Installs what a fresh machine lacks: npm packages by the lock file, browsers by Debian's packages.
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = dirname(dirname(fileURLToPath(import.meta.url)));

const run = (program, args, options = {}) => execFileSync(program, args, { cwd: root, stdio: 'inherit', ...options });

export function installPackages() {
  const installed = join(root, 'node_modules/.package-lock.json');
  if (existsSync(installed) && statSync(installed).mtimeMs >= statSync(join(root, 'package-lock.json')).mtimeMs) return;
  console.log('Installing packages by the lock file …');
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']);
}

/** Builds both packages if a source is newer than what was built. */
export function buildLibrary() {
  // A test run has built them already; its files stay while tests use them.
  if (process.env['ELTRIX_BUILT'] === '1') return;
  const built = join(root, 'packages/eltrix-tool/dist/types/testing.d.ts');
  const sources = [
    ...['eltrix', 'eltrix-tool'].flatMap(name =>
      ['src', 'package.json', 'tsconfig.json'].map(path => `packages/${name}/${path}`),
    ),
    ...[
      'scripts/build.js',
      'scripts/package-pages.js',
      'package-lock.json',
      'tsconfig.json',
      'CHANGELOG.md',
      'LICENSE',
    ],
    ...readdirSync(join(root, 'docs'))
      .filter(name => name.endsWith('.md'))
      .map(name => `docs/${name}`),
  ];
  if (existsSync(built) && Math.max(...sources.map(newest)) < statSync(built).mtimeMs) return;
  run(process.execPath, ['scripts/build.js']);
}

function newest(path) {
  const full = join(root, path);
  const own = statSync(full);
  if (!own.isDirectory()) return own.mtimeMs;
  return Math.max(...readdirSync(full, { recursive: true }).map(entry => statSync(join(full, entry)).mtimeMs));
}

const browsers = [
  { name: 'Chromium', packages: ['chromium'], commands: ['chromium', 'google-chrome', 'chromium-browser'] },
  { name: 'Firefox', packages: ['firefox-esr'], commands: ['firefox-esr', 'firefox'] },
  { name: 'ChromeDriver', packages: ['chromium-driver'], commands: ['chromedriver'] },
  { name: 'WebKitGTK', packages: ['webkit2gtk-driver', 'xvfb'], commands: ['WebKitWebDriver'] },
  // Starts faster; Debian has it since version 12.
  {
    name: 'Chromium without windows',
    packages: ['chromium-headless-shell'],
    commands: ['chromium-headless-shell'],
    isOptional: true,
  },
  // An editor, which the language server is tried with.
  { name: 'Neovim', packages: ['neovim'], commands: ['nvim'], isOptional: true },
];

const has = command => spawnSync('sh', ['-c', `command -v ${command}`]).status === 0;

/** Whether this version of Debian has a package. */
const hasCandidate = name => spawnSync('apt-cache', ['show', name]).status === 0;

const missing = () => browsers.filter(({ commands }) => !commands.some(has));

/** What of them is not installed, and tests cannot do without. */
export const missingBrowsers = () => missing().filter(({ isOptional }) => !isOptional);

/** Installs missing browsers with apt-get, as root on Debian. Elsewhere it does nothing. */
export function installBrowsers() {
  const wanted = missing();
  if (wanted.length === 0) return;
  if (process.getuid?.() !== 0 || !existsSync('/etc/debian_version') || !has('apt-get')) return;
  // This version of Debian may not have what is optional; that is known once its lists are there.
  const isThere = ({ packages }) => hasCandidate(packages[0]);
  if (wanted.every(({ isOptional }) => isOptional) && hasCandidate('chromium') && !wanted.some(isThere)) return;
  console.log(`Installing ${wanted.map(({ name }) => name).join(', ')} with apt-get …`);
  const options = {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  };
  run('apt-get', ['update', '-qq'], options);
  const known = wanted.filter(browser => !browser.isOptional || isThere(browser));
  const packages = known.flatMap(({ packages }) => packages);
  run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...packages, 'fonts-dejavu-core'], options);
}
