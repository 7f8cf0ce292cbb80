/** Renaming what a contract names: in the contract, in sources, pages, specimens and sheets. */
import assert from 'node:assert/strict';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, before, describe, it } from 'node:test';
import { eltrix, project } from '../support/project.ts';
import { Client, type Position } from './client.ts';

const files: Record<string, string> = {
  'src/hive-card.ts': `import { choice, contract, event, markup, slot, stylesheet, text } from 'eltrix';

export class HiveCard extends contract('hive-card', {
  attributes: { queenAge: text(), mood: choice(['calm', 'busy'], { about: 'Its mood.' }), note: text({ attribute: 'remark' }) },
  events: { 'hive-open': event<{ name: string }>() },
  slots: { badge: slot('Stands in for the mood.') },
  parts: { gauge: 'The gauge.' },
  states: { ripe: 'Capped.' },
  cssProperties: { '--hive-accent': 'Colour of the gauge.' },
}) {
  static styleSheets = [stylesheet\`:host([mood="busy"]) b, :host(:state(ripe)) { color: var(--hive-accent) }\`];
  view() {
    return markup\`<b part="gauge">\${() => this.mood}</b><slot name="badge"></slot>\`;
  }
  connected() {
    this.states.add('ripe');
    if (this.isFilled('badge')) this.emit('hive-open', { name: this.slotted('badge')[0]!.localName });
  }
}
HiveCard.define();
declare global { interface HTMLElementTagNameMap { 'hive-card': HiveCard } }
`,
  'src/hive-list.ts': `import { contract, markup, stylesheet } from 'eltrix';
import './hive-card.ts';
export class HiveList extends contract('hive-list', {}) {
  static styleSheets = [stylesheet\`hive-card::part(gauge) { --hive-accent: red } hive-card:state(ripe) { color: \${'red'} }\`];
  view() {
    return markup\`\${() => markup\`<hive-card mood="calm" onhive-open=\${this.opened}><i slot="badge">!</i></hive-card>\`}\`;
  }
  opened() {
    this.addEventListener('hive-open', () => {});
    return document.createElement('hive-card');
  }
}
HiveList.define();
`,
  'src/hive-card.specimen.html': `<template title="One"><hive-card queen-age="2" remark="x"><b slot="badge">!</b></hive-card></template>
`,
  'site/index.html': `<!doctype html><title>Hives</title><script type="module" src="/dist/all.js"></script>
<style>hive-card[mood=calm]::part(gauge) { color: red } .badge, .ripe, .mood { --hive-accent: red }</style>
<p>hive-card, badge, mood</p>
<hive-card mood="calm" style="--hive-accent: blue"><b slot="badge" class="badge">!</b></hive-card>
`,
  'site/page.css': 'hive-card:not([mood]) :is(hive-card:state(ripe)) { color: red }\n',
};
const root = project(files);
const client = new Client(root);

interface Edit {
  readonly range: { readonly start: Position; readonly end: Position };
  readonly newText: string;
}

/** The place of a text in a file, or of its nth occurrence. */
function positionIn(file: string, text: string): Position {
  const before = files[file]!.slice(0, files[file]!.indexOf(text) + 1).split('\n');
  return { line: before.length - 1, character: before.at(-1)!.length };
}

function applied(text: string, edits: readonly Edit[]): string {
  const offset = ({ line, character }: Position) =>
    text
      .split('\n')
      .slice(0, line)
      .reduce((sum, one) => sum + one.length + 1, character);
  return [...edits]
    .sort((a, b) => offset(b.range.start) - offset(a.range.start))
    .reduce(
      (done, { range, newText }) => done.slice(0, offset(range.start)) + newText + done.slice(offset(range.end)),
      text,
    );
}

async function renamed(file: string, at: string, newName: string): Promise<Record<string, string>> {
  const { changes } = await client.at<{ changes: Record<string, Edit[]> }>('rename', file, positionIn(file, at), {
    newName,
  });
  return Object.fromEntries(
    Object.entries(files).map(([name, text]) => [name, applied(text, changes[client.uri(name)] ?? [])]),
  );
}

