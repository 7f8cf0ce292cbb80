/** Forms of sources that are compiled, and forms that stay as they were written, with what the report says of them. */
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, it } from 'node:test';
import { eltrix, project } from '../support/project.ts';
import { all, build, element, plain, view } from './form-project.ts';

/** By what they are, with what is said of them. */
const left: Record<string, [source: string, says: RegExp]> = {
  'contract() in a variable that may change': [
    element("define('bee-form', { attributes: { label: text() } })", view, 'let define = contract;'),
    /: this contract works as written and is not compiled: the build does not find out whether define is contract\(\) of eltrix\./,
  ],
  'a tag in a variable': [
    element('contract(tag, { attributes: { label: text() } })', view, "let tag = 'bee-form';"),
    /: this contract works as written and is not compiled: the tag is not written out\./,
  ],
  'a declaration that other code changes': [
    element(
      "contract('bee-form', about)",
      view,
      'const about = { attributes: { label: text() } };\nObject.assign(about, { slots: {} });',
    ),
    /the declaration is not one object written out/,
  ],
  'a declaration that is exported': [
    element("contract('bee-form', about)", view, 'export const about = { attributes: { label: text() } };'),
    /the declaration is not one object written out/,
  ],
  'spread attributes that a function makes': [
    element("contract('bee-form', { attributes: { ...more } })", view, 'const more = Object({ label: text() });'),
    /"attributes" is not an object written out/,
  ],
  'a kind that a function makes': [
    element("contract('bee-form', { attributes: { label } })", view, 'const label = (() => text())();'),
    /"label" is not a kind of the library/,
  ],
  'a kind whose options are computed': [
    element("contract('bee-form', { attributes: { label } })", view, 'const label = text({ about: String(Date()) });'),
    /"label" is not a kind of the library/,
  ],
  'a kind in a constant of a function with a name of its own': [
    `${all}const options = { about: 'x' };\nconst label = integer(options);\nconst make = (options: object) => contract('bee-form', { attributes: { label } });\nexport class BeeForm extends make({}) { ${view} }\n`,
    /"label" is not a kind of the library/,
  ],
  'a default that two elements share': [
    element(
      "contract('bee-form', { attributes: { conf } })",
      view,
      "const options = { default: [1] };\nconst conf = json(options);\nexport class BeeOther extends contract('bee-form-other', { attributes: { conf } }) {}",
    ),
    /the options of a kind are not one object written out/,
  ],
  'a kind of root in a variable': [
    element("contract('bee-form', { attributes: { label: text() }, shadow })", view, "let shadow = 'none' as const;"),
    /"shadow" is not written out/,
  ],
  'a template inside the declaration': [
    element(
      "contract('bee-form', { attributes: { label: text() }, properties: { shown: data(() => markup`<p></p>`) } })",
    ),
    /it contains a template/,
  ],
  'a contract inside another': [
    element(
      "contract('bee-form', { attributes: { label: text() }, properties: { shown: data(() => contract('bee-in', {})) } })",
    ),
    /it contains another contract/,
  ],
  'CSS with a string that has no end': [
    element(plain, `static styleSheets = [stylesheet\`p { content: "x\n }\`]; ${view}`),
    /this stylesheet .*: line 1 of it has a string without an end, so its text is as long as it was written/,
  ],
  'an expression in a comment of CSS': [
    element(plain, `static styleSheets = [stylesheet\`p { /* \${name} */ }\`]; ${view}`, "const name = 'p';"),
    /this stylesheet .*: an expression is in a comment, /,
  ],
  'a foreign element inside select': [
    element(plain, 'view() { return markup`<select><img></select>`; }'),
    /engines differ about <img> inside <select>/,
  ],
};

const sheetFile = `@import './other.css';\np { color: red }`;

