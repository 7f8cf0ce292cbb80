/** Bad inputs, each with what has to be said of it. */

export interface BadInput {
  readonly name: string;
  readonly files: Readonly<Record<string, string | Buffer>>;
  readonly args: readonly string[];
  /** What the answer names: a file, a word, what to type. */
  readonly says: RegExp;
  readonly input?: string;
}

export const card =
  "import { contract, markup, text } from 'eltrix';\nexport class HiveCard extends contract('hive-card', { attributes: { name: text() } }) { view() { return markup`<p></p>`; } }\n";
const good = {
  'src/hive-card.ts': card,
  'src/hive-card.test.ts': "import { it } from 'node:test';\nit('works', () => {});\n",
};
const page = { 'page.html': '<hive-card></hive-card>' };

/** Commands that read the whole project. */
const readers: Readonly<Record<string, readonly string[]>> = {
  build: ['build', '--no-look'],
  check: ['check', '--in', 'chromium'],
  pages: ['check', 'page.html'],
  describe: ['describe'],
  test: ['test', '--in', 'chromium'],
};

const all: BadInput[] = [];
const add = (name: string, files: BadInput['files'], args: readonly string[], says: RegExp, input?: string) =>
  all.push({ name, files, args, says, ...(input === undefined ? {} : { input }) });
/** The same bad project for every command that reads it. */
const forAll = (name: string, files: BadInput['files'], says: RegExp, only = Object.keys(readers)) => {
  for (const command of only) add(`${name}: ${command}`, { ...good, ...page, ...files }, readers[command]!, says);
};

// Names of the platform that the tool has to know without a DOM.
for (const name of ['after', 'translate', 'closest', 'onclick', 'toString'])
  add(
    `a property with the name of the member ${name}`,
    { 'src/hive-card.ts': card.replace('name:', `${name}:`) },
    ['build', '--no-look'],
    new RegExp(`src/hive-card\\.ts:2:\\d+ error \\(name-taken\\).*"${name}"`, 's'),
  );

// Entries of packages.
const misspelt = "import { debounced } from 'eltrix/behaviors';\nglobalThis.used = debounced;\n";
forAll(
  'an import of an entry that the library does not have',
  { 'src/hive-card.ts': misspelt + card, 'src/hive-card.test.ts': misspelt + good['src/hive-card.test.ts'] },
  /src\/hive-card(?:\.test)?\.ts:1:27.*\(import-missing\).*"eltrix\/behaviors", which the package eltrix does not have\. Did you mean "eltrix\/behaviours"\?/s,
  ['build', 'check', 'test'],
);
add(
  'an import of an entry that a package does not have, in a module that is loaded',
  {
    'src/hive-card.ts':
      "import 'tiny/more';\n" +
      card.replace('attributes: { name: text() }', "attributes: Object.fromEntries([['name', text()]])"),
    'node_modules/tiny/package.json': '{ "name": "tiny", "exports": { ".": "./a.js", "./b": "./b.js" } }',
  },
  ['build', '--no-look'],
  /src\/hive-card\.ts:1:8.*"tiny\/more", which the package tiny does not have\. It has tiny, tiny\/b\./s,
);

