/** Hot replacement in an application that Vite serves, in every engine: what is saved shows without a reload. */
import assert from 'node:assert/strict';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, describe, it } from 'node:test';
import { createServer } from 'vite';
import { eltrix } from '../../packages/eltrix-tool/dist/tool/vite.js';
import { hotModule } from '../../packages/eltrix-tool/src/compile/hot-plugin.ts';
import { closeEngines, open, project } from '../support/project.ts';

const files = {
  'index.html': `<!doctype html><title>Hives</title><hive-note name="Rosemary"><b>content</b></hive-note><script type="module" src="/src/main.ts"></script>`,
  'src/main.ts': `import { HiveNote } from './hive-note.ts';
Object.assign(globalThis, { HiveNote, loads: 1 + ((globalThis as { loads?: number }).loads ?? 0) });`,
  'src/words.ts': `export const word = 'hive';`,
  'src/hive-note.css': `p { color: red }`,
  'src/hive-note.ts': `import { contract, flag, markup, signal, text } from 'eltrix';
import sheet from './hive-note.css' with { type: 'css' };
import { word } from './words.ts';

export class HiveNote extends contract('hive-note', { attributes: { name: text() } }) {
  static styleSheets = [sheet];
  readonly count = signal(0);
  readonly #pressed = signal(0);
  #times = 0;

  view() {
    return markup\`<p onclick=\${this.press}>\${() => \`\${word} \${this.name} \${this.count.get()} one \${this.#pressed.get()}\`}</p><input><slot></slot>\`;
  }

  press() {
    this.count.set(this.count.get() + 1);
    this.#times++;
    this.#pressed.set(this.#times);
  }
}
HiveNote.define();
`,
};

const state =
  "JSON.stringify((() => { const note = document.querySelector('hive-note'); const p = note.shadowRoot?.querySelector('p'); const field = note.shadowRoot?.querySelector('input'); return { text: p?.textContent, color: p && getComputedStyle(p).color, field: field?.value, isSame: globalThis.first === note }; })())";

const times: string[] = [];

describe('hot replacement', () => {
  after(closeEngines);

  for (const engine of ['chromium', 'firefox', 'webkit'] as const)
    it(`in ${engine}`, async t => {
      const root = project(files);
      const server = await createServer({
        root,
        configFile: false,
        plugins: [eltrix()],
        logLevel: 'silent',
        optimizeDeps: { include: ['eltrix'] },
        server: { host: '127.0.0.1', port: 0, hmr: { overlay: false } },
      });
      try {
        await server.listen();
        const page = await open(server.resolvedUrls!.local[0]!, engine);
        if (!page) return t.skip(`${engine} is not here`);
        const look = async () => JSON.parse(await page.evaluate<string>(state)) as Record<string, unknown>;
        const until = async (text: RegExp, color = 'rgb(255, 0, 0)') => {
          const end = performance.now() + 60_000;
          for (;;) {
            const seen = await look();
            if (text.test(String(seen['text'])) && seen['color'] === color) return seen;
            assert.ok(performance.now() < end, `never ${text} ${color}: ${JSON.stringify(seen)}`);
            await new Promise(resolve => setTimeout(resolve, 5));
          }
        };
        let last = 0;
        const save = async (file: string, from: string, to: string) => {
          const path = join(root, file);
          // Vite's watcher ignores a change within 50 ms of one that it has reported.
          await new Promise(resolve => setTimeout(resolve, last + 200 - performance.now()));
          writeFileSync(path, readFileSync(path, 'utf8').replace(from, to));
          return (last = performance.now());
        };
        await until(/^hive Rosemary 0 one 0$/);
        // Dependencies that Vite finds first may reload the page once.
        await new Promise(resolve => setTimeout(resolve, 1500));
        await until(/^hive Rosemary 0 one 0$/);
        await page.evaluate(
          "(() => { const note = globalThis.first = document.querySelector('hive-note'); note.shadowRoot.querySelector('p').click(); note.shadowRoot.querySelector('input').value = 'typed'; return true; })()",
        );
        const kept = { field: 'typed', isSame: true };
        let begun = await save('src/hive-note.ts', ' one ', ' two ');
        let seen = await until(/^hive Rosemary 1 two 1$/);
        times.push(`${engine}: view ${Math.round(performance.now() - begun)} ms`);
        assert.deepEqual({ field: seen['field'], isSame: seen['isSame'] }, kept, 'a view');
        begun = await save('src/hive-note.css', 'red', 'blue');
        seen = await until(/two 1$/, 'rgb(0, 0, 255)');
        times.push(`${engine}: sheet ${Math.round(performance.now() - begun)} ms`);
        assert.deepEqual({ field: seen['field'], isSame: seen['isSame'] }, kept, 'a sheet');
        await save('src/words.ts', "'hive'", "'box'");
        seen = await until(/^box Rosemary 1 two 1$/, 'rgb(0, 0, 255)');
        assert.deepEqual({ field: seen['field'], isSame: seen['isSame'] }, kept, 'what a module imports');
        await save('src/hive-note.ts', 'name: text() }', 'name: text(), open: flag() }');
        await save('src/hive-note.ts', ' two ', ' ${this.open} ');
        seen = await until(/^box Rosemary 1 false 1$/, 'rgb(0, 0, 255)');
        await page.evaluate('(() => { globalThis.first.open = true; return true; })()');
        seen = await until(/^box Rosemary 1 true 1$/, 'rgb(0, 0, 255)');
        assert.deepEqual({ field: seen['field'], isSame: seen['isSame'] }, kept, 'another contract');
        assert.equal(await page.evaluate('globalThis.loads'), 1, 'nothing else was evaluated again');
        // A root of another kind cannot be given: the page is loaded again.
        await save('src/hive-note.ts', "contract('hive-note', {", "contract('hive-note', { shadow: 'none',");
        const end = performance.now() + 60_000;
        while (
          (await page
            .evaluate("document.querySelector('hive-note')?.querySelector('p')?.textContent ?? ''")
            // It is on its way to the same page.
            .catch(() => '')) !== 'box Rosemary 0 false 0'
        ) {
          assert.ok(performance.now() < end, 'never loaded again');
          await new Promise(resolve => setTimeout(resolve, 50));
        }
        await page.close();
      } finally {
        await server.close();
      }
    });

  it('prints how long replacements took', t => {
    for (const time of times) t.diagnostic(time);
  });
});

describe('modules that accept their own updates', () => {
  const head = `import { contract } from 'eltrix';\nclass A extends contract('a-b', {}) {}\nA.define();\n`;
  const cases: [string, boolean | undefined][] = [
    ['export { A };', true],
    ['export default A;', true],
    ['export interface Frame {}\nexport type Box = Frame;\nexport { A };', true],
    ['export const frames = 3;', false],
    ['export function help() {}', false],
    ["export * from './other.ts';", false],
    ["export { B } from './other.ts';", false],
    ['if (import.meta.hot) import.meta.hot.accept(() => {});', false],
  ];
  for (const [code, accepts] of cases)
    it(`${accepts ? '' : 'not '}with ${code.split('\n')[0]}`, () => {
      assert.equal(hotModule('a.ts', head + code)?.accepts, accepts);
    });

  it('not a module without elements', () => {
    assert.equal(hotModule('a.ts', "customElements.define('a-b', class extends HTMLElement {});"), undefined);
  });
});
