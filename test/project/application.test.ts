/** The apiary as an application, built and used in a real browser. */
import assert from 'node:assert/strict';
import { cpSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { basename, join } from 'node:path';
import { after, before, describe, it } from 'node:test';
import { build, type PreviewServer } from 'vite';
import type { Page } from '../../packages/eltrix-tool/src/engines/index.ts';
import { previewOf } from '../../scripts/preview.js';
import { closeEngines, eltrix, open, project, repository } from '../support/project.ts';

// A copy: nothing that was built before counts, and what other tests build meanwhile does not either.
const root = project({}, ['vite', 'd3-scale', 'd3-shape']);
const builtOrInstalled = ['node_modules', 'dist', 'coverage', 'widgets'];
cpSync(join(repository, 'examples/apiary'), root, {
  recursive: true,
  filter: from => !builtOrInstalled.includes(basename(from)),
});
const configFile = join(root, 'vite.config.ts');
const reach = `
globalThis.deep = (selector, root = document) => { for (const e of root.querySelectorAll('*')) { if (e.matches(selector)) return e; const inner = e.shadowRoot && deep(selector, e.shadowRoot); if (inner) return inner; } };
globalThis.deepAll = (selector, root = document) => [...root.querySelectorAll('*')].flatMap(e => [...(e.matches(selector) ? [e] : []), ...(e.shadowRoot ? deepAll(selector, e.shadowRoot) : [])]);
globalThis.until = async (what, ms = 20_000) => { const end = performance.now() + ms; for (;;) { let value; try { value = what(); } catch {} if (value) return value; if (performance.now() > end) throw new Error('never: ' + what); await new Promise(resolve => setTimeout(resolve, 10)); } };
true`;
/** Nothing moves any more: an audit in the middle of a transition would see half of a colour. */
const rest =
  "new Promise(requestAnimationFrame).then(() => Promise.allSettled(deepAll('*').flatMap(one => one.getAnimations()).map(one => one.finished))).then(() => 0)";

describe('the application', () => {
  let server: PreviewServer;
  let page: Page | null;
  let address = '';
  const ask = <T>(code: string) => page!.evaluate<T>(code);
  const go = async (path: string) => {
    await page!.go(address + path);
    await ask(reach);
  };
  before(async () => {
    const widgets = eltrix(root, 'build');
    assert.equal(widgets.status, 0, widgets.stderr);
    await build({ root, configFile, logLevel: 'silent' });
    server = await previewOf(root, configFile);
    address = server.resolvedUrls!.local[0]!;
    page = await open(address);
  });
  after(async () => {
    await server.close();
    await closeEngines();
  });

  it('shows hives, and the weather in every state of the service', async t => {
    if (!page) return t.skip('Chromium is not here');
    await go('');
    assert.equal(await ask("until(() => deepAll('hive-card').length === 4 && deepAll('hive-card').length)"), 4);
    await ask("until(() => deep('weather-strip').shadowRoot.querySelectorAll('li').length === 5)");
    await ask("deep('input[value=failing]').click()");
    await ask("until(() => deep('weather-strip').shadowRoot.textContent.includes('did not come'))");
    assert.equal(
      await ask("deep('weather-strip').shadowRoot.querySelectorAll('li').length"),
      5,
      'the last good value stays',
    );
    await ask('deep(\'input[value=""]\').click()');
    await ask("until(() => !deep('weather-strip').shadowRoot.querySelector('button'))");
  });

  it('opens a hive, and moves frames by pointer and keyboard', async t => {
    if (!page) return t.skip('Chromium is not here');
    await ask("deep('hive-card').shadowRoot.querySelector('button').click()");
    await ask("until(() => deepAll('frame-box').length === 2)");
    assert.equal(await ask('location.pathname + document.title'), '/hives/RosemaryRosemary · Thistlecombe apiary');
    const ids = () => ask<number[][]>("deepAll('frame-box').map(box => box.frames.map(({ id }) => id))");
    assert.deepEqual(await ids(), [
      [0, 1, 2, 3, 4],
      [5, 6, 7],
    ]);
    const middle = (box: number, frame: number) =>
      ask<{ x: number; y: number }>(
        `(() => { const r = deepAll('frame-box')[${box}].shadowRoot.querySelectorAll('button')[${frame}].getBoundingClientRect(); return { x: Math.round(r.left + r.width / 2), y: Math.round(r.top + r.height / 2) }; })()`,
      );
    const [from, to] = [await middle(0, 0), await middle(1, 1)];
    await page.input([
      { kind: 'move', ...from },
      { kind: 'down' },
      { kind: 'move', x: to.x + 5, y: to.y },
      { kind: 'up' },
    ]);
    assert.deepEqual(await ids(), [
      [1, 2, 3, 4],
      [5, 6, 0, 7],
    ]);
    await ask("deepAll('frame-box')[1].shadowRoot.querySelector('[data-id=\"0\"]').focus()");
    for (const key of ['Space', 'ArrowLeft', 'ArrowUp', 'Space']) {
      await page.input([{ kind: 'key', key, holding: [] }]);
      await ask('new Promise(requestAnimationFrame)');
    }
    assert.deepEqual(await ids(), [
      [1, 0, 2, 3, 4],
      [5, 6, 7],
    ]);
  });

  it('saves a valid inspection', async t => {
    if (!page) return t.skip('Chromium is not here');
    await ask(
      "(globalThis.form = deep('inspection-form').shadowRoot, form.querySelector('weight-field').value = 99, form.querySelector('button').click())",
    );
    assert.equal(await ask("form.querySelector('weight-field').validity.rangeOverflow"), true);
    await ask(
      "(form.querySelector('weight-field').value = 12, form.querySelector('textarea').value = 'Saw the queen.', form.querySelector('button').click())",
    );
    assert.match(await ask("until(() => deep('.saved').textContent)"), /Saved as inspection 100001, 12\.0 kg/);
    assert.equal(await ask("deep('keeper-note').textContent"), 'Saw the queen.');
  });

  it('searches, sorts and selects among thousands of rows', async t => {
    if (!page) return t.skip('Chromium is not here');
    await ask("document.querySelectorAll('nav a')[1].click()");
    await ask("until(() => deep('hive-list')?.shadowRoot.querySelector('li[aria-setsize=\"100001\"]'))");
    await ask("(globalThis.list = deep('hive-list'), list.search = 'bramble swarming', list.order = 'honey')");
    await ask("until(() => +list.shadowRoot.querySelector('li[aria-setsize]')?.getAttribute('aria-setsize') < 9000)");
    const honey = await ask<number[]>(
      "[...list.shadowRoot.querySelectorAll('.kg')].map(cell => parseFloat(cell.textContent))",
    );
    assert.deepEqual(
      honey,
      [...honey].sort((a, b) => b - a),
    );
    await ask("list.shadowRoot.querySelector('li button').click()");
    await ask('until(() => deep(\'[aria-label="Chosen inspection"]\'))');
  });

  it('keeps a ledger with undo, over a reload', async t => {
    if (!page) return t.skip('Chromium is not here');
    await ask("document.querySelectorAll('nav a')[2].click()");
    await ask("until(() => deep('ledger-total'))");
    await ask(
      "(deep('input[name=what]').value = 'Heather honey', deep('input[name=jars]').value = '20', deep('form button').click())",
    );
    await ask("until(() => deep('ledger-total').shadowRoot.textContent.startsWith('115'))");
    await ask("deep('.history button').click()");
    await ask("until(() => deep('ledger-total').shadowRoot.textContent.startsWith('95'))");
    await ask("(deep('.history input').value = '1', deep('.history input').dispatchEvent(new Event('input')))");
    await ask("until(() => localStorage.getItem('thistlecombe.ledger')?.includes('Heather'))");
    await go('ledger');
    await ask("until(() => deep('ledger-total').shadowRoot.textContent.startsWith('115'))");
  });

  it('updates elements in place after a save', async t => {
    if (!page) return t.skip('Chromium is not here');
    await go('inspections');
    await ask("until(() => deep('hive-list'))");
    await ask('(globalThis.isOld = true)');
    await ask('(setTimeout(() => location.reload()), 0)');
    await new Promise(resolve => setTimeout(resolve, 1500));
    await ask(reach);
    await ask("until(() => !globalThis.isOld && deep('hive-list'))");
  });

  it('passes the audit in light and dark, wide and narrow', async t => {
    if (!page) return t.skip('Chromium is not here');
    const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
    for (const path of ['', 'hives/Bramble', 'inspections', 'ledger', 'year', 'nowhere', 'plain.html']) {
      await go(path);
      await ask("until(() => deepAll('main *').some(one => one.shadowRoot?.textContent.trim()))");
      // Of thousands of rows some tell as much as all.
      await ask("deep('hive-list') && (deep('hive-list').search = 'bramble swarming 2026', 0)");
      for (const scheme of ['light', 'dark']) {
        await ask(`document.documentElement.style.colorScheme = '${scheme}'`);
        await ask(rest);
        const found = await ask<unknown[]>(
          `(async () => { if (!globalThis.axe) { const script = document.createElement('script'); script.textContent = ${JSON.stringify(axe)}; document.head.append(script); } const { violations } = await axe.run(document, { resultTypes: ['violations'] }); return violations.map(({ id, nodes }) => [id, nodes.map(({ target, failureSummary }) => [target, failureSummary])]); })()`,
        );
        assert.deepEqual(found, [], `${path} ${scheme}`);
      }
    }
  });
});
