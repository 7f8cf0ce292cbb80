/**
 * npm run bench:memory: bytes per card, JavaScript and DOM together, and what 45 rounds of making and dropping leave, in
 * Chromium. Counted in heap snapshots after a forced collection: everything that the snapshot knows the size of.
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer, { type CDPSession } from 'puppeteer-core';
import { servePages } from './serve.ts';

interface Snapshot {
  readonly snapshot: { readonly meta: { readonly node_fields: readonly string[] } };
  readonly nodes: readonly number[];
}

async function heapBytes(session: CDPSession): Promise<number> {
  const chunks: string[] = [];
  const collect = ({ chunk }: { chunk: string }) => void chunks.push(chunk);
  session.on('HeapProfiler.addHeapSnapshotChunk', collect);
  await session.send('HeapProfiler.collectGarbage');
  await session.send('HeapProfiler.takeHeapSnapshot', {});
  session.off('HeapProfiler.addHeapSnapshotChunk', collect);
  const { snapshot, nodes } = JSON.parse(chunks.join('')) as Snapshot;
  const width = snapshot.meta.node_fields.length;
  const size = snapshot.meta.node_fields.indexOf('self_size');
  let sum = 0;
  for (let i = size; i < nodes.length; i += width) sum += nodes[i]!;
  return sum;
}

const count = 5000;
const server = await servePages('bench/memory-page.ts');
const results: Record<string, { each: number; growth: number }> = {};
for (const way of ['hand', 'eltrix']) {
  const profile = mkdtempSync(join(tmpdir(), 'eltrix-memory-'));
  const browser = await puppeteer.launch({
    executablePath: process.env['ELTRIX_CHROMIUM'] ?? '/usr/bin/chromium',
    userDataDir: profile,
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  const page = await browser.newPage();
  const session = await page.createCDPSession();
  await page.goto(`${server.address}/?way=${way}`);
  await page.evaluate('globalThis.ready');
  await page.evaluate('globalThis.churn(5)');
  const empty = await heapBytes(session);
  await page.evaluate(`globalThis.fill(${count})`);
  const full = await heapBytes(session);
  await page.evaluate('globalThis.churn(5)');
  const before = await heapBytes(session);
  await page.evaluate('globalThis.churn(45)');
  results[way] = { each: (full - empty) / count, growth: (await heapBytes(session)) - before };
  await browser.close();
  rmSync(profile, { recursive: true, force: true, maxRetries: 5 });
}
server.close();

const { hand, eltrix } = results as Record<'hand' | 'eltrix', { each: number; growth: number }>;
console.log(
  `bytes a card, JavaScript and DOM: by hand ${hand.each.toFixed(0)}, with Eltrix ${eltrix.each.toFixed(0)}, ratio ${(eltrix.each / hand.each).toFixed(3)}`,
);
console.log(
  `growth over 45 rounds of 1,000 cards made and dropped: by hand ${hand.growth} bytes, with Eltrix ${eltrix.growth} bytes`,
);
