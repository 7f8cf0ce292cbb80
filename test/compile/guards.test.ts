/** What a build refuses, and that what was there stays. */
import assert from 'node:assert/strict';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, describe, it } from 'node:test';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project, running } from '../support/project.ts';

const card = (view = 'markup`<p>${() => this.name}</p>`', more = '') => `
  import { contract, markup, stylesheet, text } from 'eltrix';
  ${more}
  export class HiveCard extends contract('hive-card', { attributes: { name: text() } }) {
    view() { return ${view}; }
  }`;
const configured = (options: object) => JSON.stringify({ type: 'module', eltrix: options });

describe('eltrix build rejects', () => {
  it('a target without classes', () => {
    const root = project({ 'src/a.ts': card(), 'package.json': configured({ target: 'es5' }) });
    const { status, stderr } = eltrix(root, 'build');
    assert.equal(status, 2);
    assert.equal(
      stderr,
      'eltrix error (target-too-old): "target": "es5" has no classes, and a custom element has to be one: a function in its place throws when it is created. Use "es2015" or later, for example "es2022". Nothing was written.\n',
    );
  });

  it('an element over its budget, with its largest modules', () => {
    const root = project({ 'src/a.ts': card(), 'package.json': configured({ budget: '500 B' }) });
    assert.match(
      eltrix(root, 'build').stderr,
      /^eltrix error \(over-budget\): <hive-card> has \d+ B \(brotli, shared files included\), and its budget is 500 B\. The largest modules: eltrix \(\d+ B uncompressed\), src\/a\.ts \(\d+ B uncompressed\)/,
    );
    writeFileSync(join(root, 'package.json'), configured({ budget: { 'hive-card': '9 kB' } }));
    assert.equal(eltrix(root, 'build', '--no-look').status, 0);
    writeFileSync(join(root, 'package.json'), configured({ budget: 'small' }));
    assert.match(
      eltrix(root, 'build').stderr,
      /\(config-value\): "budget" takes bytes, for example 3000 or "3 kB", and "small" is neither\./,
    );
  });

  it('modules of Node, naming the importing file', () => {
    const root = project({
      'src/a.ts': card(undefined, "import { tidy } from './tidy.ts'; tidy();"),
      'src/tidy.ts': "import { join } from 'node:path'; export const tidy = () => join('a', 'b');",
    });
    const { status, stderr } = eltrix(root, 'build');
    assert.equal(status, 1);
    assert.match(
      stderr,
      /src\/tidy\.ts error \(bare-import\): src\/tidy\.ts imports "node:path", which only Node has\./,
    );
  });

  it('unsupported syntax with its position, also in a module that has to be loaded', () => {
    const accessor = "export class Tidy {\n  accessor level = 3;\n  email = 'a@b.example';\n}";
    const more = "import { Tidy } from './tidy.ts'; new Tidy();";
    const place =
      /^src\/tidy\.ts:2:3 error \(engine-syntax\): There is an accessor field here, which no engine runs yet\./;
    const root = project({ 'src/a.ts': card(undefined, more), 'src/tidy.ts': accessor });
    const { status, stderr } = eltrix(root, 'build', '--no-look');
    assert.equal(status, 1);
    assert.match(stderr, place);
    assert.match(stderr, /> 2 \| {3}accessor level = 3;\n +\| {3}\^/);
    assert.equal(existsSync(join(root, 'dist')), false);
    const loaded = card(undefined, more).replace("'hive-card', {", "'hive-card', { about: String(Tidy.name),");
    assert.match(eltrix(project({ 'src/a.ts': loaded, 'src/tidy.ts': accessor }), 'build', '--no-look').stderr, place);
    const decorated = 'const whole = () => {};\nexport class Tidy {\n  @whole level = 3;\n}';
    writeFileSync(join(root, 'src/tidy.ts'), decorated);
    assert.match(
      eltrix(root, 'build', '--no-look').stderr,
      /^src\/tidy\.ts:3:3 error \(engine-syntax\): There is a decorator/,
    );
    writeFileSync(join(root, 'tsconfig.json'), '{ "compilerOptions": { "experimentalDecorators": true } }');
    assert.equal(eltrix(root, 'build', '--no-look').status, 0);
  });

  it('globals of pages in a module that has to be loaded, with position and reason', () => {
    const source = card(undefined, 'const about = document.title;').replace("'hive-card', {", "'hive-card', { about,");
    assert.match(
      eltrix(project({ 'src/a.ts': source }), 'build', '--no-look').stderr,
      /^src\/a\.ts:3:17 error \(source-error\): document is not defined in Node, where this module was loaded because a contract in it is not written out\./,
    );
  });

  it('an invalid expression, with its position', () => {
    const root = project({ 'src/a.ts': card('markup`<p>ok</p>\n  <style>${this.name}</style>`') });
    const { status, stderr } = eltrix(root, 'build');
    assert.equal(status, 1);
    assert.match(
      stderr,
      /^src\/a\.ts:6:12 error \(hole-in-style\): In line 2 of the markup, expression 1: <style> cannot contain an expression\./,
    );
  });

  it('a file that fails when it is loaded, and keeps the old output', {
    skip: !engines.chromium.find() && 'no Chromium',
  }, () => {
    const root = project({ 'src/a.ts': card() });
    assert.equal(eltrix(root, 'build').status, 0);
    const old = readFileSync(join(root, 'dist/hive-card.js'), 'utf8');
    writeFileSync(join(root, 'src/a.ts'), card(undefined, "if (globalThis.document) console.log('left behind');"));
    const { status, stderr } = eltrix(root, 'build');
    assert.equal(status, 1);
    assert.match(
      stderr,
      /\(load-failed\): Loaded alone in an empty page of \w+, a file does not work: <hive-card>: console\.log: left behind\./,
    );
    assert.equal(readFileSync(join(root, 'dist/hive-card.js'), 'utf8'), old);
    assert.equal(eltrix(root, 'build', '--no-look').status, 0);
  });

  it('to overwrite the project itself', () => {
    const root = project({ 'src/a.ts': card() });
    assert.match(
      eltrix(root, 'build', '--out', '.').stderr,
      /\(out-in-use\): The output folder "\." contains the project itself/,
    );
  });
});

