// npm test: installs what is missing, builds, checks types and style, and runs every test with Node's own runner.
// npm test -- test/store/random.test.ts: runs the files named, without the checks.
import { spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildLibrary, installBrowsers, installPackages, missingBrowsers, root } from './prepare.js';
import { budgets, usual } from './test-budgets.js';

installPackages();
installBrowsers();
const missing = missingBrowsers();
if (missing.length > 0 && process.env['ELTRIX_WITHOUT_ENGINES'] !== '1') {
  console.error(
    `The tests need browsers that are not installed: ${missing.map(({ name }) => name).join(', ')}. ` +
      `On Debian: apt-get install ${missing.flatMap(({ packages }) => packages).join(' ')}. ` +
      'To skip the tests that need them: ELTRIX_WITHOUT_ENGINES=1 npm test.',
  );
  process.exit(1);
}
buildLibrary();

const named = process.argv.slice(2);
const files = named.length > 0 ? named : slowestFirst(testFiles());

const times = mkdtempSync(join(tmpdir(), 'eltrix-times-'));
process.once('exit', () => rmSync(times, { recursive: true, force: true }));

const checks =
  named.length > 0
    ? []
    : [
        run('node_modules/.bin/biome', ['check', '--error-on-warnings', '.']),
        run('node_modules/.bin/tsc', ['--noEmit']),
        run('node_modules/.bin/tsc', ['--noEmit', '-p', 'examples/apiary']),
      ];
const passed = await run(
  process.execPath,
  [
    '--conditions=development',
    ...['--import', './scripts/typescript.js', '--import', './scripts/test-times.js'],
    'scripts/run-tests.js',
    ...files,
  ],
  { stdio: 'inherit', env: { ...process.env, ELTRIX_BUILT: '1', ELTRIX_TEST_TIMES: join(times, 'times') } },
);
const findings = (await Promise.all(checks)).filter(({ code }) => code !== 0);
for (const { output } of findings) console.error(output);
if (findings.length > 0) console.error('The formatter, the linter or the type checker has findings; they stand above.');

const inTime = withinBudgets();
process.exitCode = passed.code === 0 && findings.length === 0 && inTime ? 0 : 1;

function testFiles() {
  return readdirSync(join(root, 'test'), { recursive: true })
    .map(file => file.replaceAll('\\', '/'))
    .filter(file => file.endsWith('.test.ts') && !/^(?:pages|testing\/suite)\//.test(file))
    .map(file => `test/${file}`)
    .sort();
}

/** The longest begin first: two processors end at about the same time. */
function slowestFirst(files) {
  const budget = file => budgets[file] ?? usual;
  return files.toSorted((a, b) => budget(b) - budget(a));
}

function run(program, args, options = {}) {
  return new Promise(resolve => {
    const child = spawn(program, args, { cwd: root, ...options });
    let output = '';
    child.stdout?.on('data', data => (output += data));
    child.stderr?.on('data', data => (output += data));
    child.once('error', error => resolve({ code: 1, output: String(error) }));
    child.once('close', code => resolve({ code, output }));
  });
}

/** Prints the time of each file, slowest first, without what the host of a virtual machine gave to others meanwhile. */
function withinBudgets() {
  const taken = readFileSync(join(times, 'times'), 'utf8')
    .trim()
    .split('\n')
    .map(line => JSON.parse(line))
    .sort((a, b) => b.seconds - a.seconds);
  console.log('\nTime of each test file (budget)');
  for (const { file, seconds, stolen } of taken)
    console.log(
      `${seconds.toFixed(1).padStart(7)} s  (${String(budgets[file] ?? usual).padStart(3)} s)  ${file}` +
        (stolen >= 1 ? `, and ${stolen.toFixed(1)} s taken by other machines of the host` : ''),
    );
  const late = taken.filter(({ file, seconds }) => seconds > (budgets[file] ?? usual));
  for (const { file, seconds } of late)
    console.error(
      `${file} took ${seconds.toFixed(1)} s, and its budget in scripts/test-budgets.js is ${budgets[file] ?? usual} s.`,
    );
  return late.length === 0;
}
