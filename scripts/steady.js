// npm run steady [-- runs loaded]: checks the forty hand-written elements of test/check/platform-elements.ts again and
// again in every engine, the last ones beside two busy loops. Fails unless each run breaks the rules of the labels and has
// the outcomes of the first run.
import { execFile, spawn } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { brokenAndLabelled, platformProject } from '../test/check/platform-elements.ts';
import { root } from './prepare.js';

const [runs = 10, loaded = Math.floor(runs / 2)] = process.argv.slice(2).map(Number);
const folder = mkdtempSync(join(tmpdir(), 'eltrix-steady-'));
process.once('exit', () => rmSync(folder, { recursive: true, force: true }));
const { files, options } = platformProject();
for (const [name, text] of Object.entries({ 'package.json': '{ "type": "module" }', ...files }))
  writeFileSync(join(folder, name), text);

const run = promisify(execFile);
const tool = join(root, 'packages/eltrix-tool/dist/tool/cli/main.js');

/** @returns the outcome of each rule, by element and engine, and where a label is contradicted. */
async function check() {
  const args = [tool, 'check', ...options, '--in', 'chromium,firefox,webkit', '--json'];
  // It exits with 1, since some of the elements have faults.
  const { stdout } = await run(process.execPath, args, { cwd: folder, maxBuffer: 2 ** 28 }).catch(error => error);
  const outcomes = new Map();
  const contradicted = [];
  for (const { tag, engines } of JSON.parse(stdout).elements)
    for (const [engine, rules] of Object.entries(engines)) {
      for (const { rule, outcome } of rules) outcomes.set(`<${tag}> ${rule} in ${engine}`, outcome);
      const [broken, labelled] = brokenAndLabelled(tag, rules);
      if (broken.join() !== labelled.join())
        contradicted.push(
          `<${tag}> in ${engine} breaks ${broken.join(' and ') || 'nothing'}, not ${labelled.join(' and ') || 'nothing'}`,
        );
    }
  return { outcomes, contradicted };
}

let first;
let wrong = 0;
for (let at = 1; at <= runs; at++) {
  const isLoaded = at > runs - loaded;
  const loops = isLoaded ? [1, 2].map(() => spawn(process.execPath, ['-e', 'for (;;);'])) : [];
  const start = performance.now();
  const { outcomes, contradicted } = await check().finally(() => {
    for (const loop of loops) loop.kill();
  });
  first ??= outcomes;
  const others = [...new Set([...first.keys(), ...outcomes.keys()])].filter(
    rule => first.get(rule) !== outcomes.get(rule),
  );
  wrong += others.length + contradicted.length;
  const seconds = ((performance.now() - start) / 1000).toFixed(0);
  console.log(
    `run ${at}${isLoaded ? ', beside two busy loops' : ''}: ${outcomes.size} outcomes, ${others.length} differ from the first run, ${contradicted.length} contradict a label. ${seconds} s.`,
  );
  for (const line of contradicted) console.log(`  ${line}`);
  for (const rule of others.slice(0, 10)) console.log(`  ${rule}: ${first.get(rule)}, now ${outcomes.get(rule)}`);
}
process.exitCode = wrong > 0 ? 1 : 0;
