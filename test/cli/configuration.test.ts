/** Where a configuration may stand, what it may say, and what of Vite's configuration counts. */
import assert from 'node:assert/strict';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { describe, it } from 'node:test';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project, repository, temporary } from '../support/project.ts';

const element = (more = '') => `import { contract, markup, text } from 'eltrix';
${more}
export class ACard extends contract('a-card', { about: 'A card.', attributes: { name: text() } }) {
  view() { return markup\`<b>\${() => this.name}</b>\`; }
}
ACard.define();
`;

/** Whether the elements of `parts/` are found, as the configuration says. */
function finds(files: Record<string, string>, ...args: string[]) {
  const { status, stdout, stderr } = eltrix(project({ 'parts/a-card.js': element(), ...files }), ...args, 'describe');
  assert.equal(stderr, '');
  assert.equal(status, 0);
  assert.match(stdout, /a-card/);
}

describe('a configuration', () => {
  const config = "{ source: 'parts' }";
  const typed = "import { defineConfig } from 'eltrix-tool/config';\nimport { source } from './names.ts';\n";
  it('in TypeScript, with what it imports', () =>
    finds({
      'names.ts': "export const source: string = 'parts';",
      'eltrix.config.ts': `${typed}export default defineConfig({ source });`,
    }));
  for (const [name, text] of [
    ['eltrix.config.js', `export default ${config};`],
    ['eltrix.config.mjs', `export default ${config};`],
    [
      'eltrix.config.json',
      '{ "$schema": "./node_modules/eltrix-tool/dist/configuration.schema.json", "source": "parts" }',
    ],
    ['package.json', '{ "type": "module", "eltrix": { "source": "parts" } }'],
  ] as const)
    it(`in ${name}`, () => finds({ [name]: text }));
  it('in the file of --config', () => finds({ 'other.mjs': `export default ${config};` }, '--config', 'other.mjs'));

  it('is found in parent folders, and arguments are relative to the current folder', () => {
    const root = project({
      'parts/a-card.js': element(),
      'parts/pages/one.html': '<a-card nam="x"></a-card>',
      'eltrix.config.json': '{ "source": "parts" }',
    });
    const inside = join(root, 'parts/pages');
    assert.match(eltrix(inside, 'describe').stdout, /a-card/);
    const { stdout, status } = eltrix(inside, 'check', 'one.html');
    assert.match(stdout, /parts\/pages\/one\.html:1:9 .*"nam"/s);
    assert.equal(status, 1);
    const far = temporary();
    assert.match(eltrix(far, 'describe', '--cwd', root).stdout, /a-card/);
    assert.match(eltrix(far, `--cwd=${inside}`, 'describe').stdout, /a-card/);
  });

  for (const [name, files, args, message] of [
    [
      'a misspelt key',
      { 'eltrix.config.ts': 'export default { sorce: 1 };' },
      [],
      /eltrix\.config\.ts: "sorce" is not an option\. Did you mean "source"\?/,
    ],
    [
      'one that throws, with its place',
      { 'eltrix.config.ts': "const out = 1;\nthrow new Error('no luck');\nexport default { out };" },
      [],
      /eltrix\.config\.ts:2:.*no luck/s,
    ],
    [
      'one that does not parse',
      { 'eltrix.config.ts': 'export default {\n  source: "src",,\n};' },
      [],
      /eltrix\.config\.ts:2:\d+ error \(source-error\)/,
    ],
    ['one that is no JSON', { 'eltrix.config.json': '{ "source": }' }, [], /eltrix\.config\.json.*is no JSON/],
    [
      'two of them',
      { 'eltrix.config.js': 'export default {};', 'eltrix.config.json': '{}' },
      [],
      /several configurations: eltrix\.config\.js and eltrix\.config\.json/,
    ],
    ['one that is not there', {}, ['--config', 'nowhere.js'], /There is no file .*nowhere\.js/],
    ['a folder that is not there', {}, ['--cwd', 'nowhere'], /There is no folder .*nowhere/],
    ['an option without its value', {}, ['--cwd'], /--cwd needs a value/],
  ] as const)
    it(`says what is wrong with ${name}`, () => {
      const root = project({ 'src/a-card.js': element(), ...files });
      const { status, stderr } = eltrix(root, 'describe', ...args);
      assert.match(stderr, message);
      assert.ok(status === 1 || status === 2);
      assert.doesNotMatch(stderr, /\n\s+at /);
    });

  it('has a JSON schema that agrees with the tool', async () => {
    const { default: Ajv } = await import('ajv/dist/2020.js');
    const schema = JSON.parse(
      readFileSync(join(repository, 'packages/eltrix-tool/dist/configuration.schema.json'), 'utf8'),
    ) as object;
    const check = new Ajv.default({ allowUnionTypes: true }).compile(schema);
    for (const good of [
      {},
      { source: 'a', budget: '3 kB' },
      { budget: { 'a-b': 1000 }, render: '/x/' },
      { conformance: { 'a-b': { exempt: {} } } },
    ])
      assert.ok(check(good), JSON.stringify(check.errors));
    for (const bad of [{ sorce: 'a' }, { source: 1 }, { classic: 'yes' }, { budget: { 'a-b': true } }])
      assert.ok(!check(bad), JSON.stringify(bad));
    assert.ok(createRequire(join(repository, 'package.json')).resolve('eltrix-tool/configuration.schema.json'));
  });
});

