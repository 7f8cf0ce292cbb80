/** The site: complete without scripts, and its examples run, in real browsers under its own policy. */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { after, before, describe, it } from 'node:test';
import { type EngineName, engines, type Page } from '../../packages/eltrix-tool/src/engines/index.ts';
import { closeEngines, eltrix, open, repository, serve } from '../support/project.ts';

const site = join(repository, 'examples/site');
const dist = join(site, 'dist');

const helpers = `(() => {
globalThis.broken = [];
addEventListener('securitypolicyviolation', event => broken.push(event.violatedDirective + ' ' + event.blockedURI));
globalThis.until = async (what, ms = 20000) => { const end = performance.now() + ms; for (;;) { let value; try { value = what(); } catch {} if (value) return value; if (performance.now() > end) throw new Error('never: ' + what); await new Promise(resolve => setTimeout(resolve, 20)); } };
globalThis.example = () => document.querySelector('live-example').shadowRoot;
globalThis.board = () => example().querySelector('.board').innerText;
return true;
})()`;

describe('the site', { skip: !engines.chromium.find() && 'it is looked at in Chromium' }, () => {
  let served: Awaited<ReturnType<typeof serve>>;
  let page: Page;
  const ask = <T>(code: string) => page.evaluate<T>(code);
  const go = async (path: string) => {
    await page.go(served.address + path);
    await ask(helpers);
  };
  before(async () => {
    const { status, stderr } = spawnSync(process.execPath, ['build.js'], { cwd: site, encoding: 'utf8' });
    assert.equal(status, 0, stderr);
    served = await serve({ '/a%20folder/': dist });
    page = (await open(`${served.address}/a%20folder/index.html`))!;
  });
  after(async () => {
    await served.close();
    await closeEngines();
  });

  it('has every guide as a page with its text, headings and links, before any script runs', () => {
    const pages = readdirSync(dist).filter(name => name.endsWith('.html') && name !== 'live.html');
    const texts = new Map(pages.map(name => [name, readFileSync(join(dist, name), 'utf8')]));
    for (const guide of readdirSync(join(repository, 'docs')).filter(name => name.endsWith('.md')))
      assert.ok(texts.has(guide.replace('.md', '.html')), guide);
    const dead: string[] = [];
    for (const [name, text] of texts) {
      assert.match(text, /<h1 id=/, name);
      assert.match(text, /<site-search index="search\.json"><template shadowrootmode="open"/, name);
      for (const [, href] of text.matchAll(/<(?:a|link)[^>]* href="([^"]+)"/g)) {
        if (/^(?:[a-z]+:)/.test(href!)) continue;
        const [file, fragment] = href!.split('#') as [string, string?];
        const target = file ? texts.get(file) : text;
        if (target === undefined ? !existsSync(join(dist, file)) : fragment && !target.includes(`id="${fragment}"`))
          dead.push(`${name}: ${href}`);
      }
      for (const [, src] of text.matchAll(/<img[^>]* src="([^"]+)"/g))
        if (!existsSync(join(dist, src!))) dead.push(`${name}: ${src}`);
    }
    assert.deepEqual(dead, []);
  });

  it('runs an example, with controls, HTML and events', async () => {
    await go('/a%20folder/contracts.html');
    await ask(
      'document.querySelector(\'live-example\').scrollIntoView(); until(() => /<hive-card name="Rosemary"/.test(board()))',
    );
    await ask(
      "(() => { const choice = example().querySelector('select'); choice.value = 'calm'; choice.dispatchEvent(new Event('change', { bubbles: true })); })()",
    );
    await ask('until(() => /mood="calm"/.test(board()))');
    assert.deepEqual(await ask('broken'), []);
  });

  it('can be edited: errors have their line, the URL keeps the state, and undo restores the code', async () => {
    await go('/a%20folder/questions.html');
    await ask(
      "document.querySelector('live-example').scrollIntoView(); until(() => [...example().querySelectorAll('button')].find(({ textContent }) => textContent === 'Edit')).then(button => button.click())",
    );
    await ask("until(() => example().querySelectorAll('.cm-content').length === 2).then(() => true)");
    const type = (text: string, by: string) =>
      ask(
        `(() => { const lines = [...example().querySelectorAll('.cm-editor')[0].querySelectorAll('.cm-line')]; const line = lines.find(({ textContent }) => textContent.includes(${JSON.stringify(text)})); const range = document.createRange(); range.selectNodeContents(line); const content = line.closest('.cm-content'); content.focus(); const selection = getSelection(); selection.removeAllRanges(); selection.addRange(range); line.textContent = line.textContent.replace(${JSON.stringify(text)}, ${JSON.stringify(by)}); })()`,
      );
    await type('HiveName.define();', 'HiveName.define(;');
    await ask("until(() => /^Line 11: /.test(example().querySelector('.error').innerText))");
    await type('HiveName.define(;', 'HiveName.define(); const n: number = 1;');
    await ask("until(() => example().querySelector('.error').hidden)");
    await ask('until(() => /^#live-1=/.test(location.hash))');
    const { href } = new URL(await ask<string>('location.href'));
    await page.go('about:blank');
    await page.go(href);
    await ask(helpers);
    await ask("until(() => example().querySelector('.cm-content')?.innerText.includes('const n: number = 1;'))");
    await ask(
      "[...example().querySelectorAll('button')].find(({ textContent }) => textContent.startsWith('Undo')).click()",
    );
    await ask('until(() => location.hash === \'\' && /<hive-name name="Rosemary"/.test(board()))');
    assert.deepEqual(await ask('broken'), []);
  });

  it('finds sections by words', async () => {
    await go('/a%20folder/index.html');
    await ask(
      "until(() => { const field = document.querySelector('site-search').shadowRoot.querySelector('input'); field.focus(); field.value = 'slot empty'; field.dispatchEvent(new Event('input')); return document.querySelector('site-search').shadowRoot.querySelector('a'); }).then(() => true)",
    );
    assert.equal(
      await ask("document.querySelector('site-search').shadowRoot.querySelector('a').getAttribute('href')"),
      'questions.html#why-is-my-slot-empty',
    );
  });

  it('passes the audit in light and dark, wide and narrow', async () => {
    const session = await engines.chromium.start();
    const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
    try {
      for (const [width, scheme] of [
        [1280, 'light'],
        [400, 'dark'],
      ] as const) {
        const other = await session.open(`${served.address}/a%20folder/contracts.html`, {
          viewport: { width, height: 800 },
        });
        await other.evaluate(`document.documentElement.style.colorScheme = '${scheme}', ${helpers}`);
        await other.evaluate("document.querySelector('live-example').scrollIntoView()");
        await other.evaluate('until(() => /<hive-card name="Rosemary"/.test(board()))');
        await other.evaluate(`${axe};0`);
        const found = await other.evaluate(
          "axe.run(document, { resultTypes: ['violations'], iframes: false }).then(({ violations }) => violations.map(({ id, nodes }) => [id, nodes.slice(0, 2).map(({ target }) => target)]))",
        );
        assert.deepEqual(found, [], `${width} ${scheme}`);
      }
    } finally {
      await session.close();
    }
  });

  it('has elements that pass eltrix check and type checks', () => {
    const types = eltrix(site, 'check', '--types');
    assert.equal(types.status, 0, types.stdout + types.stderr);
    const check = eltrix(site, 'check', '--in', 'chromium');
    assert.equal(check.status, 0, check.stdout + check.stderr);
  });

  for (const engine of ['firefox', 'webkit'] as EngineName[])
    it(`runs an example in ${engine}`, { skip: !engines[engine].find() && `${engine} is not here` }, async () => {
      const session = await engines[engine].start();
      try {
        const other = await session.open(`${served.address}/a%20folder/contracts.html`);
        await other.evaluate(helpers);
        await other.evaluate("document.querySelector('live-example').scrollIntoView()");
        await other.evaluate('until(() => /<hive-card name="Rosemary"/.test(board())).then(() => true)');
        assert.deepEqual(await other.evaluate('broken'), []);
      } finally {
        await session.close();
      }
    });
});
