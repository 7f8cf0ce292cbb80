/**
 * npm run bench:startup: from navigation to first contentful paint of a page with one card, by hand and with Eltrix, each
 * a built file of its own; fresh pages that take turns. Option: --rounds 20
 */
import { createServer } from 'node:http';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { engines } from '../packages/eltrix-tool/src/engines/index.ts';
import { bundle } from './bundle.ts';

const { values } = parseArgs({ options: { rounds: { type: 'string', default: '25' } } });
const root = fileURLToPath(new URL('suites/', import.meta.url));
const ways = ['hand', 'eltrix'] as const;

const scripts = new Map<string, string>();
for (const way of ways)
  scripts.set(`/${way}.js`, (await bundle(root, `${root}cards-${way === 'hand' ? way : 'plain'}.ts`))[0]!.code);
const server = createServer((request, response) => {
  const code = scripts.get(request.url!);
  if (code !== undefined) return response.setHeader('content-type', 'text/javascript').end(code);
  const way = request.url!.slice(1);
  return response
    .setHeader('content-type', 'text/html')
    .end(
      `<!doctype html><link rel="icon" href="data:,"><script type="module" src="/${way}.js"></script><bench-card name="Rosemary" boxes="2" mood="busy"></bench-card>`,
    );
});
await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve));
const address = `http://127.0.0.1:${(server.address() as { port: number }).port}/`;
const session = await engines.chromium.start();
const times: Record<string, number[]> = { hand: [], eltrix: [] };
for (let round = 0; round < Number(values.rounds) + 3; round++) {
  for (const way of round % 2 ? ways : [...ways].reverse()) {
    const page = await session.open(address + way);
    const painted = await page.evaluate<number>(`new Promise(resolve => {
      const look = () => {
        const entry = performance.getEntriesByName('first-contentful-paint')[0];
        if (entry) resolve(entry.startTime);
        else setTimeout(look, 5);
      };
      look();
    })`);
    if (round >= 3) times[way]!.push(painted);
    await page.close();
  }
}
await session.close();
server.close();
const median = (list: number[]) => list.sort((a, b) => a - b)[list.length >> 1]!;
const [hand, ours] = [median(times['hand']!), median(times['eltrix']!)];
console.log(
  `first contentful paint: by hand ${hand.toFixed(1)} ms, with Eltrix ${ours.toFixed(1)} ms, ratio ${(ours / hand).toFixed(3)} (medians of ${values.rounds})`,
);
