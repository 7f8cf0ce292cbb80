/** The small examples: widgets on a plain page, the library from an import map, in React, and in a page of a server. */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { after, before, describe, it } from 'node:test';
import { build } from 'vite';
import type { Page } from '../../packages/eltrix-tool/src/engines/index.ts';
import { closeEngines, eltrix, open, repository, serve } from '../support/project.ts';

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
const until =
  "(globalThis.until = async (what, ms = 20_000) => { const end = performance.now() + ms; for (;;) { let value; try { value = what(); } catch {} if (value) return value; if (performance.now() > end) throw new Error('never: ' + what); await new Promise(resolve => setTimeout(resolve, 10)); } }, true)";

/** What the audit finds in a page; the audit itself comes as an expression, which no policy refuses. */
async function findings(page: Page): Promise<unknown[]> {
  await page.evaluate(`(() => { ${axe}; return true; })()`);
  return page.evaluate(
    "axe.run(document, { resultTypes: ['violations'] }).then(({ violations }) => violations.map(({ id, nodes }) => [id, nodes[0].target, nodes[0].failureSummary]))",
  );
}

describe('hosts', () => {
  let site: Awaited<ReturnType<typeof serve>>;
  before(async () => {
    const built = eltrix(join(repository, 'examples/apiary'), 'build', '--no-look');
    assert.equal(built.status, 0, built.stderr);
    site = await serve({ '/': repository.replace(/\/$/, '') });
  });
  after(async () => {
    site.close();
    await closeEngines();
  });

  it('a plain page', async t => {
    const page = await open(`${site.address}/examples/plain-page/index.html`);
    if (!page) return t.skip('Chromium is not here');
    await page.evaluate(until);
    await page.evaluate("until(() => document.querySelector('hive-card').shadowRoot)");
    await page.evaluate("document.querySelector('hive-card').shadowRoot.querySelector('button').click()");
    assert.equal(await page.evaluate("document.querySelector('#log').textContent"), 'Rosemary was opened.');
    assert.deepEqual(await findings(page), []);
    await page.close();
  });

  it('the library from an import map, without a build', async t => {
    const page = await open(`${site.address}/examples/import-map/index.html`);
    if (!page) return t.skip('Chromium is not here');
    await page.evaluate(until);
    await page.evaluate("until(() => document.querySelector('jar-counter').shadowRoot?.querySelector('button'))");
    await page.evaluate("document.querySelector('jar-counter').shadowRoot.querySelector('button').click()");
    await page.evaluate(
      "until(() => document.querySelector('jar-counter').shadowRoot.querySelector('output').textContent === '13')",
    );
    const loaded = await page.evaluate<string[]>(
      "performance.getEntriesByType('resource').map(({ name }) => name).filter(name => name.includes('/dist/'))",
    );
    assert.deepEqual(loaded.map(url => url.slice(url.indexOf('/dist/'))).sort(), [
      '/dist/page/production/index.js',
      '/dist/page/production/shared.js',
    ]);
    assert.deepEqual(await findings(page), []);
    await page.close();
  });

  it('React, with the typings that were built', async t => {
    const root = join(repository, 'examples/react-host');
    const types = spawnSync(process.execPath, [join(repository, 'node_modules/typescript/bin/tsc'), '-p', root], {
      encoding: 'utf8',
    });
    assert.equal(types.stdout, '');
    await build({ root, configFile: false, base: './', logLevel: 'silent' });
    const page = await open(`${site.address}/examples/react-host/dist/index.html`);
    if (!page) return t.skip('Chromium is not here');
    await page.evaluate(until);
    await page.evaluate("until(() => document.querySelector('hive-card')?.shadowRoot.textContent.includes('3.8 kg'))");
    await page.evaluate(
      "(() => { const select = document.querySelector('select'); Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(select, 'busy'); select.dispatchEvent(new Event('change', { bubbles: true })); })()",
    );
    await page.evaluate("until(() => document.querySelector('hive-card').mood === 'busy')");
    await page.evaluate("document.querySelector('hive-card').shadowRoot.querySelector('button').click()");
    await page.evaluate("until(() => document.querySelector('[role=status]').textContent === 'Rosemary was opened.')");
    assert.deepEqual(await findings(page), []);
    await page.close();
  });

  it('a server that renders, under a strict policy: complete without scripts, adopted without a layout shift', async t => {
    const folder = join(repository, 'examples/content-block');
    assert.equal(eltrix(folder, 'build', '--no-look').status, 0);
    const { server } = (await import(join(folder, 'server.js'))) as { server: import('node:http').Server };
    await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve));
    t.after(() => {
      server.close();
      server.closeAllConnections();
    });
    const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/`;
    const html = await (await fetch(address)).text();
    for (const text of ['>Bramble<', 'Osric &amp; Wilma, on Sunday', 'Add boxes; the limes will flower.', '>2.9<'])
      assert.ok(html.includes(text), text);
    // Without its script the page is what a reader without scripts has.
    const bare = await serve(
      { '/': folder },
      { '/': html.replace(/<script type="module"[^>]*><\/script>/, '') },
      { 'content-security-policy': "default-src 'none'; style-src 'self'; img-src data:" },
    );
    t.after(() => bare.close());
    for (const name of ['chromium', 'firefox', 'webkit'] as const) {
      const still = await open(`${bare.address}/`, name);
      if (!still) continue;
      const seen = await still.evaluate(`({
        name: document.querySelector('hive-card').shadowRoot.querySelector('h3').textContent,
        frames: document.querySelector('frame-box').shadowRoot.querySelectorAll('li').length,
        styled: getComputedStyle(document.querySelector('hive-card').shadowRoot.querySelector('.head')).display,
        scripts: document.querySelectorAll('script').length,
      })`);
      assert.deepEqual(seen, { name: 'Bramble', frames: 2, styled: 'flex', scripts: 0 }, name);
      if (name === 'chromium') assert.deepEqual(await findings(still), []);
      await still.close();
      const live = (await open(address, name))!;
      await live.evaluate(until);
      await live.evaluate("until(() => [...document.querySelectorAll('main > *')].every(e => e.matches(':defined')))");
      const taken = await live.evaluate(`(async () => {
        document.querySelector('hive-card').name = 'Rosemary';
        return until(() => document.querySelector('hive-card').shadowRoot.querySelector('h3').textContent === 'Rosemary');
      })()`);
      assert.equal(taken, true, name);
      await live.close();
    }
    const page = await open(address);
    if (!page) return t.skip('Chromium is not here');
    await page.evaluate(until);
    await page.evaluate(
      "(globalThis.refused = [], addEventListener('securitypolicyviolation', event => refused.push(event.violatedDirective)), true)",
    );
    await page.evaluate("until(() => [...document.querySelectorAll('main > *')].every(e => e.matches(':defined')))");
    const seen = await page.evaluate(`(async () => {
      const shifts = await new Promise(resolve => {
        let total = 0;
        new PerformanceObserver(list => { for (const { value } of list.getEntries()) total += value; }).observe({ type: 'layout-shift', buffered: true });
        setTimeout(() => resolve(total), 100);
      });
      const frames = document.querySelector('frame-box');
      const before = frames.shadowRoot.querySelector('button');
      document.querySelector('season-calendar').month = 7;
      await until(() => document.querySelector('season-calendar').shadowRoot.querySelector('[aria-pressed=true]').textContent === 'July');
      return { shifts: Math.round(shifts * 1000), frames: frames.frames.length, same: before === frames.shadowRoot.querySelector('button'),
        keeper: document.querySelector('keeper-note').keeper, sent: document.querySelector('hive-card').shadowRoot.querySelectorAll('[data-eltrix]').length };
    })()`);
    assert.deepEqual(seen, { shifts: 0, frames: 2, same: true, keeper: 'Osric & Wilma', sent: 0 });
    const loaded = await page.evaluate<string[]>(
      "performance.getEntriesByType('resource').map(({ name }) => name.split('/').at(-1))",
    );
    assert.ok(!loaded.includes('hive-list.js'), 'only what the page has is loaded');
    assert.deepEqual(await page.evaluate('refused'), []);
    assert.deepEqual(await findings(page), []);
    await page.close();
  });
});
