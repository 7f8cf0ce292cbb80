/** The gallery, driven in a real browser: served with live reload, and as a static site. */
import assert from 'node:assert/strict';
import { mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, before, describe, it } from 'node:test';
import { foundEngines, type Page } from '../../packages/eltrix-tool/src/engines/index.ts';
import { closeEngines, eltrix, open, project, repository, running, serve } from '../support/project.ts';

const card = `import { choice, contract, data, event, flag, integer, markup, slot, stylesheet, text } from 'eltrix';
export class BeeCard extends contract('bee-card', {
  about: 'A bee at a glance.',
  attributes: { name: text(), mood: choice(['calm', 'busy'], { missing: 'calm', invalid: 'calm' }), legs: integer({ default: 6 }), tired: flag() },
  properties: { flowers: data<string[]>(() => []) },
  events: { 'bee-hum': event<{ name: string }>() },
  slots: { '': slot('What is known of it.') },
  cssProperties: { '--bee-colour': 'Its colour.' },
}) {
  static styleSheets = [stylesheet\`b { color: var(--bee-colour, black) } @media (prefers-color-scheme: dark) { b { font-style: italic } }\`];
  view() {
    return markup\`<b>\${() => this.name}</b> <i>\${() => this.mood}</i> <span>\${() => this.flowers.join('+')}</span><slot></slot><input aria-label="Wish"><button type="button" onclick=\${() => this.hum()}>Hum</button>\`;
  }
  hum() {
    this.emit('bee-hum', { name: this.name });
    this.dispatchEvent(new CustomEvent('bee-secret'));
  }
}
BeeCard.define();
`;
const specimens = `<template title="A calm bee"><bee-card name="Juniper"><em>Quiet.</em></bee-card></template>
<template title="A busy bee"><bee-card name="Clove" mood="busy"></bee-card>
<script type="module">document.querySelector('bee-card').flowers = ['lime', 'clover'];</script></template>`;

/** What the site needs at most, as docs/gallery.md says it. */
const sitePolicy =
  "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; frame-src 'self'; base-uri 'self'; require-trusted-types-for 'script'; trusted-types eltrix";

/** What is written into each page to reach through shadow roots and frames. */
const reach = `(() => {
globalThis.app = () => document.querySelector('gallery-app').shadowRoot;
globalThis.sheet = () => app().querySelector('gallery-sheet').shadowRoot;
globalThis.plates = () => [...sheet().querySelectorAll('gallery-plate')];
globalThis.frame = (at = 0) => plates()[at].shadowRoot.querySelector('iframe:not(.behind)')?.contentDocument;
globalThis.bee = (at = 0) => frame(at)?.querySelector('bee-card');
globalThis.label = () => plates().find(plate => plate.chosen).shadowRoot.querySelector('gallery-label');
globalThis.control = name => [...sheet().querySelector('gallery-bench').shadowRoot.querySelectorAll('gallery-control')].find(one => one.control.name === name);
globalThis.field = name => control(name).shadowRoot.querySelector('input:not([type=color]), select, textarea');
globalThis.write = (name, value) => { const f = field(name); if (f.type === 'checkbox') f.click(); else { f.value = value; f.dispatchEvent(new Event(f.localName === 'select' ? 'change' : 'input', { bubbles: true })); } };
globalThis.standing = new WeakSet();
addEventListener('message', ({ data, source }) => { if (data?.type === 'standby') standing.add(source); });
globalThis.waiting = () => plates().every(plate => standing.has(plate.shadowRoot.querySelector('iframe:last-of-type.behind')?.contentWindow));
globalThis.until = async (what, ms = 20_000) => { const end = performance.now() + ms; for (;;) { let value; try { value = what(); } catch (error) { value = undefined; } if (value) return value; if (performance.now() > end) throw new Error('never: ' + what); await new Promise(resolve => setTimeout(resolve, 10)); } };
})()`;

after(closeEngines);