const compiled: Record<string, string> = {
  'everything written out': element(plain),
  'types around it': element("contract('bee-form', { attributes: { label: text() } } as const)"),
  parentheses: element("(contract('bee-form', { attributes: { label: (text()) } }))"),
  'a tag in a constant': element(
    'contract(tag, { attributes: { label: text() } })',
    view,
    "const tag = 'bee-form' as const;",
  ),
  'a declaration in a constant': element(
    "contract('bee-form', about)",
    view,
    'const about = { attributes: { label: text() } } as const;',
  ),
  'spread attributes': element(
    "contract('bee-form', { attributes: { ...more, ...{ size: integer() } } })",
    view,
    'const label = text();\nconst more = { label, other: text() };',
  ),
  'a kind in a constant': element(
    "contract('bee-form', { attributes: { label, mood } })",
    view,
    "export const label = text();\nconst moods = ['calm', 'busy'] as const;\nconst mood = choice(moods, { missing: 'calm', invalid: 'calm' });",
  ),
  'options in a constant': element(
    "contract('bee-form', { attributes: { label: text(options), other: text({ ...options, attribute: name }) } })",
    view,
    "const name = 'x-other';\nconst options = { about: 'A label.' };",
  ),
  'a kind of root in a constant': element(
    "contract('bee-form', { attributes: { label: text() }, shadow })",
    view,
    "const shadow = 'none';",
  ),
  'other names': `import { contract as c, text as t, markup as m } from 'eltrix';\nexport class BeeForm extends c('bee-form', { attributes: { label: t() } }) { view() { return m\`<p>\${() => this.label}</p>\`; } }\n`,
  'text as tag in a template literal without expressions': element(
    "contract('bee-form', { 'attributes': { 'label': text({}) } })",
  ),
  'CSS that is not understood': element(
    plain,
    `static styleSheets = [stylesheet\`p { color: red; } @unknown? } \`]; ${view}`,
  ),
  'an expression anywhere in CSS': element(
    plain,
    `static styleSheets = [stylesheet\`\${name} { \${name}: red; } \${name}\`]; ${view}`,
    "const name = 'p';",
  ),
  'a part of a value in CSS': element(
    plain,
    `static styleSheets = [stylesheet\`p { margin: \${gap}px }\`]; ${view}`,
    'const gap = 3;',
  ),
  'a part of a value in CSS of an element with hooks': element(
    plain,
    `static styleSheets = [stylesheet\`p { margin: \${gap}px; }\n  b { padding: 0 \${gap}px \${gap}px }\`]; connected() {} ${view}`,
    'const gap = 3;\nexport const shared = stylesheet`i { color: ${String(gap)} }`;',
  ),
  'nested and conditional markup': element(
    plain,
    'view() { return markup`<p>${() => (this.label ? markup`<b>${() => this.label}</b>` : markup`<i></i>`)}</p>`; }',
  ),
  'enums, satisfies and overloads': element(
    plain,
    `${view} level(): number; level(to?: number): number { return (to ?? Level.High) satisfies number; }`,
    'enum Level { Low, High }',
  ),
};

/** All forms in one project, each under a tag and in a file of its own. */
describe('code that is not analysable stays as written, and is reported', () => {
  const { stdout, stderr } = build(Object.values(left).map(([source]) => source));
  for (const [at, [name, [, says]]] of Object.entries(left).entries())
    it(name, () => {
      assert.equal(stderr, '');
      const notes = stdout.split('\n').filter(line => line.startsWith(`src/form-${at}.ts:`));
      assert.ok(
        notes.some(note => says.test(note) && /^\S+:\d+:\d+ note \(not-compiled\): /.test(note)),
        notes.join('\n') || 'nothing is said',
      );
    });
});

describe('a sheet in a file with @import', () => {
  it('is reported, since browsers ignore the @import', () => {
    const source = element(
      plain,
      `static styleSheets = [sheet]; ${view}`,
      "import sheet from './form.css' with { type: 'css' };",
    );
    const root = project({ 'src/form.ts': source, 'src/form.css': sheetFile });
    const { status, stdout, stderr } = eltrix(root, 'build', '--no-look');
    assert.deepEqual([status, stderr], [0, '']);
    assert.match(stdout, /src\/form\.css:1:1 note \(not-compiled\): .*@import does nothing in a constructed sheet/);
  });
});

it('a contract in constants costs no more than one in place', () => {
  const inPlace = "contract('bee-form', { attributes: { label: text(), size: integer({ default: 3 }) } })";
  const constants = `const tag = 'bee-form';\nconst label = text();\nconst options = { default: 3 };\nconst attributes = { label, size: integer(options) };`;
  const [one, other] = [element(inPlace), element('contract(tag, { attributes })', view, constants)].map(source => {
    const root = project({ 'src/form.ts': source });
    assert.equal(eltrix(root, 'build', '--no-look').status, 0);
    return readFileSync(join(root, 'dist/bee-form.js'), 'utf8');
  });
  assert.match(one!, /bee-form/);
  // Only the option is still a constant.
  assert.ok(other!.length < one!.length + 30, `${one!.length} and ${other!.length} characters`);
});

describe('analysable code is compiled', () => {
  const { stdout, stderr } = build(Object.values(compiled));
  for (const [at, name] of Object.keys(compiled).entries())
    it(name, () => {
      assert.equal(stderr, '');
      assert.ok(stdout.includes(`bee-form-${at}.js`));
      assert.doesNotMatch(stdout, new RegExp(`form-${at}\\.ts:.*not-compiled`));
    });
});
