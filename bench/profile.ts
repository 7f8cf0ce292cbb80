/**
 * npm run bench:profile: where the script time of an operation goes, by hand and with Eltrix, from Chromium's profiler.
 * Options: --suite table --only 'append' --times 20
 */
import { parseArgs } from 'node:util';
import puppeteer, { type Protocol } from 'puppeteer-core';
import { findProgram } from '../packages/eltrix-tool/src/engines/find.ts';
import { servePages } from './serve.ts';

const { values: options } = parseArgs({
  options: {
    suite: { type: 'string', default: 'table' },
    only: { type: 'string', default: '' },
    times: { type: 'string', default: '20' },
  },
});

type Profile = Protocol.Profiler.Profile;

/** Microseconds that each function took itself, while an operation ran. */
function timesOf({ nodes, samples = [], timeDeltas = [] }: Profile): Map<string, number> {
  const byId = new Map(nodes.map(node => [node.id, node]));
  const inside = new Set<number>();
  // Parents stand before their children.
  for (const { id, callFrame, children = [] } of nodes)
    if (inside.has(id) || callFrame.functionName === 'run') for (const child of children) inside.add(child);
  const times = new Map<string, number>();
  samples.forEach((id, i) => {
    if (!inside.has(id)) return;
    const { functionName } = byId.get(id)!.callFrame;
    const name = functionName || 'a function without a name';
    times.set(name, (times.get(name) ?? 0) + timeDeltas[i]!);
  });
  return times;
}

const server = await servePages('bench/page.ts', false);
const browser = await puppeteer.launch({
  executablePath: findProgram(['chromium', 'chromium-browser', 'google-chrome'])!,
  args: ['--no-sandbox', '--disable-gpu', '--js-flags=--expose-gc'],
});
for (const way of ['hand', 'eltrix']) {
  const page = await browser.newPage();
  const client = await page.createCDPSession();
  await client.send('Profiler.enable');
  await client.send('Profiler.setSamplingInterval', { interval: 50 });
  await client.send('Profiler.start');
  const query = new URLSearchParams({ ...options, way, warm: '1' });
  await page.goto(`${server.address}/?${query}`);
  await page.evaluate(
    'globalThis.names.then(async names => { for (const i of names.keys()) await globalThis.timing(i); })',
  );
  const { profile } = await client.send('Profiler.stop');
  const times = timesOf(profile);
  const whole = [...times.values()].reduce((sum, time) => sum + time, 0);
  console.log(`\n${way}: ${(whole / 1000).toFixed(0)} ms in all`);
  for (const [name, time] of [...times].sort((a, b) => b[1] - a[1]).slice(0, 14))
    console.log(`${((time / whole) * 100).toFixed(1).padStart(6)} %  ${name}`);
  await page.close();
}
await browser.close();
server.close();