describe('the gallery, served', () => {
  const root = project({
    'package.json': '{ "name": "bees", "type": "module" }',
    'src/bee-card.ts': card,
    'src/bee-card.specimen.html': specimens,
    '.env': 'SECRET=1',
  });
  const source = join(root, 'src/bee-card.ts');
  const tool = running(root, 'serve', '--port', '0');
  let address = '';
  let page: Page | null;
  const ask = <T>(code: string) => page!.evaluate<T>(code);
  before(async () => {
    address = /http:\S+/.exec(await tool.until(/ready in/))![0];
    page = await open(`${address}#/bee-card`);
    await page?.evaluate(reach);
    await page?.evaluate("until(() => bee().shadowRoot.textContent.includes('Juniper'))");
  });
  after(() => tool.end());

  it('listens on 127.0.0.1, and serves only the project', async () => {
    const status = async (path: string, headers = {}) => (await fetch(address + path, { headers })).status;
    assert.equal(await status(''), 200);
    assert.equal(await status('.env'), 404);
    assert.equal(await status('@eltrix/project/.env'), 404);
    assert.equal(await status('@eltrix/project/..%2f..%2fetc/passwd'), 400);
    assert.equal(await status('@fs/etc/passwd'), 404);
    // fetch() does not let a page choose the host, so the request is written by hand.
    const { request } = await import('node:http');
    const answer = await new Promise<number>(resolve =>
      request(address, { headers: { host: 'evil.example' } }, response => resolve(response.statusCode!)).end(),
    );
    assert.ok(answer === 421 || answer === 403, String(answer));
  });

  it('changes the element with controls, and shows the HTML', async t => {
    if (!page) return t.skip('Chromium is not here');
    await ask("(write('name', 'Sorrel'), write('mood', '=busy'), write('tired'), write('flowers', '[\"thyme\"]'))");
    await ask("until(() => bee().shadowRoot.querySelector('span').textContent === 'thyme')");
    assert.equal(await ask("bee().shadowRoot.querySelector('b').textContent + bee().mood"), 'Sorrelbusy');
    await ask("until(() => label().html.includes('tired'))");
    assert.match(await ask('label().html'), /^<bee-card name="Sorrel" mood="busy" tired="">/);
    await ask("write('', '<em>Loud</em>')");
    await ask("until(() => bee().textContent === 'Loud')");
    await ask("write('--bee-colour', '#ff0000')");
    await ask(
      "until(() => frame().defaultView.getComputedStyle(bee().shadowRoot.querySelector('b')).color === 'rgb(255, 0, 0)')",
    );
    await ask("write('flowers', '[oops')");
    await ask("until(() => control('flowers').shadowRoot.querySelector('.bad'))");
    assert.equal(await ask('bee().flowers.join()'), 'thyme');
    await ask("write('flowers', '[\"thyme\"]')");
  });

  it('keeps the whole state in the URL', async t => {
    if (!page) return t.skip('Chromium is not here');
    await ask("until(() => location.hash.includes('thyme') && location.hash.includes('Loud'))");
    const other = (await open(await ask('location.href')))!;
    await other.evaluate(reach);
    await other.evaluate("until(() => bee().shadowRoot.querySelector('span').textContent === 'thyme')");
    await other.evaluate("until(() => bee().name + bee().tired + bee().textContent === 'SorreltrueLoud')");
    await other.close();
  });

  it('logs declared and undeclared events, and a timeline with causes', async t => {
    if (!page) return t.skip('Chromium is not here');
    await ask("bee().shadowRoot.querySelector('button').click()");
    await ask('until(() => label().heard.length === 2)');
    assert.deepEqual(await ask('label().heard.map(({ name, detail, declared }) => [name, detail, declared])'), [
      ['bee-secret', null, false],
      ['bee-hum', '{"name":"Sorrel"}', true],
    ]);
    await ask("write('name', 'Tansy')");
    await ask("until(() => label().happened.some(({ what }) => what.includes('Tansy')))");
    await ask('until(() => label().happened[0].cause === \'property "name"\')');
    const timeline = await ask<{ kind: string; what: string }[]>('label().happened');
    assert.ok(timeline.some(({ kind, what }) => kind === 'attribute' && what === 'name: "Sorrel" → "Tansy"'));
    assert.ok(timeline.some(({ kind }) => kind === 'life'));
  });

  it('shows a saved change, keeps control values, scroll and focus, and reloads no other frame', async t => {
    if (!page) return t.skip('Chromium is not here');
    await ask("(frame().body.style.minHeight = '3000px', bee().shadowRoot.querySelector('input').focus())");
    writeFileSync(source, card.replace('Hum<', 'Buzz<'));
    await ask("until(() => bee().shadowRoot.textContent.includes('Buzz'))");
    await ask('until(() => frame().defaultView.document.activeElement === bee())');
    assert.equal(await ask('bee().shadowRoot.activeElement.localName + bee().name'), 'inputTansy');
  });

  it('shows the last of several quick saves', async t => {
    if (!page) return t.skip('Chromium is not here');
    for (const word of ['Drone', 'Murmur', 'Whirr']) {
      writeFileSync(source, card.replace('Hum<', `${word}<`));
      await new Promise(resolve => setTimeout(resolve, 20));
    }
    await ask("until(() => [0, 1].every(at => bee(at).shadowRoot.textContent.includes('Whirr')))");
    writeFileSync(source, card.replace('Hum<', 'Buzz<'));
    await ask("until(() => bee().shadowRoot.textContent.includes('Buzz'))");
  });

  it('recovers from a module with an endless loop', async t => {
    if (!page) return t.skip('Chromium is not here');
    // A late notice of the last save may take the frame that waits.
    await ask('until(waiting)');
    await new Promise(resolve => setTimeout(resolve, 500));
    await ask('until(waiting)');
    writeFileSync(source, `await new Promise(() => {});\n${card}`);
    try {
      // The gallery gives a frame three seconds to begin.
      await new Promise(resolve => setTimeout(resolve, 3500));
      assert.match(await ask("bee()?.shadowRoot.textContent ?? ''"), /Buzz/, 'what was shown before stays');
    } finally {
      // The tests after this one use the file.
      writeFileSync(source, card.replace('Hum<', 'Drone<'));
    }
    await ask("until(() => [0, 1].every(at => bee(at)?.shadowRoot.textContent.includes('Drone')))");
    writeFileSync(source, card.replace('Hum<', 'Buzz<'));
    await ask("until(() => bee()?.shadowRoot.textContent.includes('Buzz'))");
  });

  for (const { name } of foundEngines().filter(({ name }) => name !== 'chromium'))
    it(`follows controls and saved files in ${name} too`, async () => {
      const other = (await open(`${address}#/bee-card`, name))!;
      try {
        await other.evaluate(reach);
        await other.evaluate("until(() => bee()?.shadowRoot.textContent.includes('Juniper'))");
        await other.evaluate("write('name', 'Clover')");
        await other.evaluate("until(() => bee().shadowRoot.querySelector('b').textContent === 'Clover')");
        for (const word of ['Drone', 'Murmur', 'Whirr']) {
          // A frame waits to take the other's place; once, none does.
          if (word !== 'Murmur') await other.evaluate('until(waiting)');
          writeFileSync(source, card.replace('Hum<', `${word}<`));
          await other.evaluate(
            `until(() => [0, 1].every(at => bee(at)?.shadowRoot.textContent.includes(${JSON.stringify(word)})))`,
          );
          await other.evaluate("until(() => bee()?.name === 'Clover')");
        }
        writeFileSync(source, card.replace('Hum<', 'Buzz<'));
        await other.evaluate("until(() => bee()?.shadowRoot.textContent.includes('Buzz'))");
      } finally {
        await other.close();
      }
    });

  it('shows an error with its position until it is fixed', async t => {
    if (!page) return t.skip('Chromium is not here');
    // Soon after another change, whose contracts are read a moment later.
    writeFileSync(source, card.replace('Hum<', 'Purr<'));
    await ask("until(() => [0, 1].every(at => bee(at)?.shadowRoot.textContent.includes('Purr')))");
    writeFileSync(source, card.replace('view() {', 'view() { const = 1;'));
    const text = await ask<string>("until(() => app().querySelector('.fault')?.shadowRoot.textContent)");
    assert.match(text, /Unexpected token.*src\/bee-card\.ts:11:18.*const = 1/s);
    assert.match(await ask('bee().shadowRoot.textContent'), /Purr/, 'what was shown before stays');
    await new Promise(resolve => setTimeout(resolve, 200));
    writeFileSync(source, card);
    await ask("until(() => !app().querySelector('.fault') && bee().shadowRoot.textContent.includes('Hum'))");
  });

  it('follows added and removed specimens and elements', async t => {
    if (!page) return t.skip('Chromium is not here');
    const file = join(root, 'src/bee-card.specimen.html');
    writeFileSync(file, `${specimens}<template title="A third"><bee-card name="Rue"></bee-card></template>`);
    await ask('until(() => plates().length === 3)');
    mkdirSync(join(root, 'src/more'));
    writeFileSync(join(root, 'src/more/wasp-card.ts'), card.replaceAll('bee', 'wasp').replaceAll('Bee', 'Wasp'));
    const index = "[...app().querySelector('gallery-index').shadowRoot.querySelectorAll('li a')]";
    await ask(`until(() => ${index}.length === 2)`);
    assert.equal(await ask("app().querySelector('gallery-index').shadowRoot.querySelector('h2').textContent"), 'more/');
    rmSync(join(root, 'src/more'), { recursive: true });
    await ask(`until(() => ${index}.length === 1)`);
    writeFileSync(file, specimens);
    await ask('until(() => plates().length === 2)');
    renameSync(file, join(root, 'src/bea-card.specimen.html'));
    await ask('until(() => plates().length === 1)');
    const data = (await (await fetch(`${address}@eltrix/data.json`)).json()) as { problems: { message: string }[] };
    assert.match(data.problems[0]!.message, /Did you mean bee-card\.specimen\.html\?/);
    renameSync(join(root, 'src/bea-card.specimen.html'), file);
    await ask('until(() => plates().length === 2)');
  });

  it('shows specimens with other user settings', async t => {
    if (!page) return t.skip('Chromium is not here');
    const style = "frame().defaultView.getComputedStyle(bee().shadowRoot.querySelector('b'))";
    await ask("location.hash = '#/bee-card?scheme=dark&rtl&text=200&width=280'");
    await ask(`until(() => ${style}.fontStyle === 'italic' && frame().documentElement.dir === 'rtl')`);
    // A file that was saved while a frame began makes it begin once more.
    await ask(
      "until(() => `${frame().defaultView.innerWidth} ${frame().documentElement.style.fontSize}` === '280 200%')",
    );
    await ask("location.hash = '#/bee-card?scheme=light'");
    await ask(`until(() => ${style}.fontStyle === 'normal')`);
  });

  it('shows a specimen again from its beginning, with the changes of its fields', async t => {
    if (!page) return t.skip('Chromium is not here');
    await ask("location.hash = '#/bee-card?set.mood=busy'");
    await ask("until(() => bee().getAttribute('mood') === 'busy')");
    await ask("bee().title = 'changed by hand'");
    await ask(
      "[...plates()[0].shadowRoot.querySelectorAll('button')].find(one => /Show again/.test(one.textContent)).click()",
    );
    await ask("until(() => bee()?.title === '' && bee().getAttribute('mood') === 'busy')");
    assert.equal(await ask("plates()[0].shadowRoot.querySelector('.loading') === null"), true);
    await ask("location.hash = '#/bee-card'");
  });

  it('shows the findings of eltrix check in source and specimens', async t => {
    if (!page) return t.skip('Chromium is not here');
    const file = join(root, 'src/bee-card.specimen.html');
    const notes =
      "[...(sheet().querySelector('.notes')?.querySelectorAll('li') ?? [])].map(one => one.textContent).join()";
    assert.equal(await ask(notes), '');
    // Each save follows the last answer at once: what is still being read must not be shown after it.
    for (let times = 0; times < 5; times++) {
      writeFileSync(file, specimens.replace('mood="busy"', 'mood="buzy"'));
      await ask(`until(() => /src\\/bee-card\\.specimen\\.html:2 choice-invalid .*"buzy"/.test(${notes}))`);
      writeFileSync(file, specimens);
      await ask(`until(() => ${notes} === '')`);
    }
  });

  it('leaves a narrow page to the specimen until its fields are wanted, and shows both then', async t => {
    if (!page) return t.skip('no Chromium');
    const narrow = (await open(`${address}#/bee-card`, 'chromium', { viewport: { width: 400, height: 800 } }))!;
    await narrow.evaluate(reach);
    await narrow.evaluate("until(() => bee().shadowRoot.textContent.includes('Juniper'))");
    const seen = () =>
      narrow.evaluate<{ fields: boolean; specimen: number; fold: number }>(`(() => {
        const aside = sheet().querySelector('aside').getBoundingClientRect();
        const plate = plates()[0].getBoundingClientRect();
        return { fields: sheet().querySelector('gallery-bench').offsetHeight > 0, fold: Math.round(aside.height), specimen: Math.round(Math.min(plate.bottom, aside.top) - Math.max(plate.top, 0)) };
      })()`);
    const folded = await seen();
    assert.ok(!folded.fields && folded.fold < 70 && folded.specimen > 200, JSON.stringify(folded));
    await narrow.evaluate(
      "plates()[0].scrollIntoView(); sheet().querySelector('.fold button').click(); until(() => sheet().querySelector('gallery-bench').offsetHeight > 0)",
    );
    const unfolded = await seen();
    assert.ok(unfolded.fields && unfolded.fold > 250 && unfolded.specimen > 200, JSON.stringify(unfolded));
    await narrow.evaluate("write('name', 'Sorrel'); until(() => bee().name === 'Sorrel')");
    await narrow.close();
  });

  it('audits elements, and passes the audit itself', async t => {
    if (!page) return t.skip('Chromium is not here');
    await ask("label().shadowRoot.querySelectorAll('button')[3].click()");
    await ask('until(() => label().findings)');
    assert.deepEqual(await ask('label().findings'), []);
    await ask("import('/@eltrix/axe.js').then(() => 0)");
    for (const hash of ['#/', '#/bee-card', '#/bee-card/a-busy-bee?scheme=dark']) {
      await ask(`location.hash = ${JSON.stringify(hash)}`);
      await ask(hash === '#/' ? "until(() => app().querySelector('gallery-wall'))" : 'until(bee)');
      await ask('Promise.allSettled(document.getAnimations().map(animation => animation.finished)).then(() => 0)');
      const found = await ask<unknown[]>(
        "axe.run(document, { iframes: false, resultTypes: ['violations'] }).then(({ violations }) => violations.map(({ id, nodes }) => [id, nodes.map(({ target, failureSummary }) => [target, failureSummary])]))",
      );
      assert.deepEqual(found, [], hash);
    }
  });
});

