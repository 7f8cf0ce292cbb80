/** `eltrix render`: pages of a site with their elements rendered. */
import assert from 'node:assert/strict';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, it } from 'node:test';
import { eltrix, project, running } from '../support/project.ts';
import { sources } from './elements.ts';

const page = '<!doctype html><title>x</title><note-card heading="A"></note-card>';
const files = {
  ...sources,
  'site/index.html': page,
  'site/deep/other.htm': page.replace('"A"', '"B"'),
  'site/style.css': 'p { color: red }',
};

describe('eltrix render', () => {
  it('writes rendered pages, copies the other files, and does not change the sources', () => {
    const root = project(files);
    const { status, stdout, stderr } = eltrix(root, 'render', 'site', '--out', 'public');
    assert.deepEqual([status, stderr], [0, '']);
    assert.match(stdout, /^2 pages rendered, 1 other file copied to public\/ in [\d.]+ s\.\n$/);
    const html = readFileSync(join(root, 'public/index.html'), 'utf8');
    assert.match(
      html,
      /<note-card heading="A"><template shadowrootmode="open" shadowrootdelegatesfocus><style data-eltrix>/,
    );
    assert.match(readFileSync(join(root, 'public/deep/other.htm'), 'utf8'), /<!--\[-->B<!--\]-->/);
    assert.equal(readFileSync(join(root, 'public/style.css'), 'utf8'), files['site/style.css']);
    assert.equal(readFileSync(join(root, 'site/index.html'), 'utf8'), page);
  });

  it('writes the linked style sheets, and prints JSON', () => {
    const root = project(files);
    const args = ['--out', 'public', '--styles', 'linked', '--base', '/w', '--json'];
    const { status, stdout } = eltrix(root, 'render', 'site/*.html', ...args);
    assert.equal(status, 0);
    const { pages, copied, findings } = JSON.parse(stdout) as {
      pages: { file: string }[];
      copied: number;
      findings: [];
    };
    assert.deepEqual([pages.map(({ file }) => file), copied, findings], [['site/index.html'], 0, []]);
    assert.match(readFileSync(join(root, 'public/index.html'), 'utf8'), /href="\/w\/note-card\.css"/);
    assert.match(readFileSync(join(root, 'public/w/note-card.css'), 'utf8'), /color: rgb\(1, 2, 3\)/);
  });

  it('reports errors with page and line, and writes the rest', () => {
    const root = project({
      'src/bad-one.js': `import { contract, markup } from 'eltrix';
export class BadOne extends contract('bad-one', {}) { view() { return markup\`<p>\${() => document.title}</p><i>i</i>\`; } }
BadOne.define();`,
      'src/deep-one.js': `import { contract, markup } from 'eltrix';
export class DeepOne extends contract('deep-one', {}) { view() { return markup\`<deep-one></deep-one>\`; } }
DeepOne.define();`,
      'site/index.html': '<p>\n<bad-one></bad-one>',
      'site/deep.html': '<p>\n<deep-one></deep-one>',
    });
    const { status, stdout } = eltrix(root, 'render', 'site', '--out', 'public');
    assert.equal(status, 1);
    assert.match(
      stdout,
      /^site\/index\.html:2:1 finding \(render-document\): <bad-one> in line 1 of its markup uses document/m,
    );
    assert.match(stdout, /^site\/deep\.html:2:1 finding \(render-depth\): <deep-one> is inside 200 other elements/m);
    assert.match(stdout, /2 pages rendered to public\/ in .* 2 findings\.\n$/);
    assert.equal(readFileSync(join(root, 'public/deep.html'), 'utf8'), '<p>\n<deep-one></deep-one>');
    assert.match(readFileSync(join(root, 'public/index.html'), 'utf8'), /<i>i<\/i>/);
  });

  it('explains wrong usage, and writes nothing', () => {
    const root = project({
      ...files,
      'mine/notes.txt': 'mine',
      'site/old.html': Buffer.from([0xe4]).toString('latin1'),
    });
    writeFileSync(join(root, 'site/latin.html'), Buffer.from('<p>\xe4</p>', 'latin1'));
    const cases: [string[], number, RegExp][] = [
      [['site'], 2, /--out <folder>/],
      [['nothing', '--out', 'public'], 2, /\(no-pages\): No page matches "nothing"/],
      [['site/index.html', '--out', 'mine'], 2, /\(out-in-use\)/],
      [['site/index.html', '--out', 'site'], 2, /\(out-in-use\)/],
      [['site/index.html', '--out', 'public', '--styles', 'some'], 2, /Allowed choices are inline, linked, none/],
      [['site/latin.html', '--out', 'public'], 1, /site\/latin\.html error \(page-encoding\): The page is not UTF-8/],
    ];
    for (const [args, code, expected] of cases) {
      const { status, stderr } = eltrix(root, 'render', ...args);
      assert.equal(status, code, args.join(' '));
      assert.match(stderr, expected);
    }
    assert.ok(!existsSync(join(root, 'public')));
    assert.equal(readFileSync(join(root, 'mine/notes.txt'), 'utf8'), 'mine');
  });

  it('renders again when a page or a source changes', async () => {
    const root = project(files);
    const run = running(root, 'render', 'site', '--out', 'public', '--watch');
    try {
      await run.until(/Watching/);
      writeFileSync(join(root, 'site/index.html'), page.replace('"A"', '"C"'));
      await run.until(/2 pages rendered/);
      assert.match(readFileSync(join(root, 'public/index.html'), 'utf8'), /<!--\[-->C<!--\]-->/);
      writeFileSync(join(root, 'src/note-card.js'), sources['src/note-card.js']!.replace('few', 'rather few'));
      await run.until(/2 pages rendered/);
      assert.match(readFileSync(join(root, 'public/index.html'), 'utf8'), /rather few/);
    } finally {
      await run.end();
    }
  });
});
