/** Geometric means of what `bench/run.ts --json` has written, by suite, way, engine and temperature. */
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { mean, type Row } from './rows.ts';

export interface Summary {
  readonly suite: string;
  readonly way: string;
  readonly built: Row['built'];
  readonly engine: string;
  /** Ratios to hand-written code; undefined if not measured. */
  readonly cold: Ratios | undefined;
  readonly warm: Ratios | undefined;
}

interface Ratios {
  readonly script: number;
  readonly layout: number;
}

export const measured = JSON.parse(
  readFileSync(fileURLToPath(new URL('results.json', import.meta.url)), 'utf8'),
) as Row[];

const of = (rows: readonly Row[], temperature: Row['temperature']): Ratios | undefined => {
  const own = rows.filter(row => row.temperature === temperature);
  return own.length === 0
    ? undefined
    : { script: mean(own.map(({ script }) => script[2])), layout: mean(own.map(({ layout }) => layout[2])) };
};

export const summaries: readonly Summary[] = [
  ...new Map(
    measured.map(({ suite, way, built, engine }) => [
      [suite, way, built, engine].join(),
      { suite, way, built, engine },
    ]),
  ).values(),
].map(key => {
  const rows = measured.filter(
    row => row.suite === key.suite && row.way === key.way && row.built === key.built && row.engine === key.engine,
  );
  return { ...key, cold: of(rows, 'cold'), warm: of(rows, 'warm') };
});
