/** A build after another: what the first one found out is used where it still holds, and nowhere else. */
import assert from 'node:assert/strict';
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { describe, it } from 'node:test';
import { foundEngines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { pageScript, withPages } from '../support/bundled-page.ts';
import { eltrix, project, temporary } from '../support/project.ts';

const card = `
  import { contract, markup, text } from 'eltrix';
  export class PlainCard extends contract('plain-card', { about: 'A card.', attributes: { name: text() } }) {
    view() { return markup\`<p>\${() => this.name}</p>\`; }
  }`;
const derived = `
  import { contract, integer } from 'eltrix';
  import { PlainCard } from './card.ts';
  export class BoxCard extends contract('box-card', { attributes: { boxes: integer() } }, PlainCard) {}`;

function build(root: string): Record<string, string> {
  const { status, stderr } = eltrix(root, 'build', '--no-look');
  assert.equal(stderr, '');
  assert.equal(status, 0);
  const dist = join(root, 'dist');
  return Object.fromEntries(readdirSync(dist).map(file => [file, readFileSync(join(dist, file), 'utf8')]));
}

const kept = (root: string) => {
  const folder = join(root, 'node_modules/.cache/eltrix');
  return readdirSync(folder).map(file => join(folder, file));
};
const isLean = (code: string) => !code.includes('view-result');

describe('an incremental build', () => {
  it('writes the same from the cache, and rebuilds changes', () => {
    const root = project({ 'src/card.ts': card });
    const first = build(root);
    const [file, ...others] = kept(root);
    assert.deepEqual(others, []);
    assert.deepEqual(build(root), first);
    // What is kept is what is used: a word that no source has.
    writeFileSync(file!, readFileSync(file!, 'utf8').replaceAll('<p><!></p>', '<b><!></b>'));
    assert.match(build(root)['plain-card.js']!, /<b><!><\/b>/);
    writeFileSync(
      join(root, 'src/card.ts'),
      card.replace('A card.', 'Another card.').replace('<p>', '<i>').replace('</p>', '</i>'),
    );
    const changed = build(root);
    assert.match(changed['plain-card.js']!, /<i><!><\/i>/);
    assert.match(changed['REFERENCE.md']!, /Another card\./);
  });

  it('works with a broken or missing cache', () => {
    const root = project({ 'src/card.ts': card });
    const first = build(root);
    writeFileSync(kept(root)[0]!, '{ "modules": {');
    assert.deepEqual(build(root), first);
  });

  it('follows code outside the project', () => {
    const outside = join(temporary(), 'mood.ts');
    writeFileSync(outside, "export type Mood = 'calm' | 'busy';");
    const root = project({});
    const from = relative(join(root, 'src'), outside);
    const source = `import type { Mood } from '${from}';\n${card.replace('view()', 'mood(): Mood { return "calm"; }\n    view()')}`;
    mkdirSync(join(root, 'src'));
    writeFileSync(join(root, 'src/card.ts'), source);
    assert.match(build(root)['plain-card.d.ts']!, /'calm' \| 'busy'/);
    writeFileSync(outside, "export type Mood = 'calm' | 'angry';");
    assert.match(build(root)['plain-card.d.ts']!, /'calm' \| 'angry'/);
  });

  it('gives an element the full runtime once another one extends it', () => {
    const root = project({ 'src/card.ts': card });
    assert.ok(isLean(build(root)['plain-card.js']!));
    writeFileSync(join(root, 'src/box.ts'), derived);
    const files = build(root);
    const all = Object.keys(files).filter(file => file.endsWith('.js') && file !== 'on-demand.js');
    assert.ok(!isLean(all.map(file => files[file]).join('')));
    assert.match(files['custom-elements.json']!, /box-card/);
  });

  it('fails each time for the same mistake', () => {
    const root = project({ 'src/card.ts': card.replace('<p>', '<style>${1}</style><p>') });
    for (let i = 0; i < 2; i++)
      assert.match(eltrix(root, 'build', '--no-look').stderr, /src\/card\.ts:4:\d+ error \(hole-in-style\)/);
  });
});

it('an element that extends another works in every form', async t => {
  const [engine] = foundEngines();
  if (!engine) return t.skip('No engine is installed.');
  // What is written in this file would be found in the project.
  const Base = ['Pl', 'ain'].join('');
  const code = await pageScript({
    page: `import { contract, integer, markup, text } from 'eltrix';
        class ${Base} extends contract('plain-card', { attributes: { name: text() } }) { view() { return markup\`<p>\${() => this.name}</p>\`; } }
        class Box extends contract('box-card', { attributes: { boxes: integer() } }, ${Base}) {}
        class Sub extends ${Base} { get name() { return super.name + '!'; } }
        ${Base}.define(); Box.define(); Sub.define('sub-card');
        document.body.innerHTML = '<plain-card name="a"></plain-card><box-card name="b" boxes="2"></box-card><sub-card name="c"></sub-card>';
        globalThis.seen = [...document.body.children].map(card => (card.shadowRoot?.textContent ?? '') + (card.boxes ?? '')).join();`,
  });
  await withPages(engine, async open => assert.equal(await (await open(code)).evaluate('seen'), 'a,b2,c!'));
});