describe('rename in an editor', () => {
  before(async () => {
    await client.begin();
    for (const [file, text] of Object.entries(files)) client.open(file, text);
  });
  after(() => void client.child.kill());

  /** Kind: where the name stands, its new name, and how often that is written afterwards. */
  const cases: readonly (readonly [
    places: readonly [file: string, at: string][],
    from: string,
    to: string,
    count: number,
  ])[] = [
    [
      [
        ['site/index.html', 'hive-card mood'],
        ['src/hive-card.ts', "hive-card', {"],
        ['site/page.css', 'hive-card:state'],
      ],
      'hive-card',
      'bee-hive',
      14,
    ],
    [
      [
        ['site/index.html', 'mood="calm"'],
        ['src/hive-card.ts', 'mood: choice'],
        ['site/page.css', 'mood]'],
      ],
      'mood',
      'temper',
      6,
    ],
    [
      [
        ['src/hive-list.ts', 'hive-open'],
        ['src/hive-card.ts', 'hive-open'],
      ],
      'hive-open',
      'hive-shown',
      4,
    ],
    [
      [
        ['site/index.html', 'badge" class'],
        ['src/hive-card.ts', 'badge: slot'],
        ['src/hive-card.ts', 'badge"></slot'],
      ],
      'badge',
      'sticker',
      7,
    ],
    [
      [
        ['site/index.html', 'gauge)'],
        ['src/hive-card.ts', 'gauge: '],
        ['src/hive-card.ts', 'gauge">'],
      ],
      'gauge',
      'meter',
      4,
    ],
    [
      [
        ['site/page.css', 'ripe'],
        ['src/hive-card.ts', 'ripe: '],
        ['src/hive-card.ts', "ripe');"],
      ],
      'ripe',
      'capped',
      5,
    ],
    [
      [
        ['site/index.html', '--hive-accent: blue'],
        ['src/hive-card.ts', '-hive-accent'],
      ],
      '--hive-accent',
      '--tint',
      5,
    ],
  ];
  for (const [places, from, to, count] of cases)
    it(`${from} becomes ${to} wherever it is written, and nowhere else`, async () => {
      const results = [];
      for (const [file, at] of places) results.push(await renamed(file, at, to));
      for (const result of results) assert.deepEqual(result, results[0]);
      const text = Object.values(results[0]!).join('');
      assert.equal(text.split(to).length - 1, count, text);
      // Words that are no names of the contract stay.
      const page = results[0]!['site/index.html']!;
      assert.match(page, /<p>hive-card, badge, mood<\/p>/);
      assert.match(page, /\.badge, \.ripe, \.mood/);
      // What was right before is right afterwards.
      const other = project(results[0]!);
      const { status, stdout, stderr } = eltrix(other, 'check', 'site', 'src/*.html');
      assert.equal(status, 0, stdout + stderr);
      const source = results[0]!['src/hive-card.ts']!;
      if (from === 'mood') assert.match(source, /mood: choice\(\['calm', 'busy'\], \{ attribute: 'temper', about: /);
      else assert.ok(!source.includes(from) || from === 'gauge', source);
    });

  it('renaming an attribute keeps the name of its property', async () => {
    const age = await renamed('src/hive-card.specimen.html', 'queen-age', 'years');
    assert.match(age['src/hive-card.ts']!, /queenAge: text\(\{ attribute: 'years' \}\)/);
    assert.match(age['src/hive-card.specimen.html']!, /<hive-card years="2"/);
    const note = await renamed('src/hive-card.specimen.html', 'remark', 'hint');
    assert.match(note['src/hive-card.ts']!, /note: text\(\{ attribute: 'hint' \}\)/);
  });

  it('rejects invalid names with a reason, and ignores names in other code', async () => {
    const refused = (file: string, at: string, name: string) =>
      client.at('rename', file, positionIn(file, at), { newName: name }).then(
        () => assert.fail('renamed'),
        (error: Error) => error.message,
      );
    assert.match(await refused('site/index.html', 'hive-card mood', 'card'), /has no hyphen/);
    assert.match(await refused('site/index.html', 'hive-card mood', 'hive-list'), /is another element/);
    assert.match(await refused('site/index.html', 'mood="calm"', 'remark'), /has the attribute "remark" already/);
    assert.match(await refused('site/index.html', 'mood="calm"', 'Mood'), /lower-case/);
    assert.match(await refused('site/page.css', 'color', 'x'), /no name of a contract/);
    const place = await client.at<{ placeholder: string } | null>(
      'prepareRename',
      'site/index.html',
      positionIn('site/index.html', 'mood="calm"'),
    );
    assert.equal(place?.placeholder, 'mood');
    assert.equal(await client.at('prepareRename', 'site/index.html', positionIn('site/index.html', 'Hives')), null);
  });

  it('renames in unsaved documents', async () => {
    writeFileSync(join(root, 'site/index.html'), '<p></p>');
    const result = await renamed('src/hive-card.ts', 'mood: choice', 'temper');
    assert.match(result['site/index.html']!, /temper="calm"/);
    writeFileSync(join(root, 'site/index.html'), files['site/index.html']!);
    assert.equal(readFileSync(join(root, 'site/index.html'), 'utf8'), files['site/index.html']);
  });
});

/** A name in « » is one that a rename changes; the same word elsewhere stays. */
const family: Record<string, string> = {
  'src/base-card.ts': `import { contract, event, integer, markup, slot, stylesheet, text } from 'eltrix';
import { shared } from './shared.ts';
export class BaseCard extends contract('«base-card»', {
  attributes: { queenAge: integer({ attribute: '«age»' }), ...shared },
  events: { '«card-open»': event() },
  slots: { «badge»: slot('Stands in.') },
  parts: { «edge»: 'The edge.' },
  states: { «ripe»: 'Capped.' },
}) {
  static styleSheets = [stylesheet\`:host([«age»]) ::slotted([slot='«badge»']:not(.badge)) { &:has(b) { color: red } }\`];
  view() {
    return markup\`<b part="«edge» badge">age</b><slot name="«badge»"></slot>\`;
  }
  connected() {
    this.emit(\`«card-open»\`);
    this.internals.states.add('«ripe»');
    if (this.getAttribute('«age»') === 'age') this.states.delete("«ripe»");
  }
  attributeChanged(name: string, before: string) {
    if (name === '«age»' || before === 'age') return;
    switch (name) {
      case '«age»':
    }
  }
}
BaseCard.define();
`,
  'src/big-card.ts': `import { contract, flag, markup, stylesheet } from 'eltrix';
import { BaseCard } from './base-card.ts';
export class BigCard extends contract('big-card', { attributes: { huge: flag() } }, BaseCard) {
  static styleSheets = [stylesheet\`:host([«age»]) { color: red }
    «base-card» { &[«age»=calm], .edge &::part(«edge») { color: blue } @media print { > [slot="«badge»"] { color: red } } }\`];
  view() {
    return markup\`<«base-card» «age»="1" exportparts="«edge»: rim"><i slot="«badge»"></i></«base-card»>
      <b part="«edge»"></b><slot name="«badge»"></slot><other-card age="1"></other-card>\`;
  }
  connected() {
    this.emit('«card-open»');
    this.states.add('«ripe»');
    this.shadowRoot!.querySelector('«base-card»[«age»] > [slot=«badge»], other-card[age]');
    customElements.get('«base-card»');
    new Map().get('base-card');
  }
}
BigCard.define();
`,
  'src/other-card.ts': `import { choice, contract, integer, markup, slot } from 'eltrix';
import { shared, tag } from './shared.ts';
const kind = integer();
const options = { about: 'x' };
const corner = slot('A corner.');
export class OtherCard extends contract('other-card', {
  attributes: { age: integer(), mood: choice(['calm'] as const,), size: kind, width: integer(options), height: integer({ ...options }) },
  slots: { corner },
}) {
  view() { return markup\`<const-card note="1"></const-card><slot name="corner"></slot>\`; }
}
OtherCard.define();
export class ConstCard extends contract(tag, { attributes: shared }) { view() { return markup\`<b></b>\`; } }
ConstCard.define();
`,
  'src/wide-card.ts': `import { contract, markup } from 'eltrix';
export class WideCard extends contract('wide-card', { parts: { edge: 'Its own one.' } }) {
  view() { return markup\`<«base-card» exportparts="edge"></«base-card»>\`; }
}
WideCard.define();
`,
  'src/dot-card.ts': `import { contract, markup, text } from 'eltrix';
export class DotCard extends contract('dot-card.v2', { attributes: { note: text({ attribute: 'x.y' }) }, cssProperties: { '--é': 'x' } }) {
  view() { return markup\`<dot-card.v2 x.y=""></dot-card.v2>\`; }
}
DotCard.define();
`,
  'site/dots.css': 'p, dot-card\\.v2[x\\.y]:not([x\\2e y]) { --\\e9 : 1 } [x\\.y] {}',
  'src/shared.ts': `import { text } from 'eltrix';
export const shared = { note: text() };
export const tag = 'const-card';
`,
  'test/cards.test.ts': `import { deep, nextEvent, recordEvents, stage, waitFor } from 'eltrix-tool/testing';
const card = await stage('<big-card «age»="1"><«base-card» «age»="2"></«base-card»></big-card>');
const opened = nextEvent(card, '«card-open»');
recordEvents(deep('big-card[«age»] >>> «base-card»', card), ['«card-open»', 'card-closed']);
await waitFor(() => card.closest("«base-card»:is(:state(«ripe»), b:state(ripe))"));
console.log('<base-card age="2">', 'card-open');
await opened;
`,
  'app/page.tsx': `export const page = () => <«base-card» «age»={2} on«card-open»={open}><i slot="«badge»">base-card</i></«base-card»>;
export const other = () => <other-card age="age"><i slot="badge">card-open</i></other-card>;
`,
  'site/index.html': `<!doctype html><title>age</title>
<style>
  big-card[«age»] { «base-card»[«age»] > & { color: red } }
  «base-card» { &:has([age]) { color: red } &:has(> [slot=«badge»]) { color: red } .age & [age] { color: red } }
  @scope (big-card) to (.edge) { :scope[«age»] { color: red } [age] { color: red } }
</style>
<big-card «age»="1"><i slot="«badge»"></i></big-card><«base-card» «age»=2><i slot=«badge»></i></«base-card»>
<template><script type="module">
  for (const card of document.querySelectorAll('«base-card»[«age»]')) card.addEventListener('«card-open»', () => 'base-card');
</script></template><script type="application/json">["card-open"]</script>
`,
};

describe('rename of what other elements inherit, and in nested rules, calls and tests', () => {
  const marks = /«([^»]*)»/g;
  const plain = Object.fromEntries(Object.entries(family).map(([file, text]) => [file, text.replace(marks, '$1')]));
  const other = project(plain);
  const editor = new Client(other);
  before(async () => {
    await editor.begin();
    for (const [file, text] of Object.entries(plain)) editor.open(file, text);
  });
  after(() => void editor.child.kill());

  const rename = (file: string, at: string, newName: string) => {
    const ahead = plain[file]!.slice(0, plain[file]!.indexOf(at) + 1).split('\n');
    const position = { line: ahead.length - 1, character: ahead.at(-1)!.length };
    return editor.at<{ changes: Record<string, Edit[]> }>('rename', file, position, { newName });
  };

  for (const [from, to, ...places] of [
    ['age', 'years', ['src/base-card.ts', "age' })"], ['src/big-card.ts', 'age="1"'], ['site/index.html', 'age="1"']],
    ['card-open', 'card-shown', ['src/base-card.ts', "card-open'"], ['test/cards.test.ts', 'card-open']],
    ['badge', 'corner', ['src/base-card.ts', 'badge: '], ['src/big-card.ts', 'badge"></slot']],
    ['edge', 'border', ['src/base-card.ts', 'edge: '], ['src/big-card.ts', 'edge)'], ['src/big-card.ts', 'edge: rim']],
    ['ripe', 'capped', ['src/base-card.ts', 'ripe: '], ['src/big-card.ts', 'ripe']],
    ['base-card', 'root-card', ['src/base-card.ts', 'base-card'], ['app/page.tsx', 'base-card']],
  ] as [string, string, ...[file: string, at: string][]][])
    it(`${from} becomes ${to}`, async () => {
      for (const [file, at] of places) {
        const { changes } = await rename(file, at, to);
        for (const [name, text] of Object.entries(family))
          assert.equal(
            applied(plain[name]!, changes[editor.uri(name)] ?? []),
            text
              .replace(marks, (_, word: string) => (word === from ? to : word))
              .replace('exportparts="edge"', from === 'edge' ? `exportparts="${to}: edge"` : '$&'),
          );
      }
    });

  it('keeps the other name of a part that is exported under its name', async () => {
    for (const [file, at, written] of [
      ['src/base-card.ts', 'edge: ', 'border: edge'],
      ['src/wide-card.ts', 'edge: ', 'edge: border'],
    ] as const) {
      const { changes } = await rename(file, at, 'border');
      const text = applied(plain['src/wide-card.ts']!, changes[editor.uri('src/wide-card.ts')]!);
      assert.match(text, new RegExp(`exportparts="${written}"`));
    }
  });

  it('keeps the constant of a shorthand, and a comma after the last argument', async () => {
    const file = 'src/other-card.ts';
    const { changes } = await rename(file, 'corner }', 'edge');
    const text = applied(plain[file]!, changes[editor.uri(file)]!);
    const mood = await rename(file, 'mood: ', 'temper');
    assert.match(
      applied(plain[file]!, mood.changes[editor.uri(file)]!),
      /choice\(\['calm'\] as const, \{ attribute: 'temper' \},\)/,
    );
    assert.match(text, /slots: \{ edge: corner \}.*<slot name="edge">/s);
  });

  it('writes an escape twice in a source', async () => {
    const { changes } = await rename('src/base-card.ts', 'base-card', 'root-card.v2');
    const texts = (changes[editor.uri('src/big-card.ts')] ?? []).map(({ newText }) => newText);
    // In the sheet; in the tags of the view; in the selector; in customElements.get().
    const [written, tag] = ['root-card\\\\.v2', 'root-card.v2'];
    assert.deepEqual(texts.toSorted(), [tag, tag, tag, written, written]);
  });

  it('reads and writes escapes in style sheets', async () => {
    const sheet = 'site/dots.css';
    for (const [at, to, expected] of [
      ['dot-card.v2', 'dot-card.v3', 'p, dot-card\\.v3[x\\.y]:not([x\\2e y]) { --\\e9 : 1 } [x\\.y] {}'],
      ['x.y', 'a.b', 'p, dot-card\\.v2[a\\.b]:not([a\\.b]) { --\\e9 : 1 } [x\\.y] {}'],
      ['--é', '--ö', 'p, dot-card\\.v2[x\\.y]:not([x\\2e y]) { --ö: 1 } [x\\.y] {}'],
    ] as const) {
      const { changes } = await rename('src/dot-card.ts', at, to);
      assert.equal(applied(plain[sheet]!, changes[editor.uri(sheet)] ?? []), expected);
    }
  });

  it('rejects names whose declaration stands elsewhere', async () => {
    const refused = (file: string, at: string, name: string) =>
      rename(file, at, name).then(
        () => assert.fail('renamed'),
        (error: Error) => error.message,
      );
    assert.match(
      await refused('src/other-card.ts', 'note="1"', 'remark'),
      /<const-card> is not written in the call of contract/,
    );
    assert.match(
      await refused('src/other-card.ts', 'const-card note', 'fixed-card'),
      /tag "const-card" .* is not written/,
    );
    for (const name of ['size', 'width', 'height'])
      assert.match(await refused('src/other-card.ts', `${name}: `, 'depth'), /is not written in the call of contract/);
    assert.match(await refused('src/base-card.ts', "age' })", 'huge'), /<big-card> has the attribute "huge" already/);
  });
});
