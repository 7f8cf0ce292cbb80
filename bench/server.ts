/**
 * npm run bench:server: rendering and taking over, as ratios in one run.
 *
 * Rendering is compared with a function of template literals that escapes, as one would write it by hand, with the same
 * result but for the marks; taking over with creating the same elements in the browser (Chromium, a first visit).
 */
import { join } from 'node:path';
import { contract, markup, text } from 'eltrix';
import { renderMarkup, renderPageStream } from 'eltrix/server';
import { closeEngines, eltrix, open, project, serve } from '../test/support/project.ts';

const source = `
import { contract, markup, text } from 'eltrix';
export class HoneyCard extends contract('honey-card', { attributes: { name: text(), mood: text(), honey: text() } }) {
  view() {
    return markup\`<h3>\${() => this.name}</h3><p class=\${() => this.mood}>\${() => this.mood}</p><p>\${() => this.honey} kg</p><button type="button" onclick=\${this.go}>Open</button><slot></slot>\`;
  }
  go() {}
}
HoneyCard.define();
`;

class HoneyCard extends contract('honey-card', { attributes: { name: text(), mood: text(), honey: text() } }) {
  view() {
    return markup`<h3>${() => this.name}</h3><p class=${() => this.mood}>${() => this.mood}</p><p>${() => this.honey} kg</p><button type="button" onclick=${this.go}>Open</button><slot></slot>`;
  }

  go() {}
}
HoneyCard.define();

interface Card {
  readonly name: string;
  readonly mood: string;
  readonly honey: number;
}

const references: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
const escaped = (value: unknown) => String(value).replace(/[&<>"]/g, sign => references[sign]!);
const byHand = ({ name, mood, honey }: Card) =>
  `<honey-card name="${escaped(name)}" mood="${escaped(mood)}" honey="${escaped(honey)}"><template shadowrootmode="open"><h3>${escaped(name)}</h3><p class="${escaped(mood)}">${escaped(mood)}</p><p>${escaped(honey)} kg</p><button type="button">Open</button><slot></slot></template></honey-card>`;
const row = ({ name, mood, honey }: Card) => markup`<honey-card name=${name} mood=${mood} honey=${honey}></honey-card>`;
const plain = ({ name, mood, honey }: Card) =>
  markup`<div><h3>${name}</h3><p class=${mood}>${mood}</p><p>${honey} kg</p></div>`;
const plainByHand = ({ name, mood, honey }: Card) =>
  `<div><h3>${escaped(name)}</h3><p class="${escaped(mood)}">${escaped(mood)}</p><p>${escaped(honey)} kg</p></div>`;

const cards = Array.from({ length: 10_000 }, (_, i): Card => ({ name: `Hive <${i}>`, mood: 'calm', honey: i }));
const median = (values: number[]) => values.sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
const time = (fn: () => unknown) => {
  const start = performance.now();
  fn();
  return performance.now() - start;
};

/** The median of the ratios of pairs, taken in turn. */
function ratio(a: () => unknown, b: () => unknown, rounds = 25): number {
  const ratios: number[] = [];
  for (let i = 0; i < rounds; i++) {
    const [first, second] = i % 2 ? [time(b), time(a)] : [time(a), time(b)];
    // The first rounds are the engine's.
    if (i > 4) ratios.push(i % 2 ? second / first : first / second);
  }
  return median(ratios);
}

console.log(
  `10,000 elements to text, of hand-written: ${ratio(
    () => renderMarkup(markup`${cards.map(row)}`),
    () => cards.map(byHand).join(''),
  ).toFixed(2)}`,
);
console.log(
  `10,000 pieces of markup to text, of hand-written: ${ratio(
    () => renderMarkup(markup`${cards.map(plain)}`),
    () => cards.map(plainByHand).join(''),
  ).toFixed(2)}`,
);

const page = `<!doctype html><title>x</title><body>${'<honey-card name="a" mood="calm" honey="2"></honey-card>\n'.repeat(1000)}`;
const firsts: number[] = [];
for (let i = 0; i < 15; i++) {
  const start = performance.now();
  const reader = renderPageStream(page).getReader();
  await reader.read();
  firsts.push(performance.now() - start);
  await reader.cancel();
}
console.log(`First byte of a page with 1,000 elements: ${median(firsts).toFixed(1)} ms`);

const root = project({ 'src/honey-card.js': source, 'eltrix.config.js': 'export default { render: true };' });
eltrix(root, 'build', '--no-look');
const html = Array.from(
  { length: 1000 },
  (_, i) => `<honey-card name="Hive ${i}" mood="calm" honey="${i}"></honey-card>`,
).join('');
const { renderPage } = (await import(join(root, 'dist/server.js'))) as typeof import('eltrix/server');
const start = '<!doctype html><link rel="icon" href="data:,"><link rel="modulepreload" href="/w/honey-card.js"><body>';
const server = await serve(
  { '/w/': join(root, 'dist') },
  { '/created': start + html, '/taken': start + renderPage(html) },
);

/** The times of a first visit, in milliseconds: of the script, and until the page is laid out. */
async function visit(path: string): Promise<readonly [script: number, laidOut: number] | undefined> {
  const tab = await open(server.address + path);
  const times = await tab?.evaluate<[number, number]>(`(async () => {
    // What a server sent is laid out before the script comes.
    document.body.offsetHeight;
    await new Promise(resolve => setTimeout(resolve, 300));
    const start = performance.now();
    await import('/w/honey-card.js');
    const ran = performance.now();
    document.body.offsetHeight;
    return [ran - start, performance.now() - start];
  })()`);
  await tab?.close();
  return times;
}

const ratios: (readonly [number, number])[] = [];
for (let round = 0; round < 22; round++) {
  const paths = ['/taken', '/created'];
  const times: Record<string, readonly [number, number] | undefined> = {};
  for (const path of round % 2 ? paths : paths.toReversed()) times[path] = await visit(path);
  const [taken, created] = paths.map(path => times[path]);
  if (taken && created && round > 1) ratios.push([taken[0] / created[0], taken[1] / created[1]]);
}
for (const [at, what] of ['until the page is laid out', 'script alone'].entries())
  if (ratios.length > 0)
    console.log(
      `Taking over 1,000 cards, of creating them, in Chromium, ${what}: ${median(ratios.map(pair => pair[1 - at]!)).toFixed(2)}`,
    );
server.close();
await closeEngines();
process.exit();
