/** The check of pages and of sources, by the command line. */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, it } from 'node:test';
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
  'src/bee-dot.ts': `import { contract, markup } from 'eltrix';
export class BeeDot extends contract('bee-dot', {}) { view() { return markup\`.\`; } }
`,
});
const named = '<i slot="name">Rue</i>';

/** What is found in one page: `line:column code`. */
function found(html: string, ...args: string[]): string[] {
  const { stdout } = spawnSync(process.execPath, [tool, 'check', '-', '--json', ...args], {
    cwd: root,
    input: html,
    encoding: 'utf8',
  });
  const { findings } = JSON.parse(stdout) as { findings: { line: number; column: number; code: string }[] };
  return findings.map(({ line, column, code }) => `${line}:${column} ${code}`);
}

const cases: readonly (readonly [what: string, html: string, expected: readonly string[]])[] = [
  [
    'a good use',
    `<bee-card name="Rue" mood="BUSY" legs="-4" load="9" tired path='[1]' onbee-hum="x()" onclick="y()" class="a" data-x aria-label="b">${named}<b slot="badge">x</b>text</bee-card>`,
    [],
  ],
  ['a tag nearly right', `<bee-crad>${named}</bee-crad>`, ['1:1 tag-unknown']],
  ['a tag with the prefix', '<bee-zoo></bee-zoo><other-thing></other-thing>', ['1:1 tag-unknown']],
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
  ['a handler', `<bee-card onbee-hmu="x()">${named}</bee-card>`, ['1:11 event-unknown']],
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
  ['a template', `<template><bee-card tired="false">${named}</bee-card></template>`, ['1:21 flag-false']],
  ['a declarative root', '<bee-dot><template shadowrootmode="open">x</template></bee-dot>', []],
];

describe('eltrix check with pages', () => {
  for (const [what, html, expected] of cases) it(what, () => assert.deepEqual(found(html), expected));

  it('--fix mends what has one sure answer, and nothing else', () => {
    const page = `<bee-crad nmae="x" mood="bussy"  tired="false" legs="six">${named}<b slot="bagde">y</b></bee-crad>\n`;
    writeFileSync(join(root, 'page.html'), page);
    const first = eltrix(root, 'check', 'page.html', '--fix');
    assert.equal(first.status, 1);
    // What is inside a mended tag is seen only then.
    eltrix(root, 'check', 'page.html', '--fix');
    assert.equal(
      readFileSync(join(root, 'page.html'), 'utf8'),
      `<bee-card name="x" mood="busy" legs="six">${named}<b slot="badge">y</b></bee-card>\n`,
    );
    const last = eltrix(root, 'check', 'page.html', '--fix');
    assert.match(last.stdout, /page\.html:1:32 finding \(number-invalid\)/);
    assert.equal(last.status, 1);
  });

  it('prints places, lines and what is sure; exits with 0 where there is nothing', () => {
    writeFileSync(join(root, 'page.html'), `<p>\n  <bee-card tired="false">${named}</bee-card>\n</p>`);
    const { stdout, status } = eltrix(root, 'check', 'page.html');
    assert.equal(status, 1);
    assert.match(
      stdout,
      /^page\.html:2:13 finding \(flag-false\): <bee-card>: tired="false" means yes: .* \[--fix mends it\]\n> 2 \| .*\n {4}\| {13}\^\n/,
    );
    writeFileSync(join(root, 'page.html'), '<p>Plain.</p>');
    assert.equal(eltrix(root, 'check', 'page.html').status, 0);
    assert.equal(eltrix(root, 'check', 'nothing/*.html').status, 2);
  });

  it('speaks SARIF', () => {
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

  it('takes elements from a manifest', () => {
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

describe('what can be seen in a source', () => {
  const source = project({
    'src/bad-source.ts': `import { contract, event, markup, slot } from 'eltrix';
export class BadSource extends contract('bad-source', { events: { 'bad-never': event() }, slots: { '': slot('x') } }) {
  view() {
    return markup\`<img src="x.png"><label>Nothing</label><label for="no">x</label><label for="a">y</label><input id="a">
      <div onclick=\${() => this.emit('bad-secret' as never, null as never)}>click</div>
      <slot name="other"></slot><bad-source nmae=\${1} slot=\${'x'}>\${3}</bad-source>
      \${[1].map(() => markup\`<b onclick=\${() => {}}>x</b>\`)}<slot></slot><img \${{ alt: 'x' }}>\`;
  }
}
`,
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

  it('is told while building', () => {
    const { stdout, status } = eltrix(source, 'build', '--no-look');
    assert.equal(status, 0);
    const lines = [...stdout.matchAll(/^src\/bad-source\.ts:(\d+:\d+) finding \(([a-z-]+)\)/gm)].map(
      ([, at, code]) => `${at} ${code}`,
    );
    assert.deepEqual(lines, expected);
  });
});
