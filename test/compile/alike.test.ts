/** Sources written in every way there is: built elements do what they do as written. */
import assert from 'node:assert/strict';
import { join } from 'node:path';
import { after, before, describe, it } from 'node:test';
import { eltrix as plugins } from 'eltrix-tool/vite';
import { build } from 'vite';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { closeEngines, eltrix, open, project, serve } from '../support/project.ts';
import { cases } from './alike-cases.ts';

// What is as written but for the sheets, which not every engine loads.
const [, sheets] = plugins();

const skip = !engines.chromium.find() && 'no Chromium';

/** What the page runs: each case makes its element, and tells what it sees. */
const script = `
globalThis.seen = (async () => {
  const turn = () => new Promise(resolve => setTimeout(resolve));
  const all = {};
  for (const { name, tag, html, steps } of JSON.parse(document.getElementById('cases').textContent)) {
    const seen = all[name] = [];
    globalThis.note = text => seen.push(text);
    addEventListener('error', event => { seen.push('error: ' + event.message); event.preventDefault(); }, { once: true });
    const shown = root => root.innerHTML.replace(/<!--.*?-->/gs, '');
    try {
      document.body.innerHTML = html ?? '<' + tag + '></' + tag + '>';
      const el = document.querySelector(tag + ', [is]');
      await turn();
      const look = () => seen.push(shown(el.shadowRoot ?? el));
      look();
      for (const step of steps ?? []) {
        const value = (0, eval)('(async (el, turn) => {' + step + '})');
        const given = await value(el, turn);
        await turn();
        if (given !== undefined) seen.push(JSON.stringify(given)); else look();
      }
      document.body.replaceChildren();
      await turn();
    } catch (error) { seen.push('threw: ' + error.message); }
  }
  return all;
})();`;

// The parser gives TypeScript another syntax tree.
for (const language of ['js', 'ts'])
  describe(`a built element does what it does as written, in .${language}`, { skip }, () => {
    let outcomes: Record<'written' | 'built', Record<string, string[]>>;
    before(async () => {
      const inLanguage = (text: string) => text.replace(/\.js(?='|$)/gm, `.${language}`);
      const written = Object.assign({}, ...cases.map(({ files }) => files)) as Record<string, string>;
      const sources = Object.fromEntries(
        Object.entries(written).map(([file, code]) => [inLanguage(file), inLanguage(code)]),
      );
      const root = project(
        { ...sources, 'package.json': '{ "type": "module", "imports": { "#parts/*": "./src/*" } }' },
        [],
      );
      const tags = cases.map(({ tag }) => tag);
      const entry = (at: (tag: string) => string) => tags.map(tag => `import '${at(tag)}';`).join('\n');
      const definitions = cases.map(
        ({ file }, at) =>
          `import * as m${at} from './${inLanguage(file)}';\nfor (const Class of Object.values(m${at})) if (/^class /.test(String(Class))) Class.define();`,
      );
      const { output } = (await build({
        root,
        configFile: false,
        logLevel: 'silent',
        resolve: { conditions: ['production', 'browser', 'module'] },
        plugins: [
          sheets!,
          {
            name: 'entry',
            resolveId: id => (id === 'entry' ? join(root, 'entry.js') : undefined),
            load: id => (id.endsWith('/entry.js') ? definitions.join('\n') : undefined),
          },
        ],
        build: { write: false, target: 'es2022', minify: false, rolldownOptions: { input: 'entry' } },
      })) as { output: { code: string }[] };
      const { status, stderr, stdout } = eltrix(root, 'build', '--no-look');
      assert.deepEqual([status, stderr], [0, ''], stdout);
      const json = JSON.stringify(cases.map(({ files: _, ...rest }) => rest)).replaceAll('<', '\\u003c');
      const page = (src: string) =>
        `<!doctype html><script type="application/json" id="cases">${json}</script><script type="module">${src}\n${script}</script><body>`;
      const server = await serve(
        { '/w/': join(root, 'dist') },
        {
          '/written': page(output[0]!.code.replaceAll('</script', '<\\/script')),
          '/built': page(entry(tag => `/w/${tag}.js`)),
        },
      );
      const run = async (path: string) => {
        const page = (await open(server.address + path))!;
        try {
          return await page.evaluate<Record<string, string[]>>('seen');
        } finally {
          await page.close();
        }
      };
      outcomes = { written: await run('/written'), built: await run('/built') };
      server.close();
    });
    after(closeEngines);

    for (const { name, shows } of cases)
      it(name, () => {
        const { written, built } = outcomes;
        if (shows) assert.deepEqual(written[name], shows);
        assert.deepEqual(built[name], written[name]);
      });
  });
