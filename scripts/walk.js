// npm run walk: follows the README's installation and docs/first-element.md in an empty folder, with both packages as npm
// would publish them, and prints how long each step took. Commands and files are those of the pages; only the names of
// the packages become the packed files.
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildLibrary, root } from './prepare.js';

buildLibrary();
process.env['ELTRIX_BUILT'] = '1';

const page = readFileSync(join(root, 'docs/first-element.md'), 'utf8');
const block = (language, after) =>
  new RegExp(`\`\`\`${language}\\n([^]*?)\`\`\``).exec(page.slice(page.indexOf(after)))[1];
const folder = mkdtempSync(join(tmpdir(), 'eltrix-walk-'));
process.once('exit', () => rmSync(folder, { recursive: true, force: true }));

const [library, tool] = ['eltrix', 'eltrix-tool'].map(name => {
  const pack = ['pack', '--json', '--pack-destination', folder];
  const [{ filename }] = JSON.parse(execFileSync('npm', pack, { cwd: join(root, 'packages', name), encoding: 'utf8' }));
  return join(folder, filename);
});

let total = 0;
function step(command, cwd, { ends = 0 } = {}) {
  const start = performance.now();
  const { status, stdout, stderr } = spawnSync('sh', ['-c', command], { cwd, encoding: 'utf8' });
  const seconds = (performance.now() - start) / 1000;
  total += seconds;
  console.log(`${seconds.toFixed(1).padStart(6)} s  ${command.replaceAll(`${folder}/`, '')}`);
  if (status === ends) return;
  console.error(`${stdout}\n${stderr}\nIt ended with ${status}.`);
  process.exit(1);
}

// The README: both packages in an empty project, so that npx finds the command.
const before = join(folder, 'start');
mkdirSync(before);
writeFileSync(join(before, 'package.json'), '{ "private": true }');
step(`npm install --no-audit --no-fund ${library}`, before);
step(`npm install --no-audit --no-fund --save-dev ${tool}`, before);

// The first guide.
const [create] = block('sh', '# A first element').split('\n');
step(create, before);
const project = join(before, 'thistle-widgets');
const manifest = JSON.parse(readFileSync(join(project, 'package.json'), 'utf8'));
for (const group of ['dependencies', 'devDependencies'])
  for (const name of Object.keys(manifest[group] ?? {}))
    if (name === 'eltrix' || name === 'eltrix-tool')
      manifest[group][name] = `file:${name === 'eltrix' ? library : tool}`;
writeFileSync(join(project, 'package.json'), JSON.stringify(manifest, null, 2));
step('npm install --no-audit --no-fund', project);
writeFileSync(join(project, 'usage.html'), block('html', '## Begin from the HTML'));
step(block('sh', 'usage.html`:').trim(), project);
writeFileSync(join(project, 'src/hive-card.ts'), block('ts', '## Make it yours'));
for (const line of block('sh', '## Test it').trim().split('\n')) step(line.replace(/\s*#.*/, ''), project);
console.log(`${total.toFixed(1).padStart(6)} s  in all`);