describe('the gallery as a site', () => {
  it('works below any folder, under a strict policy', async t => {
    const root = project({
      'src/bee-card.ts': card,
      'src/bee-card.specimen.html': specimens.replace('<em>', '<img src="bee.svg" alt=""><em style="color: red">'),
      'src/bee.svg': '<svg xmlns="http://www.w3.org/2000/svg" width="10" height="10"></svg>',
    });
    const built = eltrix(root, 'build', '--gallery', 'site', '--no-look');
    assert.equal(built.status, 0, built.stderr);
    assert.match(built.stdout, /The gallery is in site\//);
    const server = await serve({ '/some/where/': join(root, 'site') }, {}, { 'content-security-policy': sitePolicy });
    try {
      const page = await open(`${server.address}/some/where/index.html#/bee-card`);
      if (!page) return t.skip('Chromium is not here');
      await page.evaluate(
        "globalThis.refused = []; addEventListener('securitypolicyviolation', event => refused.push(event.violatedDirective))",
      );
      await page.evaluate(reach);
      await page.evaluate("until(() => bee(1).shadowRoot.querySelector('span').textContent === 'lime+clover')");
      assert.equal(await page.evaluate("bee(0).querySelector('em').style.color"), 'red');
      assert.equal(await page.evaluate("until(() => bee(0).querySelector('img').naturalWidth)"), 10);
      assert.deepEqual(await page.evaluate('refused'), []);
      assert.match(await page.evaluate("sheet().querySelector('.facts').textContent"), /brotli/);
      await page.close();
    } finally {
      server.close();
    }
    assert.deepEqual(eltrix(root, 'build', '--gallery', 'src', '--no-look').status, 2, 'a folder of other things');
  });
});

describe('the port', () => {
  it('is reported when it is in use', async () => {
    const { createServer } = await import('node:net');
    const other = createServer();
    await new Promise<void>(resolve => other.listen(0, '127.0.0.1', resolve));
    const { port } = other.address() as { port: number };
    const { status, stderr } = eltrix(project({ 'src/bee-card.ts': card }), 'serve', '--port', String(port));
    other.close();
    assert.equal(status, 2);
    assert.match(stderr, new RegExp(`port-taken.*--port ${port + 1}`, 's'));
    assert.match(readFileSync(join(repository, 'docs/messages.md'), 'utf8'), /port-taken/);
  });
});
