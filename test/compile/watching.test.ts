/** `eltrix build --watch` follows everything that elements are made of, and what cannot be built is said, not waited for. */
import assert from 'node:assert/strict';
import { mkdirSync, readdirSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, it } from 'node:test';
import { eltrix, project, running, temporary } from '../support/project.ts';

const card = (head = '', shown = 'one', more = '') =>
  `import { contract, markup, text } from 'eltrix';\n${head}\nexport class BeeCard extends contract('bee-card', { attributes: { label: text() } }) { ${more} view() { return markup\`<p>${shown}\${() => this.label}</p>\`; } }\n`;

/** All scripts that a build wrote. */
const built = (root: string, out = 'dist') =>
  readdirSync(join(root, out))
    .filter(file => file.endsWith('.js'))
    .map(file => readFileSync(join(root, out, file), 'utf8'))
    .join('\n');

describe('a watched build', () => {
  const beside = temporary();
  const root = project({
    'src/bee-card.js': card(
      "import { far } from '../shared/far.js'; import { linked } from './linked/there.js'; import sheet from './card.css' with { type: 'css' };",
      '${far}${linked}',
      'static styleSheets = [sheet];',
    ),
    'src/card.css': 'p { color: rgb(1, 1, 1) }',
    'shared/far.js': "export const far = 'far one';",
  });
  writeFileSync(join(beside, 'there.js'), "export const linked = 'link one';");
  symlinkSync(beside, join(root, 'src/linked'));

  it('follows sheets, modules beside the folder of the sources, what links lead to, and the configuration', async () => {
    const tool = running(root, 'build', '--watch', '--no-look');
    try {
      await tool.until(/Watching src/);
      const steps: [path: string, text: string, seen: RegExp][] = [
        ['src/card.css', 'p { color: rgb(2, 2, 2) }', /rgb\(2,2,2\)/],
        ['shared/far.js', "export const far = 'far two';", /far two/],
        ['src/linked/there.js', "export const linked = 'link two';", /link two/],
      ];
      for (const [path, text, seen] of steps) {
        writeFileSync(join(root, path), text);
        await tool.until(/\d\.\d\d s, at most/);
        assert.match(built(root), seen);
      }
      writeFileSync(join(root, 'eltrix.config.js'), 'export default { classic: true };');
      await tool.until(/classic\.js/);
      writeFileSync(join(root, 'eltrix.config.js'), 'export default { clasic: true };');
      await tool.until(/\(config-key\): eltrix\.config\.js: "clasic" is not an option\. Did you mean "classic"\?/);
    } finally {
      await tool.end();
    }
  });
});

describe('endless loops and waits', () => {
  const loaded = (head: string) => card(head).replace("'bee-card', {", "'bee-card', { about: String(limit),");
  const cases: [name: string, files: Record<string, string>, says: RegExp][] = [
    [
      'a loop at the top of a module that has to be loaded',
      { 'src/a.js': loaded('const limit = 3; if (globalThis.process) for (;;);') },
      /^src\/a\.js error \(load-hangs\): src\/a\.js was loaded because a contract in it is not written out/,
    ],
    [
      'an await at the top of one of two',
      {
        'src/a.js': loaded('const limit = 3;').replaceAll('bee-card', 'bee-cell').replaceAll('BeeCard', 'BeeCell'),
        'src/b.js': loaded('const limit = await new Promise(() => {});'),
      },
      /^src\/b\.js error \(load-hangs\)/,
    ],
    [
      'a configuration that waits',
      { 'src/a.js': card(), 'eltrix.config.js': 'export default await new Promise(() => {});' },
      /^eltrix\.config\.js error \(config-hangs\): eltrix\.config\.js has not loaded within 10 s/,
    ],
    [
      'a configuration that throws',
      { 'src/a.js': card(), 'eltrix.config.js': "const out = 1;\nthrow new Error('no luck');" },
      /^eltrix\.config\.js:2:7 error \(source-error\): no luck/,
    ],
    [
      'CSS that is imported for a page',
      { 'src/a.js': card("import './a.css';"), 'src/a.css': 'p { color: red }' },
      /^src\/a\.js:2:1 error \(css-import\): An import of CSS like this styles the page of a bundler, and no page of a widget would load it\. For the sheet of an element write import sheet from "\.\/a\.css" with \{ type: 'css' \}/,
    ],
  ];
  for (const [name, files, says] of cases)
    it(`is said: ${name}`, () => {
      const { status, stderr } = eltrix(project(files), 'build', '--no-look');
      assert.match(stderr, says);
      assert.equal(status, 1);
    });

  it('an import inside a contract is not one', () => {
    const root = project({
      'src/a.js': card().replace(
        'attributes: { label: text() }',
        "attributes: { label: text() }, about: (import('eltrix'), 'A card.')",
      ),
    });
    const { status, stderr } = eltrix(root, 'build', '--no-look');
    assert.deepEqual([status, stderr], [0, '']);
  });

  it('an output folder inside the sources is skipped', () => {
    const root = project({ 'src/a.js': card() });
    for (let times = 0; times < 2; times++) {
      const { status, stderr } = eltrix(root, 'build', '--no-look', '--out', 'src/built');
      assert.deepEqual([status, stderr], [0, '']);
    }
    mkdirSync(join(root, 'other'));
    assert.equal(eltrix(root, 'describe').status, 0);
  });
});

describe('a repeated build', () => {
  it('notices a changed linked package', () => {
    const linked = temporary();
    const write = (value: string) => {
      writeFileSync(join(linked, 'index.js'), `export const say = '${value}';`);
      writeFileSync(join(linked, 'index.d.ts'), `export interface Shape { ${value}: number }`);
    };
    write('early');
    writeFileSync(join(linked, 'package.json'), '{ "name": "linked", "type": "module", "main": "index.js" }');
    const root = project({
      'src/a.ts': card(
        "import { say } from 'linked'; import type { Shape } from '../node_modules/linked/index.d.ts';",
        '${say}',
        'shape(): Shape | undefined { return undefined; }',
      ),
    });
    symlinkSync(linked, join(root, 'node_modules/linked'));
    for (const value of ['early', 'late']) {
      write(value);
      assert.equal(eltrix(root, 'build', '--no-look').status, 0);
      assert.match(built(root), new RegExp(value));
      assert.match(readFileSync(join(root, 'dist/bee-card.d.ts'), 'utf8'), new RegExp(`${value}: number`));
    }
  });
});
