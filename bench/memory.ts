/** npm run bench:memory: bytes per card (JavaScript and DOM) and what 50 rounds of making and dropping leave, in Chromium. */
import { engines } from '../src/engines/index.ts';
import { servePages } from './serve.ts';

const ways = ['hand', 'eltrix'] as const;
const rounds = 5;
const median = (numbers: number[]) => numbers.sort((a, b) => a - b)[numbers.length >> 1]!;

interface Measured {
  /** Bytes a card, by the browser's own count. */
  readonly each: number;
  /** Bytes more after 50 rounds of 1,000 cards than after 5. */
  readonly growth: number;
}

const server = await servePages('bench/memory-page.ts');
const session = await engines.chromium.start({ args: ['--enable-blink-features=ForceEagerMeasureMemory'] });
const results: Record<string, Measured[]> = { hand: [], eltrix: [] };
for (let round = 0; round < rounds; round++) {
  for (const way of round % 2 ? ways : [...ways].reverse()) {
    const page = await session.open(`${server.address}/?way=${way}`);
    results[way]!.push(await page.evaluate<Measured>('globalThis.measured'));
    await page.close();
  }
}
await session.close();
server.close();

const [hand, eltrix] = ways.map(way => ({
  each: median(results[way]!.map(r => r.each)),
  growth: median(results[way]!.map(r => r.growth)),
}));
console.log(
  `bytes a card, JavaScript and DOM: by hand ${hand!.each.toFixed(0)}, with Eltrix ${eltrix!.each.toFixed(0)}, ratio ${(eltrix!.each / hand!.each).toFixed(3)}`,
);
console.log(
  `growth over 45 rounds of 1,000 cards made and dropped: by hand ${hand!.growth} bytes, with Eltrix ${eltrix!.growth} bytes`,
);
