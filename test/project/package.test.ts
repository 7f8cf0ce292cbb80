/** Both packages as npm would publish them, installed into an empty project. */
import assert from 'node:assert/strict';
import { execFileSync, spawnSync } from 'node:child_process';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { after, before, describe, it } from 'node:test';
import { parseSync } from 'vite';
import { packages as names, repository } from '../support/project.ts';

const folder = mkdtempSync(join(tmpdir(), 'eltrix-pack-'));
after(() => rmSync(folder, { recursive: true, force: true }));

const run = (program: string, args: readonly string[], cwd = folder) =>
  execFileSync(program, args, { cwd, encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });
const installed = (...path: string[]) => join(folder, 'node_modules', ...path);
const filesOf = (path: string) =>
  readdirSync(path, { recursive: true, withFileTypes: true })
    .filter(entry => entry.isFile())
    .map(entry => join(entry.parentPath, entry.name));

describe('the packed packages', () => {
  const packed = new Map<string, { filename: string; files: { path: string }[] }>();
  before(() => {
    for (const name of names) {
      const [one] = JSON.parse(
        run('npm', ['pack', '--json', '--pack-destination', folder], join(repository, 'packages', name)),
      );
      packed.set(name, one);
    }
    writeFileSync(join(folder, 'package.json'), '{ "type": "module", "private": true }');
    const tarballs = [...packed.values()].map(({ filename }) => join(folder, filename));
    run('npm', ['install', '--prefer-offline', '--no-audit', '--no-fund', ...tarballs]);
  });

  for (const name of names) {
    it(`${name} holds only what users need`, () => {
      const paths = packed.get(name)!.files.map(({ path }) => path);
      const outside = paths.filter(path => !path.startsWith('dist/') && !path.startsWith('docs/'));
      const types = name === 'eltrix' ? ['css.d.ts'] : [];
      assert.deepEqual(outside.sort(), ['CHANGELOG.md', 'LICENSE', 'README.md', ...types, 'package.json']);
      assert.ok(paths.includes('docs/first-element.md'));
    });

    it(`every link of the pages in ${name} leads to a file in it`, () => {
      const pages = filesOf(installed(name)).filter(
        file => file.endsWith('.md') && !file.includes('/node_modules/eltrix/dist'),
      );
      const lost: string[] = [];
      for (const page of pages)
        for (const [link, target] of readFileSync(page, 'utf8').matchAll(/\]\((?!https?:|#)([^)#]+)(?:#[^)]*)?\)/g))
          if (!existsSync(resolve(dirname(page), target!))) lost.push(`${page.slice(folder.length)}: ${link}`);
      assert.ok(pages.length > 15);
      assert.deepEqual(lost, []);
    });

    it(`${name} is packed as npm's own rules want it`, () => {
      const publint = join(repository, 'node_modules/publint/src/cli.js');
      const { stdout, stderr, status } = spawnSync(process.execPath, [publint, installed(name), '--strict'], {
        encoding: 'utf8',
      });
      assert.equal(status, 0, stdout + stderr);
    });
  }

  it('the code of the library is smaller than 2 MB and has no dependency', t => {
    const size = filesOf(installed('eltrix/dist')).reduce((sum, file) => sum + statSync(file).size, 0);
    t.diagnostic(`${(size / 1e6).toFixed(2)} MB`);
    assert.ok(size < 2e6, `${size} B`);
    const { dependencies, peerDependencies } = JSON.parse(readFileSync(installed('eltrix/package.json'), 'utf8'));
    assert.deepEqual([dependencies, peerDependencies], [undefined, undefined]);
    const modules = ['development', 'production', 'page'].flatMap(mode => filesOf(installed('eltrix/dist', mode)));
    const imports = modules
      .filter(file => file.endsWith('.js'))
      .flatMap(file => {
        const { module } = parseSync(file, readFileSync(file, 'utf8'));
        return [
          ...module.staticImports.map(found => found.moduleRequest.value),
          ...module.staticExports.flatMap(found => found.entries.flatMap(entry => entry.moduleRequest?.value ?? [])),
        ];
      });
    assert.ok(imports.length > 20);
    assert.deepEqual(
      imports.filter(from => !from.startsWith('.')),
      [],
    );
  });

  it('a default installation of both is smaller than 80 MB', t => {
    const bytes = filesOf(join(folder, 'node_modules')).reduce((sum, file) => sum + statSync(file).size, 0);
    const list = run('npm', ['ls', '--all', '--parseable']).trim().split('\n');
    t.diagnostic(`${list.length - 1} packages, ${(bytes / 1e6).toFixed(1)} MB`);
    assert.ok(bytes < 80e6, `${bytes} B`);
  });

  it('can be imported without a DOM, type-checked and built with', () => {
    mkdirSync(join(folder, 'src'));
    writeFileSync(
      join(folder, 'src/bee-card.ts'),
      "import { contract, markup, text } from 'eltrix';\nexport class BeeCard extends contract('bee-card', { attributes: { name: text() } }) {\n  view() { return markup`<p>${() => this.name.trim()}</p>`; }\n}\n",
    );
    writeFileSync(
      join(folder, 'src/bee-card.test.ts'),
      "import assert from 'node:assert/strict';\nimport { it } from 'node:test';\nimport { settled, stage } from 'eltrix-tool/testing';\nimport { BeeCard } from './bee-card.ts';\nBeeCard.define();\nit('shows its name', async () => {\n  const card = await stage<BeeCard>('<bee-card name=\"Rosemary\"></bee-card>');\n  card.name = 'Bramble';\n  await settled();\n  assert.equal(card.shadowRoot!.textContent, 'Bramble');\n});\n",
    );
    writeFileSync(
      join(folder, 'vite.config.ts'),
      "import { eltrix } from 'eltrix-tool/vite';\nexport default { plugins: [eltrix()] };\n",
    );
    const options =
      '{ "compilerOptions": { "strict": true, "module": "nodenext", "target": "es2022", "noEmit": true, "allowImportingTsExtensions": true, "exactOptionalPropertyTypes": true, "lib": ["es2024", "dom", "dom.iterable"], "types": [] }, "include": ["src/bee-card.ts"] }';
    writeFileSync(join(folder, 'tsconfig.json'), options);
    const tsc = join(repository, 'node_modules/typescript/bin/tsc');
    run(process.execPath, [tsc, '-p', folder]);
    // The types of the test helpers and of the plugin, without the types of Node.
    run(process.execPath, [
      tsc,
      '--noEmit',
      '--ignoreConfig',
      '--skipLibCheck',
      '--module',
      'nodenext',
      '--target',
      'es2022',
      '--allowImportingTsExtensions',
      '--types',
      join(repository, 'node_modules/@types/node'),
      'src/bee-card.test.ts',
      'vite.config.ts',
    ]);
    assert.equal(
      run(process.execPath, [
        '-e',
        "import('eltrix').then(({ contract }) => console.log(typeof contract('a-b', {})))",
      ]).trim(),
      'function',
    );
    assert.match(run('npx', ['eltrix', 'build']), /^dist\/ .*\nbee-card\.js /);
  });

  it('names the command that installs a missing package', () => {
    const { stderr, status } = spawnSync('npx', ['eltrix', 'test', '--in', 'simulated'], {
      cwd: folder,
      encoding: 'utf8',
    });
    assert.equal(status, 2);
    assert.match(
      stderr,
      /\(package-missing\): The simulated DOM needs the package jsdom, which is not installed\. Add it: npm install --save-dev "jsdom@\^\d/,
    );
    const grid = ['eltrix', 'test', '--grid', 'http://127.0.0.1:9', '--capabilities', '{}'];
    assert.match(
      spawnSync('npx', grid, { cwd: folder, encoding: 'utf8' }).stderr,
      /A WebDriver server needs the package selenium-webdriver, which is not installed\. Add it: npm install --save-dev "selenium-webdriver@~4/,
    );
  });

  it('drives a browser as it is installed', { skip: !existsSync('/usr/bin/chromium') && 'no Chromium' }, () => {
    assert.match(run('npx', ['eltrix', 'test', '--in', 'chromium']), /✔ shows its name/);
  });
});
