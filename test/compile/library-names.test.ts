/** The library's functions under other names: the element is compiled, and does what it does as written. */
import assert from 'node:assert/strict';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, it } from 'node:test';
import { loaded } from '../../bench/ladder-sizes.ts';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { closeEngines, eltrix, project, running } from '../support/project.ts';
import { writtenAndBuilt } from '../support/written-and-built.ts';

after(closeEngines);

/** A name of its class that no other has, since classes of one name may extend each other. */
const nameOf = (tag: string) => tag.replaceAll('-', '');

/** An element by the names of `contract`, `text`, `markup` and `stylesheet`, after the lines that give them. */
const element =
  (head: string, contract = 'contract', text = 'text', markup = 'markup', stylesheet = 'stylesheet') =>
  (tag: string) =>
    `${head}
export class ${nameOf(tag)} extends ${contract}('${tag}', { attributes: { label: ${text}() } }) {
  static styleSheets = [${stylesheet}\`p { color: red }\`];
  view() { return ${markup}\`<p>\${() => this.label}</p>\`; }
}
${nameOf(tag)}.define();`;

const names = 'contract, text, markup, stylesheet';

const ways: Record<string, (tag: string) => string> = {
  'as they are': element(`import { ${names} } from 'eltrix';`),
  'with other names': element(
    "import { contract as c, text as t, markup as html, stylesheet as css } from 'eltrix';",
    'c',
    't',
    'html',
    'css',
  ),
  'in a namespace': element("import * as e from 'eltrix';", 'e.contract', 'e.text', 'e.markup', 'e.stylesheet'),
  'taken out of a namespace': element(
    "import * as e from 'eltrix';\nconst { contract, markup: html, text, stylesheet } = e;",
    'contract',
    'text',
    'html',
  ),
  'in constants': element(
    `import * as e from 'eltrix';\nimport { ${names} } from 'eltrix';\nconst html = markup, css = e.stylesheet;`,
    'contract',
    'text',
    'html',
    'css',
  ),
  'through a module': element(`import { ${names} } from './names.ts';`),
  'through a module, all of them': element(`import { ${names} } from './all.ts';`),
  'through a module that imports them': element(
    `import { define, text, html, css } from './renamed.ts';`,
    'define',
    'text',
    'html',
    'css',
  ),
  'through two modules': element(`import { ${names} } from './again.ts';`),
  'through a namespace of a module': element(
    "import * as own from './names.ts';",
    'own.contract',
    'own.text',
    'own.markup',
    'own.stylesheet',
  ),
  "through the package's imports": element(`import { ${names} } from '#parts/names.ts';`),
  'beside a namespace of which any member may be read': element(
    `import { ${names} } from 'eltrix';\nimport * as words from './words.ts';\nconst word = key => words[key];\nexport { word };`,
  ),
  'through a package': element(`import { ${names} } from 'own-names';`),
  'through a package, with other names': element(
    "import { define, text, html, css } from 'own-names/renamed.js';",
    'define',
    'text',
    'html',
    'css',
  ),
};

/** Names that other code has, or may have. */
const others: Record<string, (tag: string) => string> = {
  'a variable that changes': element(
    `import { ${names} } from 'eltrix';\nlet html = markup;\nhtml = (strings, ...values) => markup(strings, ...values.map(value => () => \`\${value()}!\`));`,
    'contract',
    'text',
    'html',
  ),
  'a function of a module that passes on the others': element(`import { ${names} } from './loud.ts';`),
  'a function that hides the namespace': tag => `import * as e from 'eltrix';
const loud = { ...e, markup: (strings, ...values) => e.markup(strings, ...values.map(value => () => \`\${value()}!\`)) };
const make = e => class extends e.contract('${tag}', { attributes: { label: e.text() } }) {
  static styleSheets = [e.stylesheet\`p { color: red }\`];
  view() { return e.markup\`<p>\${() => this.label}</p>\`; }
};
export const ${nameOf(tag)} = make(loud);
${nameOf(tag)}.define();`,
};

const modules = {
  'package.json': '{ "name": "names", "type": "module", "imports": { "#parts/*": "./src/*" } }',
  'node_modules/own-names/package.json':
    '{ "name": "own-names", "type": "module", "exports": { ".": "./index.js", "./renamed.js": "./renamed.js" } }',
  'node_modules/own-names/renamed.js':
    "export { contract as define, text, markup as html, stylesheet as css } from 'eltrix';",
  'node_modules/own-names/index.js': "export * from 'eltrix';",
  'src/names.ts': `export { ${names} } from 'eltrix';`,
  'src/words.ts': "export const calm = 'calm';\nexport const busy = 'busy';",
  'src/all.ts': "export * from 'eltrix';\nexport const mine = 1;",
  'src/renamed.ts':
    "import { contract, markup, text } from 'eltrix';\nimport * as e from 'eltrix';\nexport { contract as define, text };\nexport const html = markup;\nexport const css = e.stylesheet;",
  'src/again.ts': "export { contract, text } from './names.ts';\nexport * from './all.ts';",
  'src/loud.ts': `import { markup as plain } from 'eltrix';
export * from 'eltrix';
export const markup = (strings, ...values) => plain(strings, ...values.map(value => () => \`\${value()}!\`));`,
};

