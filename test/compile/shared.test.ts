/** What elements share in the files of a build, and what they bring with them. */
import assert from 'node:assert/strict';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, describe, it } from 'node:test';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { closeEngines, eltrix, open, project, serve } from '../support/project.ts';

const skip = !engines.chromium.find() && 'no Chromium';
const element = (tag: string, head = '', view = '<p>${() => this.label}</p>', more = '') =>
  `import { contract, json, markup, text } from 'eltrix';\n${head}\nexport class ${tag.replace(/(?:^|-)(.)/g, (_, letter: string) => letter.toUpperCase())} extends contract('${tag}', { attributes: { label: text(), some: json() } }) {\n  ${more}\n  view() { return markup\`${view}\`; }\n}\n`;

/** The files that a page loads for an element. */
function loads(root: string, tag: string): string[] {
  const sizes = JSON.parse(readFileSync(join(root, 'dist/sizes.json'), 'utf8')) as Record<string, { loads: string[] }>;
  return [`${tag}.js`, ...sizes[`${tag}.js`]!.loads];
}
const codeOf = (root: string, tag: string) =>
  loads(root, tag)
    .map(file => readFileSync(join(root, 'dist', file), 'utf8'))
    .join('\n');

const servers: { close(): void }[] = [];
after(async () => {
  for (const server of servers) server.close();
  await closeEngines();
});

describe('shared modules', () => {
  it('are loaded only by elements that import them, side effects included', () => {
    const tags = ['bee-one', 'bee-two', 'bee-three', 'bee-four', 'bee-five'];
    const heads: Record<string, string> = {
      'bee-one': "import { drag } from 'drag'; import './effect.js'; globalThis.used = [drag];",
      'bee-two': "import { drag } from 'drag'; import './effect.js'; globalThis.used = [drag];",
      'bee-three': "import { tidy } from './tidy.js'; globalThis.used = tidy();",
      'bee-four': "import { tidy } from './tidy.js'; globalThis.used = tidy();",
    };
    const root = project({
      ...Object.fromEntries(tags.map(tag => [`src/${tag}.js`, element(tag, heads[tag])])),
      'src/effect.js': "globalThis.effects = (globalThis.effects ?? 0) + 1; globalThis.mark = 'side effect';",
      'src/tidy.js': "export const tidy = () => 'tidied up';",
      'node_modules/drag/package.json': '{ "name": "drag", "version": "1.0.0", "type": "module", "main": "index.js" }',
      'node_modules/drag/index.js': "export const drag = { about: 'dragged along', more: [...'abc'] };",
    });
    const { status, stderr } = eltrix(root, 'build', '--no-look');
    assert.equal(status, 0, stderr);
    const has = (text: string) => tags.filter(tag => codeOf(root, tag).includes(text));
    assert.deepEqual(has('dragged along'), ['bee-one', 'bee-two']);
    assert.deepEqual(has('side effect'), ['bee-one', 'bee-two']);
    assert.deepEqual(has('tidied up'), ['bee-three', 'bee-four']);
    // The core of the library is a file of its own, and the same for all.
    const common = loads(root, tags[0]!).filter(file => tags.every(tag => loads(root, tag).includes(file)));
    assert.equal(common.length, 1);
    assert.equal(loads(root, 'bee-five').length, 2);
  });
});

const png = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8z8BQDwAEhQGAhKmMIQAAAABJRU5ErkJggg==',
  'base64',
);
const large = Buffer.concat([png, Buffer.alloc(9000, 7)]);

describe('files of an element', { skip }, () => {
  const root = project({
    'src/bee-show.js': element(
      'bee-show',
      `import moon from './moon.png';
       import bees from './data.json';
       import sheet from './bee-show.css' with { type: 'css' };`,
      '<img class="a" src=${moon}><img class="b" src=${() => this.sun}><p>${() => this.told}</p><i>${bees.name}</i>',
      `static styleSheets = [sheet];
       sun = new URL('./sun.png', import.meta.url).href;
       told = 'nothing';
       async ask() {
         const worker = new Worker(new URL('./worker.js', import.meta.url), { type: 'module' });
         const answer = await new Promise((resolve, reject) => { worker.onmessage = event => resolve(event.data); worker.onerror = () => reject(new Error('worker')); worker.postMessage('hum'); });
         const { late } = await import('./late.js');
         return answer + late;
       }`,
    ),
    'src/bee-show.css': "p { color: rgb(1, 2, 3); background: url('./moon.png') }\n/* a comment */",
    'src/bee-twin.js': element(
      'bee-twin',
      "import sheet from './bee-show.css' with { type: 'css' };",
      '<p></p>',
      'static styleSheets = [sheet];',
    ),
    'src/worker.js': "import { hum } from './hum.js'; onmessage = event => postMessage(hum(event.data));",
    'src/hum.js': 'export const hum = text => text + text;',
    'src/late.js': "export const late = ' late';",
    'src/data.json': '{ "name": "Rue" }',
  });
  writeFileSync(join(root, 'src/moon.png'), large);
  writeFileSync(join(root, 'src/sun.png'), large);
  const look = `Promise.race([new Promise(resolve => setTimeout(resolve, 6000, 'nothing came')), (async () => {
    await customElements.whenDefined('bee-show');
    const el = document.querySelector('bee-show');
    await new Promise(resolve => setTimeout(resolve, 300));
    const image = name => el.shadowRoot.querySelector(name);
    const p = el.shadowRoot.querySelector('p');
    const background = /url\\("(.*)"\\)/.exec(getComputedStyle(p).backgroundImage)?.[1];
    return { a: image('.a').naturalWidth, b: image('.b').naturalWidth, background: background && (await fetch(background)).status, color: getComputedStyle(p).color, name: el.shadowRoot.querySelector('i').textContent, answer: await el.ask().catch(String) };
  })()])`;
  const expected = { a: 1, b: 1, background: 200, color: 'rgb(1, 2, 3)', name: 'Rue', answer: 'humhum late' };

  it('load from any folder, under a strict policy', async () => {
    const { status, stderr } = eltrix(root, 'build', '--no-look');
    assert.equal(status, 0, stderr);
    const policy = {
      'content-security-policy': "default-src 'self'",
    };
    const server = await serve(
      { '/deep/down/w/': join(root, 'dist') },
      {
        '/page/': '<!doctype html><script type="module" src="/deep/down/w/bee-show.js"></script><bee-show></bee-show>',
      },
      policy,
    );
    servers.push(server);
    const page = (await open(`${server.address}/page/`))!;
    assert.deepEqual(await page.evaluate(look), expected);
    await page.close();
  });

  it('contain a common style sheet once, minified', () => {
    const all = readdirSync(join(root, 'dist')).filter(file => file.endsWith('.js'));
    const holding = all.filter(file => readFileSync(join(root, 'dist', file), 'utf8').includes('rgb(1,2,3)'));
    assert.equal(holding.length, 1, holding.join());
    assert.ok(!readFileSync(join(root, 'dist', holding[0]!), 'utf8').includes('a comment'));
  });

  it('load with a classic script', async () => {
    const { status, stderr } = eltrix(root, 'build', '--no-look', '--classic');
    assert.equal(status, 0, stderr);
    const server = await serve(
      { '/deep/w/': join(root, 'dist') },
      { '/page/': '<!doctype html><bee-show></bee-show><script src="/deep/w/classic.js"></script>' },
    );
    servers.push(server);
    const page = (await open(`${server.address}/page/`))!;
    assert.deepEqual(await page.evaluate(look), expected);
    await page.close();
  });
});
