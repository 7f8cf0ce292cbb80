/** The check of pages, by the command line. */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { chmodSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { before, describe, it } from 'node:test';
import { eltrix, project, tool } from '../support/project.ts';

const root = project({
  'src/bee-card.ts': `import { choice, clamped, contract, event, flag, integer, json, markup, slot, text } from 'eltrix';
export class BeeCard extends contract('bee-card', {
  attributes: { name: text(), mood: choice(['calm', 'busy']), legs: integer(), load: clamped(0, 9), tired: flag(), path: json<number[]>() },
  events: { 'bee-hum': event() },
  slots: { '': slot('All.'), badge: slot('A badge.', { accepts: 'img, b' }), name: slot('Needed.', { required: true }) },
}) {
  view() { return markup\`<slot name="name"></slot><slot name="badge"></slot><slot></slot><button type="button" onclick=\${() => this.emit('bee-hum', null)}>Hum</button>\`; }
}
`,
  'src/bee-field.ts': `import { contract, event, slot, text } from 'eltrix';
export class BeeField extends contract('bee-field', {
  form: true,
  attributes: { label: text({ deprecated: 'use a <label>' }), size: text() },
  events: { 'bee-old': event({ deprecated: 'listen to input' }) },
  slots: { '': slot('All.'), hint: slot('A hint.', { deprecated: 'use aria-describedby' }) },
  parts: { box: 'The box.', badge: 'The badge.' },
  states: { ripe: 'It is ripe.' },
  cssProperties: { '--bee-colour': 'Its colour.' },
}) {}
`,
  'src/bee-old.ts': `import { contract } from 'eltrix';
export class BeeOld extends contract('bee-old', { deprecated: 'use <bee-card>' }) {}
`,
  'src/bee-button.ts': `import { contract, flag } from 'eltrix';
export class BeeButton extends contract('bee-button', { extends: 'button', attributes: { loud: flag() } }) {}
`,
  'src/bee-pick.ts': `import { contract, slot } from 'eltrix';
export class BeePick extends contract('bee-pick', { shadow: { mode: 'open', slotAssignment: 'manual' }, slots: { one: slot('One.') } }) {}
`,
  'node_modules/other-bees/package.json':
    '{ "name": "other-bees", "version": "1.0.0", "customElements": "elements.json" }',
  'node_modules/other-bees/elements.json': JSON.stringify({
    schemaVersion: '1.0.0',
    modules: [
      {
        kind: 'javascript-module',
        path: 'x.js',
        declarations: [
          {
            kind: 'class',
            name: 'X',
            customElement: true,
            tagName: 'bee-carb',
            attributes: [{ name: 'size', type: { text: "'small' | 'large'" } }],
          },
        ],
      },
    ],
  }),
  'package.json': '{ "type": "module", "dependencies": { "other-bees": "1.0.0" } }',
  'src/bee-dot.ts': `import { contract, markup } from 'eltrix';
export class BeeDot extends contract('bee-dot', {}) { view() { return markup\`.\`; } }
`,
});
const named = '<i slot="name">Rue</i>';

interface Found {
  readonly file: string;
  readonly line: number;
  readonly column: number;
  readonly code: string;
}

const told = ({ line, column, code }: Found) => `${line}:${column} ${code}`;

/** What is found in one page: `line:column code`. */
function found(html: string, ...args: string[]): string[] {
  const { stdout } = spawnSync(process.execPath, [tool, 'check', '-', '--json', ...args], {
    cwd: root,
    input: html,
    encoding: 'utf8',
  });
  return (JSON.parse(stdout) as { findings: Found[] }).findings.map(told);
}

const cases: readonly (readonly [what: string, html: string, expected: readonly string[]])[] = [
  [
    'a good use',
    `<bee-card name="Rue" mood="BUSY" legs="-4" load="9" tired path='[1]' onclick="y()" class="a" data-x aria-label="b">${named}<b slot="badge">x</b>text</bee-card>`,
    [],
  ],
  ['a tag nearly right', `<bee-crad>${named}</bee-crad>`, ['1:1 tag-unknown']],
  [
    'tags of others',
    '<bee-zoo></bee-zoo><other-thing></other-thing><bee-cards-list></bee-cards-list><wasp-card></wasp-card>',
    [],
  ],
  [
    'a tag of an installed package',
    '<bee-carb size="small"></bee-carb><bee-carb size="medium"></bee-carb>',
    ['1:45 choice-invalid'],
  ],
  [
    'a tag that the page defines',
    "<script>customElements.define('bee-cart', class extends HTMLElement {});</script><bee-cart></bee-cart>",
    [],
  ],
  ['an attribute nearly right', `<bee-card nmae="x">${named}</bee-card>`, ['1:11 attribute-unknown']],
  [
    'flags',
    `<bee-card tired="false">${named}</bee-card>\n<bee-card tired="yes">${named}</bee-card>`,
    ['1:11 flag-false', '2:11 flag-value'],
  ],
  [
    'numbers',
    `<bee-card legs="six" load="12">${named}</bee-card><bee-card legs="6px">${named}</bee-card>`,
    ['1:11 number-invalid', '1:22 number-range', '1:75 number-invalid'],
  ],
  ['a word', `<bee-card mood="bussy">${named}</bee-card>`, ['1:11 choice-invalid']],
  ['JSON, with the place in it', `<bee-card path='[1, oops]'>${named}</bee-card>`, ['1:21 json-invalid']],
  ['JSON with entities', `<bee-card path="[&quot;a&quot;, oops]">${named}</bee-card>`, ['1:33 json-invalid']],
  ['a slot', `<bee-card>${named}<b slot="bagde">x</b></bee-card>`, ['1:36 slot-unknown']],
  ['loose content', '<bee-dot>\n  text\n</bee-dot>', ['2:3 slot-loose']],
  ['a required slot', '<bee-card></bee-card>', ['1:1 slot-required']],
  ['a child that is not accepted', `<bee-card>${named}<p slot="badge">x</p></bee-card>`, ['1:33 slot-accepts']],
  ['ids', `<p id="a"></p><p id="a"></p><bee-card>${named}<b slot="badge" id="a"></b></bee-card>`, ['1:77 id-twice']],
  [
    'handlers that no browser runs',
    `<bee-card onbee-hum="x()">${named}</bee-card><bee-card onbee-hmu="x()">${named}</bee-card>`,
    ['1:11 handler-dead', '1:70 handler-dead'],
  ],
  ['a handler for the event of another', '<bee-dot onbee-hum="x()"></bee-dot>', ['1:10 handler-dead']],
  ['self-closed', `<bee-dot />text<p>more</p>`, ['1:1 tag-self-closed', '1:12 slot-loose']],
  ['unclosed', `<div><bee-card>${named}</div><p>more</p>`, ['1:6 tag-unclosed']],
  ['an end tag nearly right', `<bee-card>${named}</bee-crad><p>more</p>`, ['1:33 end-tag-unknown']],
  ['in a table', `<table><bee-dot></bee-dot><tr><td><bee-dot></bee-dot></td></tr></table>`, ['1:8 tag-in-table']],
  ['in a table row', `<table><tr><bee-dot></bee-dot></tr></table>`, ['1:12 tag-in-table']],
  ['in a select', `<select><bee-dot></bee-dot></select>`, ['1:9 tag-in-select']],
  ['in a paragraph', `<p><bee-card>${named}<div>x</div></bee-card></p>`, ['1:36 tag-in-paragraph']],
  ['in a paragraph, well', `<p><bee-card>${named}<span>x</span></bee-card></p>`, []],
  ['an attribute twice', `<bee-card mood="calm" mood="busy">${named}</bee-card>`, ['1:23 attribute-twice']],
  ['an attribute twice on others', '<p a a>x</p>', []],
  [
    'labels',
    `<label for="a">x</label><bee-field id="b"></bee-field><label for="c">y</label><bee-dot id="c"></bee-dot>`,
    ['1:8 label-for', '1:62 label-for'],
  ],
  ['labels without elements', `<label for="a">x</label>`, []],
  [
    'ARIA',
    `<bee-card aria-lable="x">${named}<b slot="badge" aria-hiden="true"></b></bee-card><p aria-odd></p>`,
    ['1:11 attribute-unknown', '1:64 attribute-unknown'],
  ],
  ['a slot too deep', `<bee-card>${named}<div><b slot="badge">x</b></div></bee-card>`, ['1:41 slot-deep']],
  ['a slot handed on', `<bee-card>${named}<other-card><b slot="badge">x</b></other-card></bee-card>`, []],
  [
    'is',
    '<button is="bee-buton">x</button><a is="bee-button">x</a><bee-button>x</bee-button><p is="bee-dot"></p><p is="other-thing"></p>',
    ['1:9 is-misused', '1:37 is-misused', '1:58 is-misused', '1:87 is-misused'],
  ],
  ['a customized built-in', '<button is="bee-button" loud type="submit" form="f"><b>x</b> text</button>', []],
  ['a flag of a customized built-in', '<button is="bee-button" loud="false">x</button>', ['1:25 flag-false']],
  ['part', '<bee-field part="box"></bee-field><p part="x"></p>', ['1:12 part-unused']],
  [
    'part in a root that the page brings',
    '<bee-dot><template shadowrootmode="open"><bee-field part="box"></bee-field><template><bee-field part="box"></bee-field></template></template></bee-dot><template><bee-field part="box"></bee-field></template>',
    [],
  ],
  ['slots that a script assigns', '<bee-pick><b>x</b><i slot="other"></i></bee-pick>', []],
  [
    'attributes of other libraries',
    `<bee-card hx-get="/x" x-on:click="y" v-if="z" @click="a" :name="b" [mood]="c" ng-model="d" data-a wire:model="e">${named}</bee-card>`,
    [],
  ],
  [
    'what is deprecated-use',
    '<bee-old></bee-old><bee-field label="x"><b slot="hint">y</b></bee-field>',
    ['1:1 deprecated-use', '1:31 deprecated-use', '1:41 deprecated-use'],
  ],
  ['what is never shown', `<bee-dot><script>1</script><style>p {}</style><template>x</template></bee-dot>`, []],
  [
    'styles',
    `<style>bee-field::part(bxo) { color: red }
bee-field:state(rip) {}
bee-crad, bee-field { --bee-color: red }
bee-card[mood="bussy"], bee-card[moood] {}
.a bee-field:hover::part(box badge), bee-field:not(bee-filed) {}
</style>`,
    [
      '1:24 part-unknown',
      '2:17 state-unknown',
      '3:1 tag-unknown',
      '3:23 css-property-unknown',
      '4:15 choice-invalid',
      '4:34 attribute-unknown',
      '5:52 tag-unknown',
    ],
  ],
  [
    'nested styles',
    `<style>
bee-field { .a &::part(bxo) {} bee-filed & { color: red } }
bee-field { @media print { --bee-color: red; &:hover { --bee-color: red } } p { --bee-color: red } }
p { > bee-card { &[moood] {} } --beee-color: { bee-filed: red } }
@scope (bee-field) to (bee-filed) { :scope:state(rip) {} }
@media { bee-field:state(rip) { } ; } } bee-field::part(bxo, box) { { {{ ( </style>`,
    [
      '2:24 part-unknown',
      '2:32 tag-unknown',
      '3:28 css-property-unknown',
      '3:56 css-property-unknown',
      '4:20 attribute-unknown',
      '5:24 tag-unknown',
      '5:50 state-unknown',
      '6:26 state-unknown',
      '6:57 part-unknown',
    ],
  ],
  [
    'escapes in styles',
    `<style>bee\\-field::part(b\\6f x) { color: var(--mi\\6ee) } bee-field { --mine: 1; --bee\\2d color: red } bee-field::part(b\\78 o) {}</style>`,
    ['1:81 css-property-unknown', '1:119 part-unknown'],
  ],
  ['deeply nested styles', `<style>${'bee-card { ('.repeat(20_000)}</style>`, []],
  [
    'styles of others',
    `<style>other-thing::part(x) { --y: 1 } p { --bee-colour: red; --be-colour: blue } :root { --bee-col: red } bee-field { --mine: 1 } bee-field::before {} bee-field:hover {} /* bee-crad */</style>`,
    [],
  ],
  [
    'a style attribute',
    `<bee-field style="color: red; --bee-colur: &quot;x&quot;"></bee-field>`,
    ['1:31 css-property-unknown'],
  ],
  [
    'scripts',
    `<!doctype html><title>x</title><script type="module" src="/w/bee-dot.js"></script><bee-dot></bee-dot><bee-card>${named}</bee-card>`,
    ['1:102 script-missing'],
  ],
  [
    'scripts that may define anything',
    `<!doctype html><title>x</title><script type="module" src="/main.js"></script><bee-card>${named}</bee-card>`,
    [],
  ],
  [
    'a quote that is not closed',
    `<p>a</p><bee-card name="x>${named.replaceAll('"', '')}</bee-card>`,
    ['1:9 tag-quotes'],
  ],
  ['a quote that a later one closes', `<bee-card name="x>${named}</bee-card><p class="a">b</p>`, ['1:11 tag-quotes']],
  ['a quote that is not closed before an element', `<p class="a><bee-dot></bee-dot>`, ['1:1 tag-quotes']],
  ['quotes around a name', `<bee-dot "mood"="busy"></bee-dot>`, ['1:10 tag-quotes']],
  ["quotes that are the page's own matter", '<p class="a" "b">x</p><bee-dot></bee-dot>', []],
  ['spaces in tags', `< bee-dot></bee-dot><bee-card>${named}</ bee-card>`, ['1:1 tag-space', '1:53 tag-space']],
  ['spaces after other signs', '<p>a < b, c < bee</p><bee-dot></bee-dot>', []],
  ['an end tag alone', '<p></bee-dot></p>', ['1:4 end-tag-stray']],
  ['an end tag with attributes', '<bee-dot></bee-dot mood="busy">', ['1:10 end-tag-attributes']],
  [
    'elements that others cannot contain twice',
    `<a href="#"><bee-card>${named}<a href="#">x</a></bee-card></a><button><bee-card>${named}<button>x</button></bee-card></button>`,
    ['1:13 tag-unclosed', '1:85 tag-unclosed'],
  ],
  [
    'in SVG and MathML',
    '<svg><bee-dot></bee-dot></svg><math><bee-dot></bee-dot></math><svg><foreignObject><bee-dot></bee-dot></foreignObject></svg>',
    ['1:6 tag-in-foreign', '1:37 tag-in-foreign'],
  ],
  [
    'a tag without its hyphen',
    '<beedot></beedot><bee_dot></bee_dot><BeeDot></BeeDot>',
    ['1:1 tag-unknown', '1:18 tag-unknown', '1:37 tag-unknown'],
  ],
  [
    'a slot element in a page',
    `<!doctype html><title>x</title><script src="/x.js"></script><bee-card>${named}<slot name="badge"><b>x</b></slot></bee-card><template><bee-card>${named}<slot></slot></bee-card></template>`,
    ['1:93 slot-element'],
  ],
  ['nearly slot', `<bee-card><b slots="name">x</b></bee-card>`, ['1:1 slot-required', '1:14 attribute-unknown']],
  [
    'handlers that are nearly right',
    `<bee-card on-bee-hum="x()" onclik="y()" on-tap="z()" ontap="z()">${named}</bee-card>`,
    ['1:11 handler-dead', '1:28 attribute-unknown'],
  ],
  [
    'flags of the platform',
    `<bee-field disabled="false" required="0" readonly></bee-field><bee-dot hidden="false"></bee-dot><bee-dot hidden="until-found" inert=""></bee-dot><button is="bee-button" disabled="off">x</button>`,
    ['1:12 flag-false', '1:29 flag-false', '1:72 flag-false', '1:170 flag-false'],
  ],
  ['exported parts', '<bee-field exportparts="bxo, badge: sign"></bee-field>', ['1:25 part-unknown']],
  [
    'modes of roots',
    '<bee-dot><template shadowroot="open"></template></bee-dot><bee-dot><template shadowrootmode="opened"></template></bee-dot><bee-dot><template shadowrootmode="CLOSED"></template></bee-dot>',
    ['1:20 root-mode', '1:78 root-mode'],
  ],
  [
    'selectors that match nothing',
    `<style>bee-field::part(box) b {}
bee-field::part(box)::part(badge) {}
bee-field:--ripe {}
bee-field::slotted(b) {}
bee-card[tired="true"], bee-card[tired=""] {}
bee-field::part(box):hover::before {}
</style>`,
    [
      '1:28 selector-invalid',
      '2:21 selector-invalid',
      '3:10 selector-invalid',
      '4:10 selector-invalid',
      '5:9 flag-value',
    ],
  ],
  [
    'what a template language fills in',
    `<bee-card mood="{{ mood }}" legs="<?= $legs ?>" load="\${load}" tired="{% if t %}x{% endif %}" path="<%= path %>" id="{{ id }}" exportparts="{{ p }}"><i slot="name">x</i><b slot="{{ slot }}">y</b></bee-card><bee-card id="{{ id }}" <?php echo "name" ?>>${named}</bee-card><label for="{{ id }}">z</label><bee-card>{{ content }}</bee-card><bee-card><?= $content ?></bee-card><bee-dot>{{ x }}</bee-dot><style>bee-field::part({{ part }}) { --bee-colour: {{ x }} } bee-card[mood="{{ mood }}"] { color: <?= $x ?> }</style>`,
    [],
  ],
  ['a template', `<template><bee-card tired="false">${named}</bee-card></template>`, ['1:21 flag-false']],
  ['a declarative root', '<bee-dot><template shadowrootmode="open">x</template></bee-dot>', []],
];

describe('eltrix check with pages', () => {
  let all: Map<string, string[]>;
  before(() => {
    mkdirSync(join(root, 'cases'));
    for (const [at, [, html]] of cases.entries()) writeFileSync(join(root, `cases/${at}.html`), html);
    const { stdout } = eltrix(root, 'check', 'cases', '--json');
    all = new Map(cases.map((_, at) => [`cases/${at}.html`, []]));
    for (const finding of (JSON.parse(stdout) as { findings: Found[] }).findings)
      all.get(finding.file)!.push(told(finding));
  });
  for (const [at, [what, , expected]] of cases.entries())
    it(what, () => assert.deepEqual(all.get(`cases/${at}.html`), expected));

  it('reads style sheets', () => {
    writeFileSync(join(root, 'a.css'), 'p {}\nbee-field::part(bagde) {}');
    const { stdout } = eltrix(root, 'check', 'a.css', '--fix');
    assert.match(stdout, /1 page, 0 findings\. 1 fixed\./);
    assert.equal(readFileSync(join(root, 'a.css'), 'utf8'), 'p {}\nbee-field::part(badge) {}');
  });

  it('--fix keeps all other bytes, in any encoding', () => {
    const page = (text: string, head = '') =>
      `${head}<p>Größe ${text}</p>\r\n<bee-card mood="bussy">${named}</bee-card>\r`;
    const fixed = (text: string) => text.replace('bussy', 'busy');
    const cases: Record<string, [bytes: Buffer, after: Buffer]> = {
      'utf8.html': [Buffer.from(page('é')), Buffer.from(fixed(page('é')))],
      'bom.html': [Buffer.from(page('é', '\uFEFF')), Buffer.from(fixed(page('é', '\uFEFF')))],
      'latin1.html': [Buffer.from(page('é'), 'latin1'), Buffer.from(fixed(page('é')), 'latin1')],
      'broken.html': [
        Buffer.concat([Buffer.from(page('a')), Buffer.from([0xff, 0x00, 0xc3])]),
        Buffer.concat([Buffer.from(fixed(page('a'))), Buffer.from([0xff, 0x00, 0xc3])]),
      ],
    };
    const utf16 = Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(page('é'), 'utf16le')]);
    const sjis = Buffer.concat([
      Buffer.from('<meta charset="Shift_JIS">'),
      Buffer.from([0x83, 0x5c]),
      Buffer.from(page('a'), 'latin1'),
    ]);
    cases['utf16.html'] = [utf16, utf16];
    cases['sjis.html'] = [sjis, sjis];
    mkdirSync(join(root, 'encodings'));
    for (const [file, [bytes]] of Object.entries(cases)) {
      writeFileSync(join(root, 'encodings', file), bytes);
      // Independent of the umask.
      chmodSync(join(root, 'encodings', file), 0o640);
    }
    const { stdout, status } = eltrix(root, 'check', 'encodings', '--fix');
    for (const [file, [, after]] of Object.entries(cases)) {
      assert.deepEqual(readFileSync(join(root, 'encodings', file)), after, file);
      assert.equal(statSync(join(root, 'encodings', file)).mode & 0o777, 0o640, file);
    }
    assert.equal(status, 1);
    assert.match(
      stdout,
      /sjis\.html:1:1 finding \(page-kept\): Nothing was fixed: its encoding, Shift_JIS, has letters of several bytes/,
    );
    assert.match(stdout, /utf16\.html:1:1 finding \(page-kept\): Nothing was fixed: the page is UTF-16/);
    assert.deepEqual(readdirSync(join(root, 'encodings')).sort(), Object.keys(cases).sort());
  });

  it('--fix applies unambiguous fixes only', () => {
    const page = `<bee-card nmae="x" mood="bussy"  tired="false" legs="six">${named}<b slot="bagde">y</b></bee-crad>\n<bee-dot/>`;
    writeFileSync(join(root, 'page.html'), page);
    const first = eltrix(root, 'check', 'page.html', '--fix');
    assert.equal(first.status, 1);
    assert.equal(
      readFileSync(join(root, 'page.html'), 'utf8'),
      `<bee-card name="x" mood="busy" legs="six">${named}<b slot="badge">y</b></bee-card>\n<bee-dot></bee-dot>`,
    );
    const last = eltrix(root, 'check', 'page.html', '--fix');
    assert.match(last.stdout, /page\.html:1:32 finding \(number-invalid\)/);
    assert.equal(last.status, 1);
  });

  it('--fix leaves what may mean something else, and fixes what another fix shows', () => {
    const fix = (page: string) => {
      writeFileSync(join(root, 'page.html'), page);
      const { stdout } = eltrix(root, 'check', 'page.html', '--fix');
      assert.doesNotMatch(stdout, /--fix fixes it/);
      return readFileSync(join(root, 'page.html'), 'utf8');
    };
    // "load" is a number; no element is open; the tag before ends nowhere.
    for (const left of [
      `<bee-card loud="false">${named}</bee-card>`,
      '<p></ bee-card></p>',
      '<bee-dot<b></b></bee-dto>',
      '<bee-dot<b />',
    ])
      assert.equal(fix(left), left);
    assert.equal(fix('<bee-dto/><i></i></beedto><bee-dot/>'), '<bee-dto></bee-dto><i></i></beedto><bee-dot></bee-dot>');
  });

  it('prints positions and source lines; exits with 0 without findings', () => {
    writeFileSync(join(root, 'page.html'), `<p>\n  <bee-card tired="false">${named}</bee-card>\n</p>`);
    const { stdout, status } = eltrix(root, 'check', 'page.html');
    assert.equal(status, 1);
    assert.match(
      stdout,
      /^page\.html:2:13 finding \(flag-false\): <bee-card>: tired="false" means yes: .* \[--fix fixes it\]\n> 2 \| .*\n {4}\| {13}\^\n/,
    );
    writeFileSync(join(root, 'page.html'), '<p>Plain.</p>');
    assert.equal(eltrix(root, 'check', 'page.html').status, 0);
    assert.equal(eltrix(root, 'check', 'nothing/*.html').status, 2);
  });

  it('prints SARIF', () => {
    const { stdout } = spawnSync(process.execPath, [tool, 'check', '-', '--sarif'], {
      cwd: root,
      input: '<bee-crad></bee-crad>',
      encoding: 'utf8',
    });
    const { version, runs } = JSON.parse(stdout) as {
      version: string;
      runs: { results: { ruleId: string; locations: { physicalLocation: object }[] }[] }[];
    };
    assert.equal(version, '2.1.0');
    assert.equal(runs[0]!.results[0]!.ruleId, 'tag-unknown');
    assert.deepEqual(runs[0]!.results[0]!.locations[0]!.physicalLocation, {
      artifactLocation: { uri: 'stdin' },
      region: { startLine: 1, startColumn: 1 },
    });
  });

  it('reads elements from a manifest', () => {
    writeFileSync(
      join(root, 'custom-elements.json'),
      JSON.stringify({
        schemaVersion: '2.1.0',
        modules: [
          {
            kind: 'javascript-module',
            path: 'x.js',
            declarations: [
              {
                kind: 'class',
                customElement: true,
                name: 'X',
                tagName: 'wasp-card',
                attributes: [
                  { name: 'size', type: { text: "'small' | 'large'" } },
                  { name: 'open', type: { text: 'boolean' } },
                ],
                slots: [{ name: 'head' }],
              },
            ],
          },
        ],
      }),
    );
    assert.deepEqual(
      found(
        '<wasp-card size="medium" open="false" colour="x"><b slot="haed"></b></wasp-card>',
        '--manifest',
        'custom-elements.json',
      ),
      ['1:12 choice-invalid', '1:26 flag-false', '1:39 attribute-unknown', '1:53 slot-unknown'],
    );
  });
});
