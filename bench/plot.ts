/** npm run bench:plot: draws bench/results.json, as written by `bench/run.ts --json`, into docs/screenshots/performance.png. */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { engines } from '../packages/eltrix-tool/src/engines/index.ts';
import type { Row } from './rows.ts';

const root = fileURLToPath(new URL('..', import.meta.url));
const rows = JSON.parse(readFileSync(join(root, 'bench/results.json'), 'utf8')) as Row[];
const widest = Math.max(2, ...rows.flatMap(row => [row.script[2], row.layout[2]]));
const percent = (ratio: number) => `${((ratio / widest) * 100).toFixed(1)}%`;

const line = ({ operation, script, layout }: Row) => `
  <tr><th>${operation}</th>
    <td><div class="track"><i class="script" style="width:${percent(script[2])}"></i><i class="layout" style="width:${percent(layout[2])}"></i><b style="left:${percent(1)}"></b></div></td>
    <td class="number">${script[2].toFixed(2)}</td><td class="number">${layout[2].toFixed(2)}</td></tr>`;
const group = (engine: string, suite: string) => {
  const own = rows.filter(row => row.engine === engine && row.suite === suite);
  return own.length === 0 ? '' : `<table><caption>${suite}</caption>${own.map(line).join('')}</table>`;
};
const names = [...new Set(rows.map(({ engine }) => engine))];
const html = `<!doctype html><meta charset="utf-8"><style>
  body { margin: 0; padding: 26px 36px; font: 14px/1.35 "DejaVu Sans", sans-serif; color: #2a261d; background: #fffdf8 }
  h1 { margin: 0 0 2px; font-size: 20px } p { margin: 0 0 14px; color: #6b6454 }
  main { display: grid; grid-template-columns: repeat(${names.length}, 1fr); gap: 36px } h2 { margin: 0 0 6px; font-size: 16px; text-transform: capitalize }
  table { width: 100%; border-collapse: collapse; margin-bottom: 12px } caption { text-align: left; font-weight: 700; padding-bottom: 2px }
  th { font-weight: 400; text-align: left; width: 190px; font-size: 12.5px } td { padding: 2.5px 0 } .number { width: 46px; text-align: right; font-variant-numeric: tabular-nums }
  .track { position: relative; height: 19px } i { position: absolute; left: 0; height: 8px; border-radius: 0 3px 3px 0 } .script { top: 1px; background: #c98a12 } .layout { top: 10px; background: #9fb4a0 }
  .track b { position: absolute; top: 0; bottom: 0; border-left: 1.5px solid #2a261d } .key { display: inline-block; width: 22px; height: 8px; border-radius: 2px; position: static }
</style><h1>Time beside hand-written platform code</h1>
<p>The line is the hand-written page, 1.00; shorter is faster. <span class="key script" style="background:#c98a12"></span> script &nbsp; <span class="key" style="background:#9fb4a0"></span> script and layout. Medians of interleaved runs.</p>
<main>${names.map(name => `<section><h2>${name}</h2>${['table', 'cards', 'tree'].map(suite => group(name, suite)).join('')}</section>`).join('')}</main>`;

const folder = mkdtempSync(join(tmpdir(), 'eltrix-plot-'));
writeFileSync(join(folder, 'plot.html'), html);
const session = await engines.chromium.start();
const page = await session.open(pathToFileURL(join(folder, 'plot.html')).href, {
  viewport: { width: 1280, height: 800 },
});
writeFileSync(join(root, 'docs/screenshots/performance.png'), await page.screenshot());
await session.close();
rmSync(folder, { recursive: true });
