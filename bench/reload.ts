/**
 * npm run bench:reload: from the saving of a file to the gallery's frames that show it, in a copy of the apiary.
 * Options: --rounds 10, --further 0 (so many more elements), --height 800 (of the window: a taller one has more specimens
 * in it), --in chromium.
 */
import { spawn } from 'node:child_process';
import { cpSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { type EngineName, engines } from '../packages/eltrix-tool/src/engines/index.ts';

const { values } = parseArgs({
  options: {
    rounds: { type: 'string', default: '10' },
    further: { type: 'string', default: '0' },
    in: { type: 'string', default: 'chromium' },
    height: { type: 'string', default: '800' },
  },
});
const repository = fileURLToPath(new URL('..', import.meta.url));
const root = mkdtempSync(join(tmpdir(), 'eltrix-reload-'));
cpSync(join(repository, 'examples/apiary/src'), join(root, 'src'), { recursive: true });
writeFileSync(join(root, 'package.json'), '{ "type": "module" }');
symlinkSync(join(repository, 'node_modules'), join(root, 'node_modules'));
for (let at = 0; at < Number(values.further); at++)
  writeFileSync(
    join(root, `src/further-${at}.ts`),
    `import { contract, markup, text } from 'eltrix';\nexport class Further${at} extends contract('further-${at}', { attributes: { name: text() } }) {\n  view() {\n    return markup\`<p>\${() => this.name}</p>\`;\n  }\n}\nFurther${at}.define();\n`,
  );

const child = spawn(
  process.execPath,
  [join(repository, 'packages/eltrix-tool/dist/tool/cli/main.js'), 'serve', '--port', '0'],
  {
    cwd: root,
  },
);
const address = await new Promise<string>((resolve, reject) => {
  let text = '';
  child.stdout.on('data', data => {
    text += data;
    const found = /(http:\S+)[^]*ready in|ready in[^]*(http:\S+)/.exec(text);
    if (found) resolve((found[1] ?? found[2])!);
  });
  child.once('exit', () => reject(new Error(text)));
});
const session = await engines[values.in as EngineName].start();

/** In the gallery's page: when each of its frames first shows what is looked for. */
const watch = `(() => {
globalThis.frames_ = () => [...document.querySelector('gallery-app').shadowRoot.querySelector('gallery-sheet').shadowRoot.querySelectorAll('gallery-plate')]
  .map(plate => plate.shadowRoot.querySelector('iframe:not(.behind)')).filter(Boolean).map(frame => frame.contentDocument);
globalThis.card = page => page?.querySelector('hive-card');
globalThis.watchFor = (shows, count) => new Promise((resolve, reject) => {
  const seen = new Map();
  const end = performance.now() + 15000;
  (function look() {
    frames_().forEach((page, at) => { if (!seen.has(at) && card(page)?.shadowRoot && page.readyState !== 'loading' && shows(page)) seen.set(at, Date.now()); });
    if (seen.size >= count) resolve([...seen].sort((a, b) => a[0] - b[0]).map(([, time]) => time));
    else if (performance.now() > end) reject(new Error('only ' + seen.size + ' of ' + count + ' frames show it'));
    else setTimeout(look, 10);
  })();
});
})()`;

const files = {
  'a style sheet': ['hive-card.ts', (text: string, at: number) => text.replace(':host {', `:host { --round: ${at};`)],
  'a view': ['hive-card.ts', (text: string, at: number) => text.replace('<slot', `<i data-round="${at}"></i><slot`)],
  'a specimen': [
    'hive-card.specimen.html',
    (text: string, at: number) => text.replaceAll('<hive-card', `<hive-card data-round="${at}"`),
  ],
} as const;
const shows = (kind: string, at: number) =>
  kind === 'a style sheet'
    ? `page => page.defaultView.getComputedStyle(card(page)).getPropertyValue('--round').trim() === '${at}'`
    : kind === 'a view'
      ? `page => card(page).shadowRoot.querySelector('[data-round="${at}"]')`
      : `page => card(page).dataset.round === '${at}'`;

try {
  const page = await session.open(`${address}#/hive-card`, {
    viewport: { width: 1280, height: Number(values.height) },
  });
  await page.evaluate(watch);
  await page.evaluate(
    `new Promise(resolve => { (function look() { try { if (frames_().length > 0 && frames_().every(page => card(page)?.shadowRoot)) return resolve(); } catch {} setTimeout(look, 20); })(); })`,
  );
  await new Promise(resolve => setTimeout(resolve, 1500));
  const count = await page.evaluate<number>('frames_().length');
  const median = (list: number[]) => list.sort((a, b) => a - b)[list.length >> 1]!;
  for (const [kind, [file, edit]] of Object.entries(files)) {
    const path = join(root, 'src/elements', file);
    const before = readFileSync(path, 'utf8');
    const times: number[][] = [];
    for (let round = 1; round <= Number(values.rounds); round++) {
      const shown = page.evaluate<number[]>(`watchFor(${shows(kind, round)}, ${count})`);
      await new Promise(resolve => setTimeout(resolve, 2500));
      const start = Date.now();
      writeFileSync(path, edit(before, round));
      const told = await shown;
      times.push(told.map(time => time - start));
    }
    const first = times.map(([chosen]) => chosen!);
    const all = times.map(list => Math.max(...list));
    console.log(
      `${kind.padEnd(14)} chosen frame ${median(first)} ms (at most ${Math.max(...first)}), all ${count} frames ${median(all)} ms (at most ${Math.max(...all)})`,
    );
    writeFileSync(path, before);
    await new Promise(resolve => setTimeout(resolve, 1200));
  }
} finally {
  await session.close();
  child.kill('SIGTERM');
  await new Promise(resolve => child.once('exit', resolve));
  rmSync(root, { recursive: true, force: true });
}
