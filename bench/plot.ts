/** npm run bench:plot: draws bench/results.json into docs/screenshots/performance.png, and prints its tables as Markdown. */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { engines } from '../packages/eltrix-tool/src/engines/index.ts';
import { measured, type Summary, summaries } from './summary.ts';

const root = fileURLToPath(new URL('..', import.meta.url));
const names = { chromium: 'Chromium', firefox: 'Firefox', webkit: 'WebKit' } as Record<string, string>;
const widest = 4.2;
const percent = (ratio: number) => `${Math.min(100, (ratio / widest) * 100).toFixed(1)}%`;
const figure = (ratio: number | undefined) => (ratio === undefined ? '' : ratio.toFixed(2));

const compiled = summaries.filter(({ built }) => built === 'compiled');
const bar = (kind: string, ratio: number | undefined) =>
  ratio === undefined
    ? ''
    : `<i class="${kind}" style="width:${percent(ratio)}"></i><span style="left:calc(${percent(ratio)} + 6px)">${figure(ratio)}</span>`;
const line = ({ suite, way, cold, warm }: Summary) => `
  <tr><th>${suite} <small>${way}</small></th>
    <td><div class="track">${bar('cold', cold?.script)}</div><div class="track">${bar('warm', warm?.script)}</div><div class="track">${bar('layout', cold?.layout)}</div></td></tr>`;
const found = [...new Set(compiled.map(({ engine }) => engine))];
const html = `<!doctype html><meta charset="utf-8"><style>
  body { margin: 0; padding: 26px 36px; font: 14px/1.35 "DejaVu Sans", sans-serif; color: #2a261d; background: #fffdf8 }
  h1 { margin: 0 0 2px; font-size: 20px } p { margin: 0 0 14px; color: #6b6454 }
  main { display: grid; grid-template-columns: repeat(${found.length}, 1fr); gap: 36px } h2 { margin: 0 0 6px; font-size: 16px }
  table { width: 100%; border-collapse: collapse } th { font-weight: 600; text-align: left; width: 128px; font-size: 12.5px; vertical-align: top; padding-top: 6px }
  small { display: block; font-weight: 400; color: #6b6454 } td { padding: 4px 0 7px; background: linear-gradient(90deg, transparent calc(${percent(1)} - 1px), #2a261d calc(${percent(1)} - 1px), #2a261d ${percent(1)}, transparent ${percent(1)}) }
  .track { position: relative; height: 13px } i { position: absolute; left: 0; top: 2px; height: 9px; border-radius: 0 3px 3px 0 } .track span { position: absolute; top: -1px; font-size: 11px; background: #fffdf8 }
  .track:empty { display: none } .cold { background: #c98a12 } .warm { background: #7d9a66 } .layout { background: #c9c2b0 }
  .key { display: inline-block; width: 22px; height: 9px; border-radius: 2px; position: static }
</style><h1>Time beside hand-written code, compiled</h1>
<p>The line is the hand-written page, 1.00; shorter is faster. <span class="key cold"></span> script, first run in a fresh page &nbsp; <span class="key warm"></span> script, warm &nbsp; <span class="key layout"></span> first run with layout</p>
<main>${found
  .map(
    engine =>
      `<section><h2>${names[engine]}</h2><table>${compiled
        .filter(row => row.engine === engine)
        .map(line)
        .join('')}</table></section>`,
  )
  .join('')}</main>`;

console.log(
  '| suite | way | built | engine | first run: script | with layout | warm: script | with layout |\n|---|---|---|---|---|---|---|---|',
);
for (const { suite, way, built, engine, cold, warm } of summaries)
  console.log(
    `| ${suite} | ${way} | ${built === 'compiled' ? 'compiled' : 'as written'} | ${names[engine]} | ${figure(cold?.script)} | ${figure(cold?.layout)} | ${figure(warm?.script)} | ${figure(warm?.layout)} |`,
  );
console.log(
  '\n| operation | way | first run: by hand | with Eltrix | ratio | with layout |\n|---|---|---|---|---|---|',
);
for (const { operation, way, script, layout } of measured.filter(
  row => row.engine === 'chromium' && row.built === 'compiled' && row.temperature === 'cold' && row.way === 'objects',
))
  console.log(
    `| ${operation} | ${way} | ${script[0].toFixed(2)} ms | ${script[1].toFixed(2)} ms | ${script[2].toFixed(2)} | ${layout[2].toFixed(2)} |`,
  );

const folder = mkdtempSync(join(tmpdir(), 'eltrix-plot-'));
writeFileSync(join(folder, 'plot.html'), html);
const session = await engines.chromium.start();
const page = await session.open(pathToFileURL(join(folder, 'plot.html')).href, {
  viewport: { width: 1280, height: 540 },
});
writeFileSync(join(root, 'docs/screenshots/performance.png'), await page.screenshot());
await session.close();
rmSync(folder, { recursive: true });
