/** `eltrix build` as its users call it, on projects made for the occasion. */
import assert from 'node:assert/strict';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { join } from 'node:path';
import { describe, it } from 'node:test';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project } from '../support/project.ts';

const card = (tag: string, name: string) => `
  import { contract, markup, text } from 'eltrix';
  export class ${name} extends contract('${tag}', { attributes: { name: text() } }) {
    view() { return markup\`<p>\${() => this.name}</p>\`; }
  }`;

describe('eltrix build', () => {
  it('writes a module for each element and all.js, and prints their sizes', () => {
    const root = project({
      'src/hive-card.ts': card('hive-card', 'HiveCard'),
      'src/deep/bee-card.ts': card('bee-card', 'BeeCard'),
      'src/index.ts': "export * from './hive-card.ts'; // contract",
      'src/plain.ts': 'export const contract = 1;',
    });
    const { status, stdout, stderr } = eltrix(root, 'build');
    assert.equal(stderr, '');
    assert.equal(status, 0);
    assert.deepEqual(
      readdirSync(join(root, 'dist')).filter(name => !name.startsWith('shared')),
      [
        'REFERENCE.md',
        'all.d.ts',
        'all.js',
        'bee-card.d.ts',
        'bee-card.js',
        'bee-card.js.map',
        'custom-elements.json',
        'eltrix-output.json',
        'hive-card.d.ts',
        'hive-card.js',
        'hive-card.js.map',
        'html-data.json',
        'integrity.json',
        'on-demand.d.ts',
        'on-demand.js',
        'on-demand.js.map',
        'package.json',
        'preact.d.ts',
        'react.d.ts',
        'sizes.json',
        'undefined.css',
      ],
    );
    assert.match(
      stdout,
      /^dist\/ +raw +brotli +change\nbee-card\.js +\d.*B +\d.*B\nhive-card\.js .*\nshared-.* \(shared\) .*\nall\.js .*\non-demand\.js .*\n\n2 elements, no imports beyond dist\/\..*\n[\d.]+ s, at most \d+ MB of memory\.\n$/,
    );
    for (const file of readdirSync(join(root, 'dist')).filter(name => name.endsWith('.js'))) {
      assert.doesNotMatch(readFileSync(join(root, 'dist', file), 'utf8'), /(?:from|import)\s*["'](?!\.\/)/);
    }
  });

  it('gives the same bytes for the same source', () => {
    const root = project({ 'src/hive-card.ts': card('hive-card', 'HiveCard') });
    const read = () =>
      readdirSync(join(root, 'dist')).map(file => [file, readFileSync(join(root, 'dist', file), 'utf8')]);
    eltrix(root, 'build', '--no-look');
    const first = read();
    eltrix(root, 'build');
    assert.deepEqual(read(), first);
  });

  it('reports a syntax error with its position, and keeps the old output', () => {
    const root = project({ 'src/hive-card.ts': card('hive-card', 'HiveCard') });
    assert.equal(eltrix(root, 'build').status, 0);
    const before = readFileSync(join(root, 'dist/hive-card.js'), 'utf8');
    writeFileSync(join(root, 'src/hive-card.ts'), `${card('hive-card', 'HiveCard')}\nexport const oops = ;\n`);
    const { status, stdout, stderr } = eltrix(root, 'build');
    assert.equal(status, 1);
    assert.equal(stdout, '');
    assert.match(
      stderr,
      /^src\/hive-card\.ts:6:21 error \(source-error\): .+\n\n[^]*> 6 \| export const oops = ;\n +\| {21}\^/,
    );
    assert.equal(readFileSync(join(root, 'dist/hive-card.js'), 'utf8'), before);
    assert.deepEqual(
      readdirSync(root).filter(name => name.startsWith('.dist')),
      [],
    );
  });

  it('reports the position of an error while loading', () => {
    const root = project({
      'src/hive-card.ts': "import { contract } from 'eltrix';\nexport class HiveCard extends contract('Hive', {}) {}\n",
    });
    const { status, stderr } = eltrix(root, 'build');
    assert.equal(status, 1);
    assert.match(
      stderr,
      /^src\/hive-card\.ts:2:31 error \(tag-name\): "Hive" is not a custom element name: it has capital letters\. Write "hive"\.\n/,
    );
  });

  it('rejects unresolved imports, duplicate tags, foreign output folders, and projects without elements', () => {
    const bare = project({ 'src/a.ts': `${card('a-card', 'ACard')}\nimport 'nowhere-to-be-found';` });
    assert.match(eltrix(bare, 'build').stderr, /nowhere-to-be-found/);
    const misspelt = (line: string) =>
      eltrix(
        project({
          'src/a.ts': `${line}\n${card('a-card', 'ACard')}`,
          'src/help.ts': 'export const rounded = 1, b = 2;',
        }),
        'build',
      ).stderr;
    assert.match(
      misspelt("import { rouned } from './help.ts';\nrouned;"),
      /src\/a\.ts:1:10 .* Did you mean "rounded"\?/,
    );
    assert.match(misspelt("import { sum } from './help.ts';\nsum;"), /It exports b, rounded\./);
    assert.match(misspelt("import './halp.ts';"), /there is no such file\. Did you mean "\.\/help\.ts"\?/);
    const twice = project({ 'src/a.ts': card('a-card', 'One'), 'src/b.ts': card('a-card', 'Two') });
    assert.equal(
      eltrix(twice, 'build').stderr,
      'src/b.ts error (tag-taken): <a-card> is made twice: One in src/a.ts and Two in src/b.ts. Give one of them another tag.\n',
    );
    const foreign = project({ 'src/a.ts': card('a-card', 'ACard'), 'dist/letter.txt': 'Dear keeper' });
    const refused = eltrix(foreign, 'build');
    assert.equal(refused.status, 2);
    assert.match(
      refused.stderr,
      /^eltrix error \(out-in-use\): The output folder "dist" contains files that eltrix build did not write/,
    );
    assert.equal(readFileSync(join(foreign, 'dist/letter.txt'), 'utf8'), 'Dear keeper');
    const empty = project({ 'src/a.ts': 'export {};' });
    assert.match(
      eltrix(empty, 'build').stderr,
      /^eltrix error \(no-elements\): There is no exported element class under "src"\./,
    );
  });

  it('explains wrong usage with exit code 2', () => {
    const root = project({});
    const { status, stderr } = eltrix(root, 'biuld');
    assert.equal(status, 2);
    assert.match(stderr, /unknown command 'biuld'[^]*Did you mean build\?/);
    assert.equal(eltrix(root, 'build', '--nope').status, 2);
    writeFileSync(join(root, 'package.json'), '{ "type": "module", "eltrix": { "output": "x" } }');
    assert.equal(
      eltrix(root, 'build').stderr,
      'eltrix error (config-key): package.json, "eltrix": "output" is not an option. Did you mean "out"? Options are source, out, target, budget, classic, render, sourcemap, testPolicy, conformance.\n',
    );
  });

  it('writes a classic script that runs under a strict policy', {
    skip: !engines.chromium.find() && 'no Chromium',
  }, async () => {
    const root = project({ 'src/hive-card.ts': card('hive-card', 'HiveCard') });
    eltrix(root, 'build');
    const page =
      '<!doctype html><title>t</title><script type="module" src="/hive-card.js"></script><hive-card name="Rosemary"></hive-card>';
    const server = createServer((request, response) => {
      response.setHeader('content-security-policy', "default-src 'none'; script-src 'self'; style-src 'self'");
      if (request.url === '/') response.setHeader('content-type', 'text/html').end(page);
      else response.setHeader('content-type', 'text/javascript').end(readFileSync(join(root, 'dist', request.url!)));
    });
    await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve));
    const session = await engines.chromium.start();
    try {
      const opened = await session.open(`http://127.0.0.1:${(server.address() as { port: number }).port}/`);
      const shown = await opened.evaluate<string>(
        "customElements.whenDefined('hive-card').then(() => document.querySelector('hive-card').shadowRoot.textContent)",
      );
      assert.equal(shown, 'Rosemary');
    } finally {
      await session.close();
      server.close();
    }
  });
});
