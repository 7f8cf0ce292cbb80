/** The package as npm would publish it, installed into an empty project. */
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, describe, it } from 'node:test';
import { fileURLToPath } from 'node:url';

const repository = fileURLToPath(new URL('../..', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'eltrix-pack-'));
after(() => rmSync(folder, { recursive: true, force: true }));

const run = (program: string, args: string[], cwd = folder) =>
  execFileSync(program, args, { cwd, encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });

describe('the packed library', () => {
  it('holds only what users need', () => {
    const [packed] = JSON.parse(run('npm', ['pack', '--json', '--pack-destination', folder], repository)) as [
      { filename: string; files: { path: string }[] },
    ];
    const outside = packed.files.map(({ path }) => path).filter(path => !path.startsWith('dist/'));
    assert.deepEqual(outside.sort(), ['ARCHITECTURE.md', 'CHANGELOG.md', 'LICENSE', 'README.md', 'package.json']);
    writeFileSync(join(folder, 'package.json'), '{ "type": "module", "private": true }');
    run('npm', ['install', '--prefer-offline', '--no-audit', '--no-fund', join(folder, packed.filename)]);
  });

  it('gives the browser no dependency', () => {
    const { imports, files } = browserImports(join(folder, 'node_modules/eltrix/dist'));
    assert.ok(files > 20);
    assert.deepEqual(imports, []);
  });

  it('can be imported without a DOM, type-checked and built with', () => {
    run('mkdir', ['src']);
    writeFileSync(
      join(folder, 'src/bee-card.ts'),
      "import { contract, markup, text } from 'eltrix';\nexport class BeeCard extends contract('bee-card', { attributes: { name: text() } }) {\n  view() { return markup`<p>${() => this.name.trim()}</p>`; }\n}\n",
    );
    const options =
      '{ "compilerOptions": { "strict": true, "module": "nodenext", "target": "es2022", "noEmit": true, "exactOptionalPropertyTypes": true, "lib": ["es2024", "dom", "dom.iterable"], "types": [] }, "include": ["src"] }';
    writeFileSync(join(folder, 'tsconfig.json'), options);
    run(process.execPath, [join(repository, 'node_modules/typescript/bin/tsc'), '-p', folder]);
    assert.equal(
      run(process.execPath, [
        '-e',
        "import('eltrix').then(({ contract }) => console.log(typeof contract('a-b', {})))",
      ]).trim(),
      'function',
    );
    assert.match(run('npx', ['eltrix', 'build']), /^dist\/ .*\nbee-card\.js /);
  });
});

function browserImports(dist: string): { imports: string[]; files: number } {
  const script = `
    const { readdirSync, readFileSync } = require('node:fs');
    let files = 0; const imports = [];
    for (const mode of ['development', 'production', 'page']) for (const file of readdirSync('${dist}/' + mode, { recursive: true })) {
      if (!file.endsWith('.js')) continue;
      files++;
      for (const [, name] of readFileSync('${dist}/' + mode + '/' + file, 'utf8').matchAll(/(?:^|;)(?:import|export)[^;]*?from *["']([^"']+)["']/gm)) if (!name.startsWith('.')) imports.push(name);
    }
    console.log(JSON.stringify({ imports, files }));`;
  const file = join(folder, 'imports.cjs');
  writeFileSync(file, script);
  assert.ok(readFileSync(file));
  return JSON.parse(run(process.execPath, [file])) as { imports: string[]; files: number };
}
