/**
 * Random trees (`test/pages/composed.ts`) that a server has rendered are taken over, and show what their present values
 * say, then and after changes. ELTRIX_SEED says with which to begin, ELTRIX_PROGRAMS how many.
 */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { fileURLToPath } from 'node:url';
import { renderElement } from 'eltrix/server';
import { type EngineName, engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { ComposedProgram, defineAll } from '../pages/composed.ts';
import { pageScript, withPages } from '../support/bundled-page.ts';

defineAll();

const programs = Number(process.env['ELTRIX_PROGRAMS'] ?? 100);
const first = Number(process.env['ELTRIX_SEED'] ?? 0);
const engine = engines[(process.env['ELTRIX_ENGINE'] ?? 'chromium') as EngineName];

const page = `
import { takeOver } from '${fileURLToPath(new URL('../pages/composed.ts', import.meta.url))}';
globalThis.takeOver = takeOver;
`;

for (const options of ['as written', { rendered: true }] as const)
  it(`${programs} random trees are taken over, ${options === 'as written' ? options : 'compiled'}`, {
    skip: !engine.find() && 'no Chromium',
  }, async () => {
    const sent = Array.from({ length: programs }, (_, number) =>
      renderElement(ComposedProgram, { attributes: { number: String(first + number) }, onError() {} }),
    );
    const script = await pageScript({ page }, options);
    await withPages(engine, async open => {
      const { evaluate } = await open(script);
      const found = await evaluate(`(async () => {
        const found = [];
        const sent = ${JSON.stringify(sent)};
        for (const html of sent) found.push(...await takeOver(html));
        // Elements are defined once a window.
        for (const [number, html] of sent.entries()) {
          const frame = document.createElement('iframe');
          frame.src = location.href;
          document.body.append(frame);
          await new Promise(resolve => frame.addEventListener('load', resolve, { once: true }));
          found.push(...await frame.contentWindow.takeOver(html, number));
          frame.remove();
        }
        return found;
      })()`);
      assert.deepEqual(found, []);
    });
  });
