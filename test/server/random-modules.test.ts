/**
 * Random modules, rendered by a server and taken over in the browser, do the same as made there; no node of a view is
 * added or removed. ELTRIX_MODULES says how many, ELTRIX_SEED which.
 */
import assert from 'node:assert/strict';
import { after, it } from 'node:test';
import { isDeepStrictEqual } from 'node:util';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { asCase, type Module, randomModule, shrunk } from '../compile/random-module.ts';
import { closeEngines } from '../support/project.ts';
import { seed } from '../support/random.ts';
import { writtenAndBuilt } from '../support/written-and-built.ts';

const count = Number(process.env['ELTRIX_MODULES'] ?? 60);
const atOnce = 250;

async function different(modules: readonly Module[]) {
  const { written, built, rendered } = await writtenAndBuilt(modules.map(asCase), { render: true });
  return modules.flatMap(module => {
    const expected = written[module.tag];
    const found = Object.entries({ rendered, built }).find(
      ([, seen]) => !isDeepStrictEqual(seen[module.tag], expected),
    );
    return found ? [{ module, way: found[0], expected, actual: found[1][module.tag] }] : [];
  });
}

after(closeEngines);

it(`${count} random modules are taken over as written and as built`, {
  skip: !engines.chromium.find() && 'no Chromium',
}, async t => {
  t.diagnostic(`ELTRIX_SEED=${seed}`);
  for (let from = 0; from < count; from += atOnce) {
    const modules = Array.from({ length: Math.min(atOnce, count - from) }, (_, at) =>
      randomModule(seed + from + at, `made-m${from + at}`),
    );
    const all = await different(modules);
    const [first] = all;
    if (!first) continue;
    const { module, way, expected, actual } = await shrunk(first, different);
    const files = Object.entries(asCase(module).files).map(([name, code]) => `// ${name}\n${code}`);
    assert.deepEqual(
      actual,
      expected,
      `${all.length} differ. ${first.module.tag}, ${way}, made smaller:\n${files.join('\n')}\n${asCase(module).steps?.join('\n')}`,
    );
  }
});