describe('aliases, constants and plugins of the project’s Vite configuration', () => {
  const files = {
    'src/a-card.js': element(
      "import { word } from '@words/word.js';\nimport made from 'virtual:made';\nexport const said = word + made + __SEASON__;\nimport './said.js';",
    ),
    'src/said.js': "globalThis.said = () => import('./a-card.js').then(({ said }) => said);",
    'words/word.js': "export const word = 'honey';",
    'vite.config.ts': `import { eltrix } from 'eltrix-tool/vite';
import { fileURLToPath } from 'node:url';
const words: string = fileURLToPath(new URL('./words', import.meta.url));
export default {
  plugins: [
    eltrix(),
    { name: 'made', resolveId: (id: string) => (id === 'virtual:made' ? '\\0made' : undefined), load: (id: string) => (id === '\\0made' ? "export default ' made'" : undefined) },
  ],
  resolve: { alias: { '@words': words } },
  define: { __SEASON__: JSON.stringify(' in spring') },
};`,
    'src/a-card.test.js':
      "import assert from 'node:assert/strict';\nimport { it } from 'node:test';\nimport { said } from './a-card.js';\nit('says it', () => assert.equal(said, 'honey made in spring'));",
    'src/a-card.specimen.html': '<template title="One"><a-card name="x"></a-card></template>',
  };

  it('apply to build and describe', () => {
    const root = project(files);
    const { stderr, status } = eltrix(root, 'build', '--no-look');
    assert.equal(stderr, '');
    assert.equal(status, 0);
    const built = readdirSync(join(root, 'dist')).filter(file => file.endsWith('.js'));
    assert.match(built.map(file => readFileSync(join(root, 'dist', file), 'utf8')).join(), /honey.*made.*in spring/s);
    assert.match(eltrix(root, 'describe').stdout, /a-card/);
  });

  it('apply to test and check', { skip: !engines.chromium.find() && 'no Chromium' }, () => {
    const root = project(files);
    const tested = eltrix(root, 'test', '--in', 'chromium');
    assert.match(tested.stdout, /pass 1/);
    const compiled = eltrix(root, 'test', '--in', 'chromium', '--compiled');
    assert.match(compiled.stdout, /pass 1/, compiled.stderr);
    const checked = eltrix(root, 'check', '--in', 'chromium', '--json');
    assert.equal(checked.stderr, '');
    assert.match(checked.stdout, /"a-card"/);
  });

  it('are reported with their position if loading fails', () => {
    const root = project({ ...files, 'vite.config.ts': "\nthrow new Error('no plugins');" });
    const { stderr, status } = eltrix(root, 'build', '--no-look');
    assert.match(stderr, /no plugins/);
    assert.equal(status, 1);
    assert.equal(existsSync(join(root, 'dist')), false);
  });
});
