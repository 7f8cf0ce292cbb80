/**
 * npm run bench: every suite in fresh pages, hand-written against Eltrix in the same run, taking turns at each operation.
 * Options: --suites table,cards,tree  --in chromium,firefox  --rounds 5  --only 'in 1,000'  --json file
 */
import { writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { type EngineName, engines, type Page, type Session } from '../packages/eltrix-tool/src/engines/index.ts';
import { servePages } from './serve.ts';
import type { Timing } from './suites/suite.ts';

const { values: options } = parseArgs({
  options: {
    suites: { type: 'string', default: 'table,cards,tree' },
    in: { type: 'string', default: 'chromium' },
    rounds: { type: 'string', default: '4' },
    warm: { type: 'string', default: '2' },
    times: { type: 'string', default: '3' },
    /** Only operations whose names match. */
    only: { type: 'string', default: '' },
    json: { type: 'string' },
  },
});

const ways = ['hand', 'eltrix'] as const;
type Way = (typeof ways)[number];

export interface Row {
  readonly suite: string;
  readonly engine: string;
  readonly operation: string;
  /** Median milliseconds by hand and with Eltrix, and how many times the one the other is. */
  readonly script: readonly [hand: number, eltrix: number, ratio: number];
  readonly layout: readonly [hand: number, eltrix: number, ratio: number];
}

const median = (numbers: readonly number[]) => {
  const sorted = [...numbers].sort((a, b) => a - b);
  return sorted.length % 2
    ? sorted[(sorted.length - 1) / 2]!
    : (sorted[sorted.length / 2 - 1]! + sorted[sorted.length / 2]!) / 2;
};
export const mean = (ratios: readonly number[]): number =>
  Math.exp(ratios.reduce((sum, ratio) => sum + Math.log(ratio), 0) / ratios.length);

interface Collected {
  readonly script: number[];
  readonly layout: number[];
  result: string;
}

const empty = (): Collected => ({ script: [], layout: [], result: '' });

async function measure(session: Session, address: string, suite: string): Promise<Row[]> {
  const { warm, times, only } = options;
  const collected = new Map<string, Record<Way, Collected>>();
  for (let round = 0; round < Number(options.rounds); round++) {
    const query = (way: Way) => `?${new URLSearchParams({ suite, way, warm, times, only })}`;
    const open = (way: Way): Promise<Page> => session.open(`${address}/${query(way)}`);
    const pages: Record<Way, Page> = { hand: await open('hand'), eltrix: await open('eltrix') };
    const names = await pages.hand.evaluate<string[]>('globalThis.names');
    await pages.eltrix.evaluate('globalThis.names');
    // The machine has good minutes and bad ones: both ways are measured in the same.
    for (const [index, name] of names.entries()) {
      const own = collected.get(name) ?? { hand: empty(), eltrix: empty() };
      collected.set(name, own);
      for (const way of round % 2 ? ways : [...ways].reverse()) {
        const { script, layout, result } = await pages[way].evaluate<Timing>(`globalThis.timing(${index})`);
        own[way].script.push(...script);
        own[way].layout.push(...layout);
        own[way].result = result;
      }
    }
    await pages.hand.close();
    await pages.eltrix.close();
  }
  return [...collected].map(([operation, { hand, eltrix }]) => {
    if (hand.result !== eltrix.result)
      throw new Error(`${suite}, ${operation}: by hand ${hand.result}, with Eltrix ${eltrix.result}`);
    const compare = (kind: 'script' | 'layout') => {
      const [a, b] = [median(hand[kind]), median(eltrix[kind])];
      return [a, b, b / a] as const;
    };
    return { suite, engine: session.name, operation, script: compare('script'), layout: compare('layout') };
  });
}

const server = await servePages('bench/page.ts');
const rows: Row[] = [];
for (const name of options.in.split(',') as EngineName[]) {
  const session = await engines[name].start();
  try {
    for (const suite of options.suites.split(',')) {
      const measured = await measure(session, server.address, suite);
      rows.push(...measured);
      console.log(
        `\n${suite} in ${session.version}`.padEnd(36),
        'script: hand  Eltrix  ratio     script + layout: hand  Eltrix  ratio',
      );
      for (const { operation, script, layout } of measured) {
        const cells = [script, layout].map(
          ([a, b, ratio]) => `${a.toFixed(2).padStart(12)}${b.toFixed(2).padStart(8)}${ratio.toFixed(2).padStart(7)}`,
        );
        console.log(operation.padEnd(34), cells.join('              '));
      }
      const means = (['script', 'layout'] as const).map(kind => mean(measured.map(row => row[kind][2])).toFixed(2));
      console.log('geometric mean'.padEnd(54), means[0]!.padStart(7), means[1]!.padStart(40));
    }
  } finally {
    await session.close();
  }
}
server.close();
if (options.json) writeFileSync(options.json, `${JSON.stringify(rows, null, 2)}\n`);
