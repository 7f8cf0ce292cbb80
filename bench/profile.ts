/**
 * npm run bench:profile: where the script time of an operation goes, by hand and with Eltrix, from Chromium's profiler.
 * Options: --suite table --way objects --only 'append' --temperature cold --rounds 10
 */
import { parseArgs } from 'node:util';
import puppeteer, { type Protocol } from 'puppeteer-core';
import { findProgram } from '../packages/eltrix-tool/src/engines/find.ts';
import { servePages } from './serve.ts';
import { ways } from './suites/ways.ts';

const { values: options } = parseArgs({
  options: {
    suite: { type: 'string', default: 'table' },
    way: { type: 'string' },
    only: { type: 'string', default: '' },
    temperature: { type: 'string', default: 'warm' },
    /** Pages, one after the other. */
    rounds: { type: 'string', default: '5' },
    times: { type: 'string', default: '5' },
  },
});

type Profile = Protocol.Profiler.Profile;

/** Microseconds that each function took itself, while an operation ran. */
function addTimes(times: Map<string, number>, { nodes, samples = [], timeDeltas = [] }: Profile): void {
  const byId = new Map(nodes.map(node => [node.id, node]));
  const inside = new Set<number>();
  // Parents stand before their children.
  for (const { id, callFrame, children = [] } of nodes)
    if (inside.has(id) || callFrame.functionName === 'run') for (const child of children) inside.add(child);
  samples.forEach((id, i) => {
    if (!inside.has(id)) return;
    const { functionName } = byId.get(id)!.callFrame;
    const name = functionName || 'a function without a name';
    times.set(name, (times.get(name) ?? 0) + timeDeltas[i]!);
  });
}

const { suite, only, temperature, times } = options;
const server = await servePages('bench/page.ts', { minify: false });
const browser = await puppeteer.launch({
  executablePath: findProgram(['chromium', 'chromium-browser', 'google-chrome'])!,
  args: ['--no-sandbox', '--disable-gpu', '--js-flags=--expose-gc'],
});
for (const way of ['hand', options.way ?? ways[suite]![1]!]) {
  const found = new Map<string, number>();
  for (let round = 0; round < Number(options.rounds); round++) {
    const page = await browser.newPage();
    const client = await page.createCDPSession();
    await client.send('Profiler.enable');
    await client.send('Profiler.setSamplingInterval', { interval: 50 });
    await page.goto(`${server.address}/?${new URLSearchParams({ suite, only, temperature, times, way, warm: '1' })}`);
    const count = await page.evaluate<[], () => Promise<number>>(
      'globalThis.names.then(names => names.length)' as never,
    );
    await client.send('Profiler.start');
    for (let index = 0; index < (temperature === 'cold' ? 1 : count); index++)
      await page.evaluate(`globalThis.${temperature === 'cold' ? 'firstTiming' : 'timing'}(${index})`);
    const { profile } = await client.send('Profiler.stop');
    addTimes(found, profile);
    await page.close();
  }
  const whole = [...found.values()].reduce((sum, time) => sum + time, 0);
  console.log(`\n${way}: ${(whole / 1000 / Number(options.rounds)).toFixed(1)} ms a page`);
  for (const [name, time] of [...found].sort((a, b) => b[1] - a[1]).slice(0, 24))
    console.log(`${((time / whole) * 100).toFixed(1).padStart(6)} %  ${name}`);
}
await browser.close();
server.close();
