/**
 * What a reader has typed, checked or chosen before the script arrives stays, and the signals of the fields get it: random
 * fields (`test/pages/edited.ts`). ELTRIX_SEED says with which to begin, ELTRIX_PROGRAMS how many.
 */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { fileURLToPath } from 'node:url';
import { renderElement } from 'eltrix/server';
import { type EngineName, engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { EditedFields } from '../pages/edited.ts';
import { pageScript, withPages } from '../support/bundled-page.ts';

const programs = Number(process.env['ELTRIX_PROGRAMS'] ?? 150);
const first = Number(process.env['ELTRIX_SEED'] ?? 0);
const engine = engines[(process.env['ELTRIX_ENGINE'] ?? 'chromium') as EngineName];
const page = `
import { edit, EditedFields } from '${fileURLToPath(new URL('../pages/edited.ts', import.meta.url))}';
globalThis.edit = edit;
globalThis.define = () => EditedFields.define();
`;

EditedFields.define();

for (const options of ['as written', { rendered: true }] as const)
  it(`${programs} random forms, ${options === 'as written' ? options : 'compiled'}`, {
    skip: !engine.find() && 'no Chromium',
  }, async () => {
    const sent = Array.from({ length: programs }, (_, number) =>
      renderElement(EditedFields, { attributes: { number: String(first + number) } }),
    );
    const script = await pageScript({ page }, options);
    await withPages(engine, async open => {
      const { evaluate } = await open(script);
      const found = await evaluate(`(async () => {
        const found = [];
        define();
        for (const [number, html] of ${JSON.stringify(sent)}.entries()) found.push(...await edit(html, ${first} + number));
        return found;
      })()`);
      assert.deepEqual(found, []);
    });
  });