describe('eltrix build', () => {
  const watchers: { end(): Promise<void> }[] = [];
  after(async () => {
    for (const watcher of watchers) await watcher.end();
  });

  it('reports uncompiled code, which works nevertheless', () => {
    const declaration = 'let declaration = { attributes: { name: text() } };';
    const root = project({
      'src/a.ts': card(undefined, declaration).replace('{ attributes: { name: text() } })', 'declaration)'),
    });
    const { status, stdout } = eltrix(root, 'build');
    assert.equal(status, 0);
    assert.match(
      stdout,
      /^src\/a\.ts:4:\d+ note \(not-compiled\): this contract works as written and is not compiled: the declaration is not one object written out\.$/m,
    );
  });

  it('lists the npm packages that it bundled', () => {
    const root = project({ 'src/a.ts': card(undefined, "import clsx from 'mitt'; globalThis.made = clsx;") }, ['mitt']);
    const list = (...args: string[]) =>
      /^Bundled packages: .*$/m.exec(eltrix(root, 'build', '--no-look', ...args).stdout)?.[0];
    assert.match(list()!, /^Bundled packages: mitt \(\d+ B\)\.$/);
    assert.equal(list('--classic'), list());
  });

  it('succeeds after the mistake is fixed', async () => {
    const other = card().replaceAll('hive-card', 'other-card').replaceAll('HiveCard', 'OtherCard');
    const root = project({ 'src/a.ts': card(), 'src/b.ts': other });
    const watcher = running(root, 'build', '--watch', '--no-look');
    watchers.push(watcher);
    await watcher.until(/Watching src\//);
    writeFileSync(join(root, 'package.json'), configured({ budget: 100 }));
    writeFileSync(join(root, 'src/a.ts'), card('markup`<em>${() => this.name}</em>`'));
    await watcher.until(/over-budget/);
    writeFileSync(join(root, 'package.json'), configured({}));
    writeFileSync(join(root, 'src/b.ts'), `${other}\n`.replace('<p>', '<i>').replace('</p>', '</i>'));
    await watcher.until(/2 elements, no imports/);
    assert.match(readFileSync(join(root, 'dist/hive-card.js'), 'utf8'), /<em>/);
  });

  it('builds again when a source changes, and continues after a mistake', async () => {
    const other = card().replaceAll('hive-card', 'other-card').replaceAll('HiveCard', 'OtherCard');
    const root = project({ 'src/a.ts': card(), 'src/b.ts': other });
    const watcher = running(root, 'build', '--watch', '--no-look');
    watchers.push(watcher);
    await watcher.until(/Watching src\//);
    writeFileSync(join(root, 'src/a.ts'), `${card()} export const oops = ;`);
    await watcher.until(/source-error/);
    writeFileSync(join(root, 'src/a.ts'), card('markup`<b>${() => this.name}</b>`'));
    await watcher.until(/2 elements, no imports/);
    const out = (file: string) => readFileSync(join(root, 'dist', file), 'utf8');
    assert.match(out('hive-card.js'), /<b>/);
    // What was not changed is what a build from nothing writes, after each further change too.
    for (const tag of ['i', 'u']) {
      writeFileSync(join(root, 'src/a.ts'), card(`markup\`<${tag}>\${() => this.name}</${tag}>\``));
      await watcher.until(/2 elements, no imports/);
      assert.match(out('hive-card.js'), new RegExp(`<${tag}>`));
    }
    const watched = readdirSync(join(root, 'dist')).map(file => [file, out(file)]);
    assert.equal(eltrix(root, 'build', '--no-look', '--out', 'fresh').status, 0);
    assert.deepEqual(
      watched,
      readdirSync(join(root, 'fresh')).map(file => [file, readFileSync(join(root, 'fresh', file), 'utf8')]),
    );
    writeFileSync(join(root, 'src/b.ts'), other.replaceAll('other-card', 'third-card'));
    await watcher.until(/2 elements, no imports/);
    assert.ok(existsSync(join(root, 'dist/third-card.js')) && !existsSync(join(root, 'dist/other-card.js')));
  });
});
