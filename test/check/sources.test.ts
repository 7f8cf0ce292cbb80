/** The check of sources, as builds print it. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { eltrix, project } from '../support/project.ts';

describe('checks of sources', () => {
  const bad = `import { contract, event, markup, slot, stylesheet } from 'eltrix';
export class BadSource extends contract('bad-source', { events: { 'bad-never': event() }, slots: { '': slot('x') } }) {
  view() {
    return markup\`<img src="x.png"><label>Nothing</label><label for="no">x</label><label for="a">y</label><input id="a">
      <div onclick=\${() => this.emit('bad-secret' as never, null as never)}>click</div>
      <slot name="other"></slot><bad-source nmae=\${1} slot=\${'x'}>\${3}</bad-source>
      \${[1].map(() => markup\`<b onclick=\${() => {}}>x</b>\`)}<slot></slot><img \${{ alt: 'x' }}>
      <ul role="listbox"><li role="option" onclick=\${() => {}}>one</li><li role=\${'option'} onclick=\${() => {}}>two</li></ul>\`;
  }
  static styleSheets = [stylesheet\`\${'p'} {
    color: red;
  }\`];
}
`;
  const source = project({
    'src/bad-source.ts': bad,
    'src/end-source.ts': bad
      .replaceAll('bad-source', 'end-source')
      .replace('BadSource', 'EndSource')
      .replaceAll('\n', '\r\n'),
  });
  const expected = [
    '2:67 event-unsent',
    '4:19 name-role',
    '4:36 name-role',
    '4:58 name-role',
    '5:7 keyboard-reach',
    '5:38 event-declared',
    '6:7 slots-there',
    '6:45 attribute-unknown',
    '7:30 keyboard-reach',
  ];

  it('are part of a build', () => {
    const { stdout, status } = eltrix(source, 'build', '--no-look');
    assert.equal(status, 0);
    const linesOf = (file: string) =>
      [...stdout.matchAll(/^src\/([a-z-]+)\.ts:(\d+:\d+) finding \(([a-z-]+)\)/gm)].flatMap(([, name, at, code]) =>
        name === file ? `${at} ${code}` : [],
      );
    assert.deepEqual(linesOf('bad-source'), expected);
    assert.deepEqual(linesOf('end-source'), expected);
  });

  it('are those of the class under whichever name it is exported, also of classes without one', () => {
    const call = (tag: string) =>
      `contract('${tag}', { events: { 'bee-sent': event(), 'bee-never': event() }, slots: { '': slot('x') } })`;
    const body =
      "{ view() { return markup`<slot></slot><slot name='no'></slot>`; } send() { this.emit('bee-sent'); this.emit('bee-else'); } }";
    const ways: Record<string, string> = {
      declared: `export class Bee extends ${call('bee-declared')} ${body}`,
      renamed: `class Inner extends ${call('bee-renamed')} ${body}\nexport { Inner as Outer };`,
      default: `export default class extends ${call('bee-default')} ${body}`,
      expression: `export const Bee = class extends ${call('bee-expression')} ${body};`,
      constants: `const tag = 'bee-constants';\nconst Above = ${call('x-y').replace("'x-y'", 'tag')};\nexport const Bee = class extends Above ${body};`,
      extended: `class Above extends ${call('bee-extended')} {}\nexport class Bee extends Above ${body}`,
      mixed: `const mixed = Base => class extends Base {};\nexport default class extends mixed(${call('bee-mixed')}) ${body}`,
    };
    const root = project(
      Object.fromEntries(
        Object.entries(ways).map(([name, code]) => [
          `src/${name}.js`,
          `import { contract, event, markup, slot } from 'eltrix';\n${code}\n`,
        ]),
      ),
    );
    const { stdout } = eltrix(root, 'build', '--no-look');
    for (const name of Object.keys(ways)) {
      const codes = [...stdout.matchAll(new RegExp(`^src/${name}\\.js:.*finding \\(([a-z-]+)\\)`, 'gm'))];
      assert.deepEqual(codes.map(([, code]) => code).sort(), ['event-declared', 'event-unsent', 'slots-there'], name);
    }
  });

  it('find what other template languages write, sheets with mistakes, and markup that nothing gets', () => {
    const root = project({
      'src/a.ts': `import { contract, markup, stylesheet, text } from 'eltrix';
const row = () => markup\`<li @click=\${() => 1}>x</li>\`;
const shared = stylesheet\`bee-two::part(bxo) { color: red }\`;
export class BeeCard extends contract('bee-card', { attributes: { name: text() } }) {
  static styleSheets = [shared, stylesheet\`
    p { color red; }
    bee-card:hover p, :host(bee-card) p { color: if(style(--x: 1): red; else: blue) }\`];
  view() {
    markup\`<p>lost</p>\`;
    return markup\`<p className=\${'a'} .title=\${'x'} ?hidden=\${false}
      on:click=\${() => 1} @plain="x">\${() => this.name}</p><script>alert(1)</script>
      <script type="application/json">{}</script>\${row()}<bee-two exportparts="bxo"></bee-two>\`;
  }
}
export class BeeTwo extends contract('bee-two', { attributes: { label: text() }, parts: { box: 'A box.' } }) {
  static styleSheets = [stylesheet\`bee-two b { color: red }\`];
  view() { return markup\`<bee-two></bee-two><p part="box">\${() => this.label}</p>\`; }
}
`,
      'src/c.css': 'p { color red; }\nbee-three p { color: blue }\np { .a bee-three & { color: red } }\n',
      'src/c.ts': `import { contract, markup } from 'eltrix';
import sheet from './c.css' with { type: 'css' };
export class BeeThree extends contract('bee-three', {}) {
  static styleSheets = [sheet];
  view() { return markup\`<p>x</p>\`; }
}
`,
    });
    const { stdout } = eltrix(root, 'build', '--no-look');
    assert.match(stdout, /^src\/c\.css:1:11 finding \(css-syntax\)/m);
    assert.match(stdout, /^src\/c\.css:2:1 finding \(selector-invalid\)/m);
    assert.match(stdout, /^src\/c\.css:3:8 finding \(selector-invalid\)/m);
    const lines = [...stdout.matchAll(/^src\/a\.ts:(\d+:\d+) finding \(([a-z-]+)\)/gm)].map(
      ([, at, code]) => `${at} ${code}`,
    );
    assert.deepEqual(lines, [
      '2:30 attribute-odd',
      '3:41 part-unknown',
      '6:15 css-syntax',
      '7:5 selector-invalid',
      '9:5 markup-unused',
      '10:22 attribute-odd',
      '10:39 attribute-odd',
      '10:53 attribute-odd',
      '11:7 attribute-odd',
      '11:60 script-inert',
      '12:80 part-unknown',
    ]);
  });

  it('find elements in markup whose import TypeScript drops, since it is used for types alone', () => {
    const element = (tag: string, name: string, imports: string, view: string) =>
      `import { contract, handle, markup } from 'eltrix';\n${imports}\nexport class ${name} extends contract('${tag}', {}) {\n  view() { return markup\`${view}\`; }\n}\n${name}.define();\n`;
    const used = '<bee-inner ${handle<BeeInner>()}></bee-inner>';
    const taken = "import { BeeInner } from './inner.ts';";
    const files = {
      'src/inner.ts': element('bee-inner', 'BeeInner', '', 'x'),
      'src/dropped.ts': element('bee-dropped', 'BeeDropped', taken, used),
      'src/also.ts': element('bee-also', 'BeeAlso', `${taken}\nimport './inner.ts';`, used),
      'src/through.ts': element('bee-through', 'BeeThrough', `${taken}\nimport './also.ts';`, used),
      'src/value.ts': element('bee-value', 'BeeValue', `${taken}\nconsole.log(BeeInner);`, used),
      'src/later.ts': element('bee-later', 'BeeLater', `${taken}\nimport('./inner.ts');`, used),
      'src/other.ts': element('bee-other', 'BeeOther', taken, '<p ${handle<BeeInner>()}></p>'),
      'src/named.ts': element(
        'bee-named',
        'BeeNamed',
        taken,
        '<!-- <bee-inner> --><p title="<bee-inner>" ${handle<BeeInner>()}></p>',
      ),
      'src/script.js': element('bee-script', 'BeeScript', taken, '<bee-inner></bee-inner>'),
    };
    const found = (more: Record<string, string> = {}) =>
      [
        ...eltrix(project({ ...files, ...more }), 'build', '--no-look').stdout.matchAll(
          /^(\S+) finding \(import-dropped\): (.*)/gm,
        ),
      ].map(([, at, text]) => `${at} ${text}`);
    assert.deepEqual(found(), [
      'src/dropped.ts:2:1 <bee-inner> is not defined: TypeScript drops this import, since it is used for types alone. ' +
        'Write import \'./inner.ts\' as well, or set "verbatimModuleSyntax": true in tsconfig.json.',
    ]);
    assert.deepEqual(found({ 'tsconfig.json': '{ "compilerOptions": { "verbatimModuleSyntax": true } }' }), []);
  });

  it('find nothing wrong with a slot whose content is passed on', () => {
    const root = project({
      'src/a.ts': `import { contract, markup, slot } from 'eltrix';
export class InnerNote extends contract('inner-note', {
  slots: { '': slot('The text.', { required: true }), icon: slot('A picture.', { accepts: 'img' }) },
}) {
  view() { return markup\`<slot name="icon"></slot><slot></slot>\`; }
}
export class OuterNote extends contract('outer-note', { slots: { '': slot('The text.'), icon: slot('A picture.') } }) {
  view() { return markup\`<inner-note><slot name="icon" slot="icon"></slot><slot></slot></inner-note><inner-note><b slot="icon"></b>x</inner-note>\`; }
}
`,
    });
    const { stdout } = eltrix(root, 'build', '--no-look');
    assert.deepEqual(
      [...stdout.matchAll(/finding \(([a-z-]+)\)[^\n]*/g)].map(([, code]) => code),
      ['slot-accepts'],
    );
  });

  it('read the escapes of templates', () => {
    const root = project({
      'src/a.ts': `import { contract, markup, slot, stylesheet } from 'eltrix';
export class OddNames extends contract('odd-names', { slots: { 'a\`b': slot('One.'), 'ü': slot('Another.') }, parts: { edge: 'The edge.' } }) {
  static styleSheets = [stylesheet\`.\\\\31 0, .sm\\\\:flex { color: red } q::before { content: '\\\\201C' }\`];
  view() { return markup\`<slot name="a\\\`b"></slot><slot name="\\u00fc"></slot>\\n<i part="\\x65dge" class="sm:flex 10"></i>\\
    <img src="x.png">\`; }
}
`,
    });
    const { stdout } = eltrix(root, 'build', '--no-look');
    const found = [...stdout.matchAll(/^src\/a\.ts:(\d+:\d+) finding \(([a-z-]+)\)/gm)].map(
      ([, at, code]) => `${at} ${code}`,
    );
    assert.deepEqual(found, ['5:5 name-role'], stdout);
  });
});
