/** A bundle after a change: only the file that the change touches is made anew, and it is what the whole bundle makes. */
import assert from 'node:assert/strict';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, before, describe, it } from 'node:test';
import { project, running } from '../support/project.ts';
import { watchedPair } from '../support/whole.ts';

const files = {
  'src/bee-card.ts': `import { contract, data, each, event, integer, markup, slot, stylesheet, text } from 'eltrix';
    import { greeting } from './bee-words.ts';
    import { hum as roar } from './louder.ts';
    import { hum, whisper } from './words.ts';
    import image from './bee.svg';
    export class BeeCard extends contract('bee-card', { attributes: { name: text(), legs: integer({ default: 6 }) },
      properties: { flowers: data<string[]>(() => []) }, events: { 'bee-hum': event<{ name: string }>() }, slots: { '': slot('More.') } }) {
      static styleSheets = [stylesheet\`b { color: olive }\`];
      view() { return markup\`<b>\${() => greeting + this.name}</b><img alt="" src=\${image}>
        \${each(() => this.flowers, { key: flower => flower, row: flower => markup\`<i>\${flower}</i>\` })}
        <button onclick=\${() => this.emit('bee-hum', { name: hum(this.name) })}>Hum</button><slot></slot>\`; }
    }`,
  'src/bee-words.ts': `export const greeting = 'Hello, ';`,
  'src/words.ts': `const loud = 'HUM';\nexport const hum = (name: string) => loud + name;\nexport const whisper = (name: string) => name.toLowerCase();`,
  'src/louder.ts': `export const hum = (name: string) => name.toUpperCase();\nexport const most = 7;`,
  'src/bee-count.ts': `import { contract, data, markup } from 'eltrix';
    import { most } from './louder.ts';
    export class BeeCount extends contract('bee-count', { properties: { bees: data(() => 0) } }) {
      view() { return markup\`<b>\${() => Math.min(this.bees, most)}</b>\`; }
    }`,
  'src/bee.svg': '<svg xmlns="http://www.w3.org/2000/svg"/>',
  'src/bee-badge.ts': `import { contract, markup, text } from 'eltrix';
    export class BeeBadge extends contract('bee-badge', { attributes: { name: text() } }) {
      view() { return markup\`<i title=\${() => this.name}>\${() => this.name}</i>\`; }
    }`,
  'src/bee-mark.ts': `import { contract, data, markup, text } from 'eltrix';
    import type { Mark } from './bee-types.ts';
    export class BeeMark extends contract('bee-mark', { attributes: { name: text() }, properties: { mark: data<Mark | null>(() => null) } }) {
      view() { return markup\`<i>\${() => this.name}</i>\`; }
    }`,
  'src/bee-types.ts': 'export interface Mark { title: string }',
  'src/bee-name.ts': `import { contract, markup, text } from 'eltrix';
    export class BeeName extends contract('bee-name', { attributes: { name: text() } }) {
      view() { return markup\`<u>\${() => this.name}</u>\`; }
    }`,
  'src/bee-box.ts': `import { contract, markup, text } from 'eltrix';
    import { BeeName } from './bee-name.ts';
    import { hum as roar } from './louder.ts';
    import { hum } from './words.ts';
    export class BeeBox extends contract('bee-box', { attributes: { name: text() } }) {
      view() { return markup\`<bee-name name=\${() => roar(hum(this.name))}></bee-name>\${() => BeeName.name}\`; }
    }`,
};

