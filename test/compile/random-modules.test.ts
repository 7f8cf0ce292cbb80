/**
 * Random modules do the same as written and built. ELTRIX_MODULES says how many, ELTRIX_SEED which. What differs is made
 * smaller before it is told.
 */
import assert from 'node:assert/strict';
import { after, it } from 'node:test';
import { isDeepStrictEqual } from 'node:util';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { closeEngines } from '../support/project.ts';
import { seed } from '../support/random.ts';
import { writtenAndBuilt } from '../support/written-and-built.ts';
import { asCase, type Module, randomModule, shrunk } from './random-module.ts';

const count = Number(process.env['ELTRIX_MODULES'] ?? 80);
/** As many as a build takes at once without much memory. */
const atOnce = 250;

/** Those that differ, with what each did. */
async function different(modules: readonly Module[]) {
  const { written, built } = await writtenAndBuilt(modules.map(asCase));
  return modules.flatMap(module => {
    const [expected, actual] = [written[module.tag], built[module.tag]];
    return isDeepStrictEqual(actual, expected) ? [] : [{ module, expected, actual }];
  });
}

after(closeEngines);

it(`${count} random modules do the same as written and built`, {
  skip: !engines.chromium.find() && 'no Chromium',
}, async t => {
  t.diagnostic(`ELTRIX_SEED=${seed}`);
  for (let from = 0; from < count; from += atOnce) {
    const modules = Array.from({ length: Math.min(atOnce, count - from) }, (_, at) =>
      randomModule(seed + from + at, `made-m${from + at}`),
    );
    const [first] = await different(modules);
    if (!first) continue;
    const { module, expected, actual } = await shrunk(first, different);
    const files = Object.entries(asCase(module).files).map(([name, code]) => `// ${name}\n${code}`);
    assert.deepEqual(
      actual,
      expected,
      `${first.module.tag}, made smaller:\n${files.join('\n')}\n${asCase(module).steps?.join('\n')}`,
    );
  }
});