// package.json.
for (const [text, says] of [
  ['null', /package\.json.*(?:object|\{)/],
  ['[]', /package\.json.*(?:object|\{)/],
  ['"x"', /package\.json.*(?:object|\{)/],
  ['3', /package\.json.*(?:object|\{)/],
  ['', /package\.json.*JSON/],
  ['{ "name": ', /package\.json.*JSON/],
  ["{ 'name': 'x' }", /package\.json.*JSON/],
  ['{ "eltrix": "x" }', /package\.json.*"eltrix"/],
  ['{ "eltrix": [] }', /package\.json.*"eltrix"/],
  ['{ "eltrix": 3 }', /package\.json.*"eltrix"/],
  ['{ "eltrix": { "sourc": "x" } }', /"sourc".*Did you mean "source"\?/],
  ['{ "eltrix": { "source": 3 } }', /"source" takes a string/],
  ['{ "eltrix": { "source": null } }', /"source" takes a string/],
  ['{ "eltrix": { "classic": "yes" } }', /"classic" takes a boolean/],
  ['{ "eltrix": { "source": "nowhere" } }', /nowhere/],
  ['{ "eltrix": { "source": "" } }', /"source"/],
  ['{ "eltrix": { "source": "../.." } }', /"source"/],
] as const)
  forAll(
    `package.json ${text}`,
    { 'package.json': text },
    says,
    text.includes('nowhere') ? ['build', 'check', 'pages', 'describe'] : ['build', 'check', 'test'],
  );

// eltrix.config.js.
for (const [text, says] of [
  ["throw new Error('by hand');", /eltrix\.config\.js:1:\d+ .*by hand/],
  ['\n\nconst x = ;', /eltrix\.config\.js:3/],
  ['export default () => ({});', /eltrix\.config\.js.*object/],
  ['export const source = "src";', /eltrix\.config\.js.*default/],
  ['export default null;', /eltrix\.config\.js.*object/],
  ['export default [];', /eltrix\.config\.js.*object/],
  ['export default "src";', /eltrix\.config\.js.*object/],
  ['export default Promise.reject(new Error("no"));', /eltrix\.config\.js.*(?:no|object)/],
  ["import x from 'nowhere-at-all';\nexport default {};", /nowhere-at-all/],
  ["import x from './nowhere.js';\nexport default {};", /nowhere\.js/],
  ['module.exports = {};', /eltrix\.config\.js/],
  ['export default { targt: "es2022" };', /"targt".*Did you mean "target"/],
  ['export default { budget: true };', /"budget" takes/],
  ['export default { target: "es5" };', /target/],
  ['export default { out: 3 };', /"out" takes a string/],
  ['null.x;', /eltrix\.config\.js:1:\d+/],
] as const)
  forAll(
    `eltrix.config.js ${text.trim()}`,
    { 'eltrix.config.js': text },
    says,
    text.includes('es5') ? ['build'] : ['build', 'test', 'pages'],
  );

// Sources.
const source = (name: string, text: string | Buffer, says: RegExp, only = ['build', 'check', 'pages', 'describe']) =>
  forAll(name, { 'src/hive-card.ts': text }, says, only);
source('a syntax error', `${card}const x = ;`, /src\/hive-card\.ts:3:\d+/);
source('an unclosed string', `${card}const x = 'a;`, /src\/hive-card\.ts:3:\d+/);
source(
  'UTF-16',
  Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(card, 'utf16le')]),
  /src\/hive-card\.ts.*UTF-16.*UTF-8/,
);
source(
  'UTF-16, the other way',
  Buffer.concat([Buffer.from([0xfe, 0xff]), Buffer.from(card, 'utf16le').swap16()]),
  /src\/hive-card\.ts.*UTF-16/,
);
source('no letters', Buffer.from([0, 1, 2, 255]), /src/);
source('nothing', '', /no exported element class under "src"/);
source('no export', card.replace('export ', ''), /no exported element class|export/);
source('an invalid tag', card.replace("'hive-card'", "'hive'"), /src\/hive-card\.ts:2:\d+ .*"hive"/);
source('an empty tag', card.replace("'hive-card'", "''"), /src\/hive-card\.ts:2/);
source('a reserved tag', card.replace("'hive-card'", "'font-face'"), /src\/hive-card\.ts:2.*font-face/);
source(
  'a contract without a declaration',
  card.replace(', { attributes: { name: text() } }', ''),
  /src\/hive-card\.ts/,
);
source('attributes that are a list', card.replace('{ name: text() }', '[text()]'), /src\/hive-card\.ts:2/);
source('a kind that is none', card.replace('text() }', '3 }'), /src\/hive-card\.ts:2/);
source('a kind that is not called', card.replace('text() }', 'text }'), /src\/hive-card\.ts:2.*text\(\)/);
source('a missing module', `${card}import './nowhere.ts';`, /nowhere/, ['build', 'check']);
source('a missing package', `${card}import 'nowhere-to-be-found';`, /nowhere-to-be-found/, ['build', 'check']);
source(
  'a name that is not exported',
  card.replace('text }', 'text, nothingLikeIt }').replace('<p>', '<p>${nothingLikeIt}'),
  /nothingLikeIt/,
  ['build', 'check'],
);
source(
  'a sheet that is missing',
  `${card}import sheet from './no.css' with { type: 'css' };\nexport { sheet };`,
  /no\.css/,
  ['build', 'check'],
);
source(
  'a throwing module',
  "import { contract } from 'eltrix';\nconst more = {};\nexport class HiveCard extends contract('hive-card', more) {}\nthrow new Error('by hand');",
  /src\/hive-card\.ts:4:\d+ .*by hand/,
);
source(
  'document at the top',
  "import { contract } from 'eltrix';\nconst more = { x: document.title };\nexport class HiveCard extends contract('hive-card', more) {}",
  /document is not defined in Node/,
);
source('two of a tag', card + card.replace('class HiveCard', 'class HiveCart'), /<hive-card> is made twice/);
source('very deep', `${card}const x = ${'('.repeat(30_000)}1${')'.repeat(30_000)};`, /src\/hive-card\.ts/, [
  'build',
  'describe',
]);
source('very deep lists', `${card}const x = ${'['.repeat(30_000)}${']'.repeat(30_000)};`, /src\/hive-card\.ts/, [
  'build',
  'describe',
]);
for (const [name, files, says] of [
  ['no sources', { 'src/hive-card.ts': '' }, /"src"/],
  ['a folder called like a source', { 'src/hive-card.ts/x.txt': '' }, /"src"/],
  [
    'a broken JSON import',
    {
      'src/hive-card.ts': `${card}import a from './a.json' with { type: 'json' };\nexport { a };`,
      'src/a.json': '{ "a": ',
    },
    /a\.json/,
  ],
] as const)
  for (const command of ['build', 'check']) add(`${name}: ${command}`, files, readers[command]!, says);
for (const command of Object.keys(readers))
  add(`an empty folder: ${command}`, { 'page.html': '' }, readers[command]!, command === 'test' ? /test/ : /"src"/);
for (const command of ['build', 'check', 'describe'])
  add(`src is a file: ${command}`, { src: 'x' }, readers[command]!, /"src"/);

// Output.
for (const out of ['.', '..', '/', 'src', 'package.json', 'src/hive-card.ts', ''])
  add(`--out ${out}`, good, ['build', '--no-look', '--out', out], /out|Output|output/);
add('dist is a file', { ...good, dist: 'x' }, ['build', '--no-look'], /"dist" is a file/);
add('dist of others', { ...good, 'dist/x': 'x' }, ['build', '--no-look'], /did not write/);
add('--gallery of others', { ...good, 'docs/x': 'x' }, ['build', '--no-look', '--gallery', 'docs'], /"docs"/);
add('--gallery src', good, ['build', '--no-look', '--gallery', 'src'], /"src"/);
add('--source nowhere', good, ['build', '--source', 'nowhere'], /"nowhere"/);
add(
  'over budget',
  { ...good, 'package.json': '{ "type": "module", "eltrix": { "budget": 10 } }' },
  ['build', '--no-look'],
  /budget/,
);
add(
  'a budget without bytes',
  { ...good, 'package.json': '{ "type": "module", "eltrix": { "budget": "many" } }' },
  ['build', '--no-look'],
  /many/,
);
add(
  'a budget for a tag that is not there',
  { ...good, 'package.json': '{ "type": "module", "eltrix": { "budget": { "hive-cart": 10 } } }' },
  ['build', '--no-look'],
  /hive-cart/,
);
add(
  'an unknown target',
  { ...good, 'package.json': '{ "type": "module", "eltrix": { "target": "es9999" } }' },
  ['build', '--no-look'],
  /es9999/,
);

// Options.
for (const args of [
  ['biuld'],
  ['build', '--nope'],
  ['build', '--out'],
  ['build', 'x'],
  ['serve', 'x'],
  ['serve', '--prot', '1'],
  ['test', '--nope'],
  ['check', '--nope'],
  ['describe', '--nope'],
  ['sketch'],
  ['new'],
  ['sketch', 'a', 'b', '--nope'],
  ['new', 'a', 'b', 'c'],
  ['--nope'],
  ['help', 'nope'],
])
  add(args.join(' '), good, args, /error:|unknown|Usage: eltrix|Did you mean|missing|too many/);
for (const [option, value] of [
  ['--port', 'abc'],
  ['--port', '-1'],
  ['--port', '99999'],
  ['--port', '1.5'],
  ['--port', ''],
])
  add(`serve ${option} ${value}`, good, ['serve', option!, value!], /--port/);
for (const [option, value] of [
  ['--timeout', 'abc'],
  ['--timeout', '-1'],
  ['--timeout', ''],
  ['--times', 'x'],
  ['--times', '0'],
  ['--shuffle', 'abc'],
])
  add(`test ${option} ${value}`, good, ['test', option!, value!], new RegExp(option!));
for (const command of ['test', 'check'])
  for (const engine of ['netscape', 'chromum', '', ','])
    add(`${command} --in ${engine}`, good, [command, '--in', engine], /engine|--in|chromium/);
add('test --report nope', good, ['test', '--report', 'nope'], /nope|report/);
add('test nowhere', good, ['test', 'nowhere'], /nowhere/);
add(
  'test of a file without tests',
  { ...good, 'src/x.test.ts': 'export {};' },
  ['test', 'src/x.test.ts', '--in', 'chromium'],
  /src\/x\.test\.ts|[Nn]o test/,
);
add(
  'test --match nothing',
  good,
  ['test', '--match', 'nothing like it', '--in', 'chromium'],
  /nothing like it|[Nn]o test/,
);
add('test --match (', good, ['test', '--match', '(', '--in', 'chromium'], /--match|\(/);
add(
  'a test with a syntax error',
  { ...good, 'src/hive-card.test.ts': '\nconst x = ;' },
  readers['test']!,
  /src\/hive-card\.test\.ts:2/,
);
add(
  'a test of a missing module',
  { ...good, 'src/hive-card.test.ts': "import './nowhere.ts';" },
  readers['test']!,
  /nowhere/,
);
add(
  'a test of a source with a syntax error',
  { ...good, 'src/hive-card.ts': 'const x = ;', 'src/hive-card.test.ts': "import './hive-card.ts';" },
  readers['test']!,
  /src\/hive-card\.ts:1/,
);
add(
  'a throwing test file',
  { ...good, 'src/hive-card.test.ts': "throw new Error('by hand');" },
  readers['test']!,
  /by hand/,
);
add('a grid that is not there', good, ['test', '--grid', 'http://127.0.0.1:1', '--in', 'chromium'], /127\.0\.0\.1:1/);
add('a grid without an address', good, ['test', '--grid', 'nowhere', '--in', 'chromium'], /nowhere|--grid/);
add('check --element', good, ['check', '--element', 'hive-cart', '--in', 'chromium'], /Did you mean <hive-card>/);
add('check --without', good, ['check', '--without', 'nope', '--in', 'chromium'], /"nope" is not a rule/);
add('check --timeout x', good, ['check', '--timeout', 'x'], /--timeout/);
add('describe hive-cart', good, ['describe', 'hive-cart'], /hive-cart/);

// Pages and manifests.
add('no page', good, ['check', 'nothing/*.html'], /No file matches "nothing\/\*\.html"/);
add('a page that is a folder without pages', { ...good, 'x/a.txt': '' }, ['check', 'x'], /No file matches/);
for (const [text, says] of [
  ['', /JSON/],
  ['null', /object|no custom element/],
  ['[]', /no custom element|object/],
  ['3', /no custom element|object/],
  ['{}', /no custom element/],
  ['{ "modules": {} }', /"modules"/],
  ['{ "modules": [null] }', /modules|no custom element/],
  ['{ "modules": [{ "declarations": [null, 3] }] }', /no custom element/],
  ['{ "modules": [{ "declarations": [{ "customElement": true, "tagName": 3 }] }] }', /no custom element/],
  ['not JSON', /JSON/],
] as const) {
  add(`a manifest ${text}`, { ...page, 'm.json': text }, ['check', 'page.html', '--manifest', 'm.json'], says);
  add(
    `a manifest ${text} with --module`,
    { ...page, 'm.json': text, 'x.js': '' },
    ['check', '--manifest', 'm.json', '--module', 'x.js', '--in', 'chromium'],
    says,
  );
}
add('a manifest that is not there', page, ['check', 'page.html', '--manifest', 'm.json'], /There is no file m\.json/);
add(
  'a manifest that is a folder',
  { ...page, 'm.json/x': '' },
  ['check', 'page.html', '--manifest', 'm.json'],
  /m\.json/,
);
add(
  'a manifest without --module',
  { 'm.json': '{ "modules": [{ "declarations": [{ "customElement": true, "tagName": "a-b" }] }] }' },
  ['check', '--manifest', 'm.json', '--in', 'chromium'],
  /--module/,
);

// Sketch and new.
for (const [html, says] of [
  ['', /hyphen/],
  ['<p>x</p>', /hyphen/],
  ['\0\0', /hyphen/],
  ['<font-face></font-face>', /hyphen|font-face/],
] as const)
  add(`sketch ${JSON.stringify(html)}`, { 'a.html': html }, ['sketch', 'a.html'], says);
add('sketch nowhere', {}, ['sketch', 'nowhere.html'], /nowhere\.html/);
add('sketch of a folder', { 'a/x': '' }, ['sketch', 'a'], /a/);
for (const name of ['..', '.', '', 'a b', 'Übel', '-x', 'x'.repeat(300), 'a/b/..', 'node_modules', '/', 'con\0'])
  if (!name.includes('\0'))
    add(`new ${name.slice(0, 20)}`, { 'x.txt': 'x' }, ['new', name, '--no-install'], /new|name|folder|option|unknown/i);
add('new into a folder that is there', { 'x/package.json': 'z' }, ['new', 'x'], /x/);

// Specimens.
for (const [html, says] of [['<hive-crad></hive-crad>', /hive-crad|no specimen|element/i]] as const)
  add(`specimens ${html}`, { ...good, 'src/hive-card.specimen.html': html }, ['check', '--in', 'chromium'], says);

export const badInputs: readonly BadInput[] = all;
