/** Random elements that share modules, changed at random while they are watched: what is written is what a build from nothing writes. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { random, seed } from '../support/random.ts';
import { watchedPair } from '../support/whole.ts';

const steps = Number(process.env['ELTRIX_STEPS'] ?? 12);
const next = random(seed);
const pick = <T>(list: readonly T[]): T => list[next(list.length)]!;

const shared: Record<string, string> = {
  'src/shared/a.ts': `export const limit = 7; export const word = 'bee';
    export function loud(s: string) { return s + '!' + limit; }
    export default function plain(s: string) { return s.trim(); }`,
  'src/shared/b.ts': `import { loud as l } from './a.ts'; export const loud = (s: string) => l(s).toUpperCase();
    export enum Mood { Calm, Busy }`,
  'src/shared/types.ts': `export interface Thing { label: string; count: number }`,
  'src/shared/d.ts': `export type { Thing as Other } from './types.ts';`,
  'src/shared/c.ts': `export * from './a.ts'; export { Mood } from './b.ts'; export const list = ['x', 'y'];`,
};
const alone = (i: number) => `export const own${i} = 'own' + ${i};`;

/** Each binds `limit`, `word` and `loud` in its own way. */
const heads = (i: number) => [
  `import { limit, loud, word } from './shared/a.ts';`,
  `import plain, { loud } from './shared/a.ts'; const limit = 3, word = plain('q');`,
  `import { loud } from './shared/b.ts'; import { word, limit } from './shared/a.ts';`,
  `import * as a from './shared/a.ts'; const { loud, limit, word } = a;`,
  `import { limit, word } from './shared/c.ts'; import { loud as other } from './shared/a.ts'; import { loud } from './shared/b.ts';`,
  `const limit = 1, word = 'w', loud = (s: string) => s;`,
  `import { own${i % 3} as word } from './own${i % 3}.ts'; import { limit, loud } from './shared/c.ts';`,
];
const expressions = [
  '${() => this.name}',
  '${() => loud(this.name)}',
  '${() => limit}',
  '${() => word + this.size}',
  '${() => this.size > limit && markup`<u>${() => this.name}</u>`}',
  '${each(() => this.items, x => x, x => markup`<li>${x}</li>`)}',
  '<b title=${() => this.name}>q</b>',
  '${() => this.thing?.label}',
  '${each(() => this.others, (_, at) => at, other => markup`<li>${() => other().label}</li>`)}',
  '<button onclick=${() => this.emit("x-go")}>g</button>',
];
/** They depend on types that no file contains. */
const typed = ['this.thing?.label', 'this.thing?.count', 'this.others[0]?.label'];
const members = ['', 'connected() { loud("c"); }', 'get both() { return this.name + word; }', 'disconnected() {}'];

const element = (
  i: number,
) => `import { contract, data, each, event, integer, markup, stylesheet, text } from 'eltrix'; ${pick(heads(i))}
  import type { Thing } from './shared/types.ts'; import type { Other } from './shared/d.ts';
  export class E${i} extends contract('e-l${i}', { about: 'E ${next(100)}', attributes: { name: text(), size: integer() },
    properties: { items: data<string[]>(() => []), thing: data<Thing | null>(() => null), others: data<Other[]>(() => []) }, events: { 'x-go': event() } }) {
    static styleSheets = [stylesheet\`b { color: rgb(${next(200)} 2 3) }\`];
    ${pick(members)}
    view() { return markup\`<p>${Array.from({ length: 1 + next(4) }, () => pick(expressions)).join(' ')}</p>\`; }
  }`;

/** A source with something else in it. */
function changed(i: number, text: string, step: number): string {
  const ways = [
    () => element(i),
    () => text.replace(/<p[^>]*>/, `<p id="i${step}">t${step}`),
    () => text.replace(/rgb\(\d+/, `rgb(${step}`),
    () => text.replace(/about: 'E \d+'/, `about: 'E 1${step}'`),
    () => text.replace('view()', `m${step}() { return ${pick(['word', 'limit', 'loud("z")', 'this.name'])}; }\nview()`),
    () => text.replace(/<p([^>]*)>/, `<p$1>\${() => ${pick(['limit', 'word', 'loud(word)', 'this.size', ...typed])}}`),
    () =>
      text.replace('export class', `${pick(["loud('x');", `const c${step} = loud('y');`, 'limit;'])}\nexport class`),
  ];
  return pick(ways)();
}

/** A module that elements import, with something else in it. */
function other(text: string, step: number): string {
  const type = pick(['string', 'string[]', "'a' | number"]);
  const body = pick(["s + '!' + limit", 's.trim()', '[s].length', 'document.title + s', "s === '' ? null : s"]);
  return text
    .replace(/'(own|bee|x)\w*'/, `'$1${step}'`)
    .replace(/label: [^;]*/, `label: ${type}`)
    .replace(/(loud\(s: string\) \{ return) [^;]*/, `$1 ${body}`);
}

it(`${steps} random changes`, async t => {
  t.diagnostic(`ELTRIX_SEED=${seed} repeats them, ELTRIX_STEPS asks for more`);
  const files: Record<string, string> = { ...shared };
  for (let i = 0; i < 3; i++) files[`src/own${i}.ts`] = alone(i);
  for (let i = 0; i < 8; i++) files[`src/e${i}.ts`] = element(i);
  const { watcher, built, begun, read, write, unlike } = watchedPair(files);
  let apart = 0;
  try {
    await begun();
    for (let step = 0; step < steps; step++) {
      const i = next(8);
      const file = next(6) > 0 ? `src/e${i}.ts` : pick([`src/own${i % 3}.ts`, ...Object.keys(shared)]);
      const old = read(file);
      const text = file === `src/e${i}.ts` ? changed(i, old, step) : other(old, step);
      if (text === old) continue;
      write(file, text);
      const { anew } = await built();
      if (anew.length === 1) apart++;
      assert.deepEqual(unlike(), [], `${file}, made anew: ${anew.join()}\n${old}\n---\n${text}`);
    }
  } finally {
    await watcher.end();
  }
  assert.ok(apart > 0, 'some files are made anew alone');
});
