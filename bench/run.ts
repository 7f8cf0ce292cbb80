/**
 * npm run bench: every suite in fresh pages, hand-written code against each way of writing it with Eltrix, in turns.
 * Cold: an operation runs once in a fresh page, as on a first visit. Warm: it has run before.
 *
 * Options: --suites table,cards  --ways objects,live  --temperatures cold,warm  --built compiled,written
 * --in chromium,firefox  --rounds 5  --only 'in 1,000'  --json file (adds to what the file has)
 */
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { type EngineName, engines, type Session } from '../packages/eltrix-tool/src/engines/index.ts';
import { mean, median, merge, type Row, type Sample } from './rows.ts';
import { servePages } from './serve.ts';
import type { Timing } from './suites/suite.ts';
import { ways } from './suites/ways.ts';

const { values: options } = parseArgs({
  options: {
    suites: { type: 'string', default: Object.keys(ways).join() },
    /** Other ways than by hand; all by default. */
    ways: { type: 'string' },
    temperatures: { type: 'string', default: 'cold,warm' },
    built: { type: 'string', default: 'compiled' },
    in: { type: 'string', default: 'chromium' },
    rounds: { type: 'string', default: '5' },
    warm: { type: 'string', default: '2' },
    times: { type: 'string', default: '3' },
    /** Only operations whose names match. */
    only: { type: 'string', default: '' },
    json: { type: 'string' },
  },
});

type Temperature = Row['temperature'];

/** Opens a page of one way and runs operations there: all when warm, one when cold. */
async function timings(
  session: Session,
  address: string,
  suite: string,
  way: string,
  temperature: Temperature,
): Promise<Timing[]> {
  const { warm, times, only } = options;
  const open = () => session.open(`${address}/?${new URLSearchParams({ suite, way, temperature, warm, times, only })}`);
  let page = await open();
  try {
    const names = await page.evaluate<string[]>('globalThis.names');
    const results: Timing[] = [];
    for (const index of names.keys()) {
      results.push(
        await page.evaluate<Timing>(`globalThis.${temperature === 'cold' ? 'firstTiming' : 'timing'}(${index})`),
      );
      if (temperature === 'warm' || index === names.length - 1) continue;
      await page.close();
      page = await open();
      await page.evaluate('globalThis.names');
    }
    return results;
  } finally {
    await page.close();
  }
}

async function measure(
  session: Session,
  addresses: Readonly<Record<string, string>>,
  suite: string,
  temperature: Temperature,
): Promise<Row[]> {
  const wanted = options.ways?.split(',');
  const measured = ways[suite]!.filter(way => way !== 'hand' && (!wanted || wanted.includes(way))).flatMap(way =>
    Object.entries(addresses).map(([built, address]) => ({ way, built: built as Row['built'], address })),
  );
  const samples = new Map<string, { row: Omit<Row, 'script' | 'layout'>; script: Sample[]; layout: Sample[] }>();
  // The machine has good minutes and bad ones: each round compares what was measured within it.
  for (let round = 0; round < Number(options.rounds); round++) {
    const byHand = await timings(session, Object.values(addresses)[0]!, suite, 'hand', temperature);
    for (const { way, built, address } of round % 2 ? measured : measured.toReversed()) {
      for (const [index, timing] of (await timings(session, address, suite, way, temperature)).entries()) {
        const hand = byHand[index]!;
        if (hand.result !== timing.result)
          throw new Error(`${suite}, ${way}, ${hand.name}: by hand ${hand.result}, with Eltrix ${timing.result}`);
        const row = { suite, way, built, temperature, engine: session.name, operation: hand.name };
        const id = JSON.stringify(row);
        const collected = samples.get(id) ?? { row, script: [], layout: [] };
        samples.set(id, collected);
        for (const kind of ['script', 'layout'] as const)
          collected[kind].push([median(hand[kind]), median(timing[kind])]);
      }
    }
  }
  return [...samples.values()].map(({ row, script, layout }) => ({
    ...row,
    script: compare(script),
    layout: compare(layout),
  }));
}

/** Medians of the two ways, and of the ratios within each round. */
function compare(pairs: readonly Sample[]): Row['script'] {
  const usable = pairs.filter(([hand]) => hand > 0);
  return [
    median(pairs.map(([hand]) => hand)),
    median(pairs.map(([, eltrix]) => eltrix)),
    usable.length > 0 ? median(usable.map(([hand, eltrix]) => eltrix / hand)) : 1,
  ];
}

const kindOf = ({ way, built }: Row) => `${way}, ${built}`;

function print(title: string, rows: readonly Row[]): void {
  console.log(`\n${title.padEnd(58)} script: hand  Eltrix  ratio     with layout: hand  Eltrix  ratio`);
  for (const { operation, script, layout } of rows) {
    const cells = [script, layout].map(
      ([hand, eltrix, ratio]) =>
        `${hand.toFixed(2).padStart(11)}${eltrix.toFixed(2).padStart(8)}${ratio.toFixed(2).padStart(7)}`,
    );
    console.log(`  ${operation.padEnd(56)}${cells.join('           ')}`);
  }
  const means = (['script', 'layout'] as const).map(kind => mean(rows.map(row => row[kind][2])).toFixed(2));
  console.log(`  ${'geometric mean'.padEnd(75)}${means[0]!.padStart(7)}${means[1]!.padStart(37)}`);
}

const servers = Object.fromEntries(
  await Promise.all(
    options.built
      .split(',')
      .map(async built => [built, await servePages('bench/page.ts', { asWritten: built === 'written' })] as const),
  ),
);
const addresses = Object.fromEntries(Object.entries(servers).map(([built, { address }]) => [built, address]));
const rows: Row[] = [];
try {
  for (const name of options.in.split(',') as EngineName[]) {
    const session = await engines[name].start();
    try {
      for (const suite of options.suites.split(','))
        for (const temperature of options.temperatures.split(',') as Temperature[]) {
          const measured = await measure(session, addresses, suite, temperature);
          rows.push(...measured);
          for (const kind of new Set(measured.map(kindOf)))
            print(
              `${suite} (${kind}), ${temperature}, ${session.version}`,
              measured.filter(row => kindOf(row) === kind),
            );
        }
    } finally {
      await session.close();
    }
  }
} finally {
  for (const { close } of Object.values(servers)) close();
}
if (options.json) {
  const before = existsSync(options.json) ? (JSON.parse(readFileSync(options.json, 'utf8')) as Row[]) : [];
  writeFileSync(options.json, `${JSON.stringify(merge(before, rows), null, 2)}\n`);
}
