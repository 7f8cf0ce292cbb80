/** npm run bench:scale: does the cost of each row, subscriber and instance stay the same as their number grows? In Chromium. */
import { engines } from '../packages/eltrix-tool/src/engines/index.ts';
import { servePages } from './serve.ts';

const server = await servePages('bench/scale-page.ts');
const session = await engines.chromium.start();
const page = await session.open(server.address);
const rows = await page.evaluate<{ name: string; counts: number[]; microseconds: number[] }[]>('globalThis.measured');
await session.close();
server.close();
console.log(
  'microseconds each'.padEnd(44),
  ...rows[0]!.counts.map(count => count.toLocaleString('en').padStart(10)),
  'largest / smallest'.padStart(20),
);
for (const { name, microseconds } of rows) {
  console.log(
    name.padEnd(44),
    ...microseconds.map(value => value.toFixed(2).padStart(10)),
    (microseconds.at(-1)! / microseconds[0]!).toFixed(2).padStart(20),
  );
}