const all = Object.entries({ ...ways, ...others });
const tagOf = (at: number) => `bee-card-${at}`;
const sources = Object.fromEntries(all.map(([, write], at) => [`src/${tagOf(at)}.ts`, write(tagOf(at))]));

it('an element is as small if the library has other names in it', () => {
  const root = project({ ...modules, ...sources });
  const { status, stdout, stderr } = eltrix(root, 'build');
  assert.deepEqual([status, stderr], [0, ''], stdout);
  const sizes = all.map((_, at) => {
    const files = [...loaded(join(root, 'dist'), `${tagOf(at)}.js`)];
    return files.reduce((sum, file) => sum + readFileSync(join(root, 'dist', file)).length, 0);
  });
  // Without the whole runtime.
  assert.ok(sizes[0]! < 16_000, `${sizes}`);
  const large = all.flatMap(([name], at) => (sizes[at]! > sizes[0]! * 1.1 ? [name] : []));
  assert.deepEqual(large, Object.keys(others), `${sizes}`);
});

it('it does what it does as written', { skip: !engines.chromium.find() && 'no Chromium' }, async () => {
  const { 'package.json': _, ...files } = modules;
  const { written, built } = await writtenAndBuilt(
    all.map(([name], at) => ({
      name,
      tag: tagOf(at),
      file: `src/${tagOf(at)}.ts`,
      files: { ...files, ...sources },
      html: `<${tagOf(at)} label="a"></${tagOf(at)}>`,
      steps: ["el.label = 'b';", "return getComputedStyle(el.shadowRoot.querySelector('p')).color;"],
    })),
  );
  assert.deepEqual(built, written);
  for (const [at, [name]] of all.entries()) {
    const loud = at < Object.keys(ways).length ? '' : '!';
    assert.deepEqual(written[name], [`<p>a${loud}</p> label=a`, `<p>b${loud}</p> label=b`, '"rgb(255, 0, 0)"'], name);
  }
});

it('a watched build follows the module that passes the library on', async () => {
  const write = element(`import { ${names} } from './names.ts';`);
  const root = project({ 'src/names.ts': modules['src/names.ts'], 'src/bee-card.ts': write('bee-card') });
  const watcher = running(root, 'build', '--watch', '--no-look');
  try {
    await watcher.until(/Watching src/);
    writeFileSync(join(root, 'src/names.ts'), modules['src/loud.ts']);
    await watcher.until(/\d\.\d\d s, at most/);
    const files = [...loaded(join(root, 'dist'), 'bee-card.js')];
    const code = files.map(file => readFileSync(join(root, 'dist', file), 'utf8')).join('');
    assert.ok(/\}!`/.test(code));
  } finally {
    await watcher.end();
  }
});

it('a class that is extended through such names keeps what the other needs', {
  skip: !engines.chromium.find() && 'no Chromium',
}, async () => {
  const files = {
    'src/names.ts': modules['src/names.ts'],
    'src/base-card.ts': element(`import { ${names} } from './names.ts';`)('base-card'),
    'src/loud-card.ts': `import { contract } from './names.ts';
import { basecard } from './base-card.ts';
export class LoudCard extends contract('loud-card', {}, basecard) {
  connected() { this.shadowRoot.querySelector('p').title = this.label; }
}`,
  };
  const { written, built } = await writtenAndBuilt([
    { name: 'loud', tag: 'loud-card', file: 'src/loud-card.ts', files, html: '<loud-card label="a"></loud-card>' },
  ]);
  assert.deepEqual(written['loud'], ['<p title="a">a</p> label=a']);
  assert.deepEqual(built, written);
});

it('sources are checked under such names, too', () => {
  const unused = (head: string, contract: string, markup: string) => (tag: string) =>
    `${head}\nexport class ${nameOf(tag)} extends ${contract}('${tag}', {}) { view() { ${markup}\`<p></p>\`; } }`;
  const all = [
    unused("import * as e from 'eltrix';", 'e.contract', 'e.markup'),
    unused("import { contract, markup } from 'eltrix';\nconst html = markup;", 'contract', 'html'),
    unused("import { define, html } from './renamed.ts';", 'define', 'html'),
  ];
  const root = project({
    'src/renamed.ts': modules['src/renamed.ts'],
    ...Object.fromEntries(all.map((write, at) => [`src/${tagOf(at)}.ts`, write(tagOf(at))])),
  });
  const { stdout, stderr } = eltrix(root, 'build', '--no-look');
  for (const at of all.keys()) assert.match(stdout + stderr, new RegExp(`${tagOf(at)}\\.ts:\\d.*markup-unused`));
});
