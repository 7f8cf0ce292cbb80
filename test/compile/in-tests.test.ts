/** What sources import reaches the pages of `eltrix test` and `eltrix serve` as well. */
import assert from 'node:assert/strict';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, it } from 'node:test';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project, running } from '../support/project.ts';

describe('sheets and files that sources import', { skip: !engines.chromium.find() && 'no Chromium' }, () => {
  const root = project({
    'src/bee-show.js':
      "import { contract, markup } from 'eltrix';\nimport sheet from './bee-show.css' with { type: 'css' };\nexport class BeeShow extends contract('bee-show', {}) { static styleSheets = [sheet]; view() { return markup`<p>One</p>`; } }\n",
    'src/bee-show.css': 'p { color: rgb(1, 2, 3) }',
    'src/bee-show.test.js': `import test from 'node:test';
import assert from 'node:assert/strict';
import { BeeShow } from './bee-show.js';
import picture from './picture.bin?url';
test('are imported as written', async () => {
  const bytes = new Uint8Array(await (await fetch(picture)).arrayBuffer());
  assert.deepEqual([bytes.length, bytes[0], bytes[8999]], [9000, 200, 200]);
  BeeShow.define();
  const element = document.createElement('bee-show');
  document.body.append(element);
  assert.equal(getComputedStyle(element.shadowRoot.querySelector('p')).color, 'rgb(1, 2, 3)');
  element.remove();
});`,
  });
  writeFileSync(join(root, 'src/picture.bin'), Buffer.alloc(9000, 200));

  for (const mode of [[], ['--compiled']])
    it(`are there in tests ${mode}`, () => {
      const { status, stdout, stderr } = eltrix(root, 'test', 'src', '--in', 'chromium', ...mode);
      assert.equal(status, 0, stdout + stderr);
    });

  it('are there in the gallery, and followed', async () => {
    const gallery = running(root, 'serve', '--port', '0');
    try {
      const [address] = /http:\S+/.exec(await gallery.until(/http:\S+/))!;
      const get = async (path: string) => (await fetch(new URL(path, address))).text();
      const sheetOf = (code: string) => /from "([^"]*bee-show\.css[^"]*)"/.exec(code)![1]!;
      assert.match(await get(sheetOf(await get('/src/bee-show.js'))), /rgb\(1, 2, 3\)|#010203/);
      writeFileSync(join(root, 'src/bee-show.css'), 'p { color: rgb(3, 2, 1) }');
      for (let tries = 0; ; tries++) {
        const code = await get(sheetOf(await get(`/src/bee-show.js?t=${tries}`)));
        if (/rgb\(3, 2, 1\)|#030201/.test(code)) break;
        assert.ok(tries < 100, code);
        await new Promise(resolve => setTimeout(resolve, 50));
      }
    } finally {
      await gallery.end();
    }
  });
});