describe('a bundle after a change', () => {
  const { watcher, built, begun, read, write, unlike } = watchedPair(files);
  const change = (file: string, from: string, to: string) => {
    const text = read(file);
    assert.ok(text.includes(from), `${from} is not in ${file}`);
    write(file, text.replace(from, to));
  };
  let stream = '';
  watcher.child.stdout.on('data', data => (stream += data));
  before(begun);
  after(() => watcher.end());

  const cases: [title: string, file: string, from: string, to: string, anew: string[] | 'all'][] = [
    ['another template', 'src/bee-card.ts', '<b>', '<b class="big">', ['bee-card.js']],
    [
      'another sheet, on more lines',
      'src/bee-card.ts',
      'b { color: olive }',
      'b { color: red;\n\nmargin: 0 }',
      ['bee-card.js'],
    ],
    ['a lean element', 'src/bee-badge.ts', '<i title', '<em title', ['bee-badge.js']],
    [
      'a type that is read for the first time',
      'src/bee-mark.ts',
      '() => this.name',
      '() => this.mark?.title',
      ['bee-mark.js'],
    ],
    [
      'a type that one element reads, narrower',
      'src/bee-types.ts',
      'title: string',
      "title: 'a' | 'b'",
      ['bee-mark.js'],
    ],
    ['that type, of lists', 'src/bee-types.ts', "title: 'a' | 'b'", 'title: string[]', 'all'],
    ['a module that only one element has', 'src/bee-words.ts', 'Hello', 'Good day', ['bee-card.js']],
    [
      'a new member that nothing else knows',
      'src/bee-card.ts',
      'view()',
      'fly() { return 7; }\nview()',
      ['bee-card.js'],
    ],
    ['what another file holds, not used before', 'src/bee-card.ts', 'hum(this.name)', 'whisper(hum(this.name))', 'all'],
    ['the same, not used any more', 'src/bee-card.ts', 'whisper(hum(this.name))', 'hum(this.name)', 'all'],
    ['another thing of the same name', 'src/bee-card.ts', 'hum(this.name)', 'roar(this.name)', 'all'],
    ['beside a constant of another module', 'src/bee-count.ts', '<b>', '<b class="c">', ['bee-count.js']],
    ['an element that becomes lean no more', 'src/bee-badge.ts', 'view()', 'connected() {}\nview()', 'all'],
    ['another import', 'src/bee-badge.ts', 'text }', 'text, integer }', 'all'],
    ['a module that two elements share', 'src/words.ts', 'HUM', 'BZZ', 'all'],
    ['an element that another imports', 'src/bee-name.ts', '<u>', '<u class="b">', 'all'],
    ['a picture', 'src/bee.svg', 'svg x', 'svg width="8" x', 'all'],
    ['an expression more', 'src/bee-badge.ts', 'markup`<', 'markup`${[]}<', 'all'],
  ];
  for (const [title, file, from, to, expected] of cases)
    it(`makes ${expected === 'all' ? 'everything' : 'one file'} anew: ${title}`, async () => {
      change(file, from, to);
      const { anew } = await built();
      if (expected === 'all') assert.ok(anew.length > 3, anew.join());
      else assert.deepEqual(anew, expected);
      assert.deepEqual(unlike(), []);
    });

  it('prints only JSON with --json', () => {
    const builds = stream.split(/^(?=\{)/m);
    assert.ok(builds.length >= cases.length && builds.every(text => JSON.parse(text).files));
  });

  it('reports a mistake like the whole bundle, and continues', async () => {
    change('src/bee-card.ts', 'view() {', 'view() { const = 1;');
    await watcher.until(/Unexpected token/);
    change('src/bee-card.ts', 'const = 1;', 'const one = 1;');
    await built();
    assert.deepEqual(unlike(), []);
  });
});

it('rebuilds a classic script with the other files', async () => {
  const root = project({ 'src/bee-badge.ts': files['src/bee-badge.ts'] });
  const watcher = running(root, 'build', '--watch', '--no-look', '--classic');
  try {
    await watcher.until(/Watching/);
    writeFileSync(join(root, 'src/bee-badge.ts'), files['src/bee-badge.ts'].replace('<i title', '<em title'));
    await watcher.until(/1 element, no imports/);
    for (const file of ['bee-badge.js', 'classic.js'])
      assert.ok(readFileSync(join(root, 'dist', file), 'utf8').includes('<em>'), file);
  } finally {
    await watcher.end();
  }
});
