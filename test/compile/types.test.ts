/** The types of built elements, as those who use them see them. */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { before, describe, it } from 'node:test';
import { eltrix, project, repository, running } from '../support/project.ts';

const source = `
import { contract, custom, data, event, live, markup, text } from 'eltrix';
import type * as shapes from 'shapes';
import type Colour from 'shapes';

export interface Frame { readonly bees: number }

export class BeeBox extends contract('bee-box', {
  form: true,
  attributes: {
    label: text(),
    since: custom({
      parse: text => (text === null ? null : new Date(text)),
      print: (date: Date | null) => date && date.toISOString(),
    }),
  },
  properties: { frames: data<readonly Frame[]>(() => []), notes: live<string[]>(() => []) },
  events: { 'bee-move': event<{ frame: Frame }>() },
}) {
  static readonly most = 12;
  static from(label: string): BeeBox { const box = new BeeBox(); box.label = label; return box; }
  /** How full it is. */
  readonly level: number = 3;
  title2 = 'two';
  shape: shapes.Shape | undefined;
  colour?: Colour;
  #secret = 1;
  private kept = 2;
  view() { return markup\`<p>\${() => this.label}\${this.#secret}\${this.kept}</p>\`; }
  /** Puts one beside it. */
  beside(other: BeeBox): BeeBox { return other; }
  get weight() { return this.#secret; }
  get first(): Frame | undefined { return this.frames[0]; }
  set first(frame: Frame | undefined) { this.frames = frame ? [frame] : []; }
  close() { this.#secret = 2; }
  async ask() { await null; }
  async count2() { return 4; }
  isFull() { return this.frames.length > 9; }
  every(done: () => void, delay: number, ...names: string[]): void { void [done, delay, names]; }
  pick<T extends Frame>(from: readonly T[]): T | undefined { return from[0]; }
}

const Loud = <T extends abstract new (...args: never[]) => HTMLElement>(Base: T) => Base;
export class BeeLoud extends Loud(contract('bee-loud', { properties: { list: data<number[]>(() => []) } })) {}

export class BeeMore extends contract('bee-more', { attributes: { count: text() } }, BeeBox) { level2(): number { return 2; } }

export class BeeButton extends contract('bee-button', { extends: 'button', attributes: { label: text() } }) {}
`;

const use = `
import { BeeBox, type Frame } from 'widgets/bee-box.js';
import 'widgets/bee-button.js';
import 'widgets/bee-loud.js';
import 'widgets/bee-more.js';
const box = document.createElement('bee-box');
const same: BeeBox = box.beside(BeeBox.from('a'));
const most: 12 | number = BeeBox.most;
const level: number = same.level;
box.title2 = 'three';
const since: Date | null = box.since;
const frames: readonly Frame[] = box.frames;
box.first = frames[0];
box.close() satisfies void;
const asked: Promise<void> = box.ask();
const count: Promise<number> = box.count2();
const full: boolean = box.isFull();
box.every(() => {}, 3, 'a', 'b');
const picked: { bees: number; more: 1 } | undefined = box.pick([{ bees: 1, more: 1 as const }]);
box.colour = 'red';
box.shape = { sides: 4 };
const button = document.createElement('button', { is: 'bee-button' });
button.label = 'Go'; button.type = 'submit';
box.addEventListener('bee-move', event => event.detail.frame.bees.toFixed());
const more = document.createElement('bee-more');
more.addEventListener('bee-move', event => event.detail.frame.bees.toFixed());
const inherited: [readonly Frame[], number, Promise<number>, string] = [more.frames, more.level2(), more.count2(), more.count];
const list: number[] = document.createElement('bee-loud').list;
void [inherited, list, most, level, since, asked, count, full, picked];
`;

const mistakes = `
import { BeeBox } from 'widgets/bee-box.js';
const box = new BeeBox();
box.level = 3;
box.kept;
box.first = 3;
box.every(() => {});
document.createElement('bee-button').label;
box.beside(3);
`;

/** Types that no source writes down. */
const inferred: Record<string, string> = {
  'tsconfig.json': JSON.stringify({
    compilerOptions: {
      ...{ target: 'es2022', module: 'esnext', moduleResolution: 'bundler', strict: true, skipLibCheck: true },
      ...{ declaration: true, composite: true, noEmit: true, allowImportingTsExtensions: true, types: [] },
      paths: { '@/*': ['./src/*'] },
    },
    include: ['src'],
  }),
  'src/shapes.ts': `
export interface Hive { name: string; boxes: number }
export type Mood = 'calm' | 'busy';
export const weigh = (hive: Hive) => ({ kilograms: hive.boxes * 11, of: hive });
export class Ledger<T> { entries: T[] = []; add(entry: T) { this.entries.push(entry); return this; } }
`,
  'src/loud.ts': `
type Constructor = abstract new (...args: any[]) => HTMLElement;
export function Loud<T extends Constructor>(Base: T) {
  abstract class Loudly extends Base {
    /** How loud. */
    volume = 3;
    shout(word: string) { return word.toUpperCase(); }
  }
  return Loudly;
}
`,
  'src/hive-base.ts': `
import { contract, data, event, signal } from 'eltrix';
import { type Hive, Ledger, weigh } from '@/shapes.ts';
import type * as shapes from './shapes.ts';

export class HiveBase extends contract('hive-base', {
  properties: { hives: data(() => [] as Hive[]), limits: data(() => ({ low: 1, high: 9 })) },
  events: { 'hive-weighed': event<ReturnType<typeof weigh>>() },
}) {
  get weights() { return this.hives.map(weigh); }
  ledger = new Ledger<Hive>();
  count = signal(0);
  readonly fixed = 'a';
  /**
   * Finds one.
   * @param name its name
   * @deprecated use pick()
   */
  find(name: string) { return this.hives.find(hive => hive.name === name); }
  pick<K extends keyof Hive>(key: K) { return this.hives.map(hive => hive[key]); }
  async load() { return JSON.parse('[]') as Hive[]; }
  mood(): shapes.Mood { return 'calm'; }
  read(name: 'a'): number;
  read(name: 'b'): string;
  read(name: string): number | string { return name === 'a' ? 1 : 'b'; }
  get both(): string { return ''; }
  set both(value: string | number) { void value; }
}
`,
  'src/hive-child.ts': `
import { contract } from 'eltrix';
import { HiveBase } from './hive-base.ts';
import { Loud } from './loud.ts';
export class HiveChild extends contract('hive-child', {}, HiveBase) {
  parent: HiveBase | null = null;
  again() { return this.parent; }
}
export class HiveLoud extends Loud(contract('hive-loud', {})) {}
`,
};

const inferredUse = `
import 'widgets/hive-base.js';
import 'widgets/hive-child.js';
import 'widgets/hive-loud.js';
const child = document.createElement('hive-child');
const weights: { kilograms: number; of: { boxes: number } }[] = child.weights;
const entries: { name: string }[] = child.ledger.add({ name: 'a', boxes: 1 }).entries;
child.count.set(child.limits.low);
const fixed: 'a' = child.fixed;
const found: number | undefined = child.find('a')?.boxes;
const names: string[] = child.pick('name');
const loaded: Promise<{ name: string }[]> = child.load();
const mood: 'calm' | 'busy' = child.mood();
const read: [number, string] = [child.read('a'), child.read('b')];
child.both = 3;
const both: string = child.both;
const parent: HTMLElement | null = child.again();
child.again()?.find('a');
child.addEventListener('hive-weighed', event => event.detail.of.name);
const loud = document.createElement('hive-loud');
const said: string = loud.shout('a') + loud.volume.toFixed();
void [weights, entries, fixed, found, names, loaded, mood, read, both, parent, said];
`;

const inferredMistakes = `
import { HiveBase } from 'widgets/hive-base.js';
const base = new HiveBase();
base.find(3);
base.read('c');
base.ledger.add(3);
base.weights[0].grams;
base.count.set('a');
`;

const script = `
import { contract, data, text } from 'eltrix';
/** @typedef {{ name: string, boxes: number }} Hive */
export class HiveScript extends contract('hive-script', {
  attributes: { name: text() },
  properties: { hives: data(() => /** @type {Hive[]} */ ([])) },
}) {
  /** @param {string} name */
  find(name) { return this.hives.find(hive => hive.name === name); }
}
`;

/** What TypeScript reports about a file beside the widgets. */
function check(root: string, file: string, code: string): string[] {
  writeFileSync(join(root, file), code);
  const { stdout } = spawnSync(
    process.execPath,
    // biome-ignore format: one option a pair.
    [join(repository, 'node_modules/typescript/bin/tsc'), '--noEmit', '--ignoreConfig', '--strict', '--preserveSymlinks',
      '--module', 'nodenext', '--target', 'es2022', '--lib', 'es2022,dom,dom.iterable', '--types', '', file],
    { cwd: root, encoding: 'utf8' },
  );
  return stdout.split('\n').filter(line => line && !line.startsWith(' '));
}

const linesOf = (errors: readonly string[]) => errors.map(line => Number(/\((\d+),/.exec(line)?.[1]));

/** A project with TypeScript, built; and a folder that has nothing but its widgets. */
function built(files: Record<string, string>): { readonly root: string; readonly page: string } {
  const root = project(files);
  symlinkSync(join(repository, 'node_modules/typescript'), join(root, 'node_modules/typescript'));
  const { status, stderr } = eltrix(root, 'build', '--no-look');
  assert.deepEqual([status, stderr.replace(/^.*\(event-unsent\).*\n/gm, '')], [0, '']);
  const page = project({});
  rmSync(join(page, 'node_modules'), { recursive: true, force: true });
  mkdirSync(join(page, 'node_modules'));
  symlinkSync(join(root, 'dist'), join(page, 'node_modules/widgets'));
  return { root, page };
}

describe('types that TypeScript infers', () => {
  it('are in the declarations of a build, which import no package', () => {
    const { root, page } = built(inferred);
    assert.deepEqual(check(page, 'use.ts', inferredUse), []);
    assert.deepEqual(linesOf(check(page, 'mistakes.ts', inferredMistakes)), [4, 5, 6, 7, 8]);
    const declarations = readFileSync(join(root, 'dist/hive-base.d.ts'), 'utf8');
    assert.match(declarations, /\* Finds one\.\n {3}\* @param name its name\n {3}\* @deprecated use pick\(\)/);
    assert.doesNotMatch(declarations, /unknown;|import/);
    const { methods } = JSON.parse(eltrix(root, 'describe', 'hive-base', '--json').stdout) as {
      methods: { name: string; returns: string }[];
    };
    assert.equal(methods.find(({ name }) => name === 'find')!.returns, 'Hive | undefined');
    const reference = eltrix(root, 'describe', 'hive-base', '--page').stdout;
    assert.match(reference, /### Properties[^#]*`weights`[^#]*### Methods[^#]*`find\(/);
  });

  for (const [name, configuration] of [
    ['without a configuration', {}],
    ['beside a configuration for TypeScript', { 'tsconfig.json': '{ "include": ["src"] }' }],
  ] as const)
    it(`come from JSDoc in JavaScript, ${name}`, () => {
      const { page } = built({ 'src/hive-script.js': script, ...configuration });
      const use = `import 'widgets/hive-script.js';
const element = document.createElement('hive-script');
const boxes: number | undefined = element.find('a')?.boxes ?? element.hives[0]?.boxes;
element.find(3);
void boxes;`;
      assert.deepEqual(linesOf(check(page, 'use.ts', use)), [4]);
    });

  it('are found under any name by which a class is exported or extended', () => {
    const first = "import { contract, data } from 'eltrix';\n";
    const properties = '{ properties: { hives: data(() => new Map<string, number>()) } }';
    const body = '{ find(name: string) { return this.hives.get(name); } }';
    const more = '{ properties: { more: data(() => 1) } }';
    const { root } = built({
      'src/renamed.ts': `${first}class Inner extends contract('hive-renamed', ${properties}) ${body}\nexport { Inner as Outer };`,
      'src/default.ts': `${first}class Inner extends contract('hive-default', ${properties}) ${body}\nexport default Inner;`,
      'src/swapped.ts': `${first}class A extends contract('hive-a', ${properties}) ${body}
class B extends contract('hive-b', ${more}) { find() { return 'b'; } }\nexport { A as B, B as A };`,
      // What is no class is looked for in a circle of modules.
      'src/bases.ts': `${first}export const Made = contract('hive-made', {});\nexport { Outer as Base } from './renamed.ts';\nexport * from './passed.ts';`,
      'src/passed.ts':
        "import Default from './default.ts';\nexport { Default as Passed };\nexport * from './bases.ts';",
      'src/children.ts': `${first}import { Base, Made, Passed as P } from './bases.ts';\nimport * as bases from './bases.ts';
export class One extends contract('hive-one', ${more}, Base) {}
export class Two extends contract('hive-two', ${more}, P) {}
export class Three extends contract('hive-three', ${more}, bases.Passed) {}
export class Four extends contract('hive-four', ${more}, Made) {}`,
    });
    // Of a class that TypeScript refuses to emit.
    const constants = `const hives = data((): Map<string, number> => new Map());\nconst stated = { properties: { hives } };`;
    writeFileSync(
      join(root, 'src/constants.ts'),
      `${first}${constants}\nexport const Constants = class extends contract('hive-constants', stated) { find(name: string): number | undefined { return this.hives.get(name); } };`,
    );
    assert.equal(eltrix(root, 'build', '--no-look').status, 0);
    for (const tag of ['renamed', 'default', 'a', 'one', 'two', 'three', 'constants']) {
      const declarations = readFileSync(join(root, `dist/hive-${tag}.d.ts`), 'utf8');
      assert.match(declarations, /hives: Map<string, number>;\n[^]*find\(name: string\): number \| undefined;/, tag);
    }
    const swapped = readFileSync(join(root, 'dist/hive-b.d.ts'), 'utf8');
    assert.match(swapped, /class A extends HTMLElement[^]*more: number;[^]*find\(\): string;/);
  });

  it('follow saved changes', async () => {
    const { root } = built(inferred);
    const file = join(root, 'src/hive-child.ts');
    writeFileSync(file, readFileSync(file, 'utf8').replace('return this.parent', 'return [this.parent]'));
    assert.equal(eltrix(root, 'build', '--no-look').status, 0);
    assert.match(readFileSync(join(root, 'dist/hive-child.d.ts'), 'utf8'), /again\(\): \(HiveBase \| null\)\[\];/);
  });

  it('follow a module that they come from, while a build watches', async () => {
    const root = project({
      'src/weigh.ts': 'export const weigh = (text: string) => ({ weight: Number(text) });',
      'src/bee-card.ts': `import { contract, text } from 'eltrix';
import { weigh } from './weigh.ts';
export class BeeCard extends contract('bee-card', { attributes: { name: text() } }) { read() { return weigh(this.name); } }`,
    });
    symlinkSync(join(repository, 'node_modules/typescript'), join(root, 'node_modules/typescript'));
    const watcher = running(root, 'build', '--watch', '--no-look');
    try {
      await watcher.until(/Watching src/);
      writeFileSync(join(root, 'src/weigh.ts'), 'export const weigh = (text: string) => [text];');
      await watcher.until(/\d\.\d\d s, at most/);
      assert.match(readFileSync(join(root, 'dist/bee-card.d.ts'), 'utf8'), /read\(\): string\[\];/);
    } finally {
      await watcher.end();
    }
  });
});

it('types of one name in two elements have separate names in JSX, and properties and texts keep theirs', () => {
  const card = (tag: string, name: string, type: string, property: string) => `
import { contract, data } from 'eltrix';
export type Frame = ${type};
export class ${name} extends contract('${tag}', { properties: { ${property} } }) {}
${name}.define();`;
  const root = project({
    'src/a-card.ts': card('a-card', 'ACard', '{ bees: number }', 'frame: data<Frame | null>(() => null)'),
    'src/b-card.ts': card(
      'b-card',
      'BCard',
      '{ honey: number }',
      "Frame: data<Frame | 'Frame' | { Frame: Frame } | null>(() => null, { about: 'A Frame.' })",
    ),
  });
  assert.equal(eltrix(root, 'build', '--no-look').status, 0);
  const jsx = readFileSync(join(root, 'dist/react.d.ts'), 'utf8');
  const typed = "/** A Frame. */\n  Frame?: BCardFrame | 'Frame' | { Frame: BCardFrame } | null | undefined;";
  assert.ok(jsx.includes(typed), jsx);
});

it('types of one name in two modules of an element are kept apart, also with $ and letters beyond ASCII', () => {
  const names = ['Frame', '$Frame', 'Größe', 'Écran', 'Frame$'];
  const each = (write: (name: string, at: number) => string) => names.map(write).join('\n');
  const root = project({
    'src/a-card.ts': `import { contract, data } from 'eltrix';
import type { Box } from './box.ts';
${each(name => `export interface ${name} { own: ${name} | null }`)}
export class ACard extends contract('a-card', { properties: {
  box: data<Box | null>(() => null),
${each((name, at) => `  own${at}: data<${name} | null>(() => null),`)}
} }) {}
ACard.define();`,
    'src/box.ts': `${each(name => `interface ${name} { other: ${name} | null }`)}
export interface Box { ${names.map((name, at) => `other${at}: ${name}`).join('; ')} }`,
  });
  assert.equal(eltrix(root, 'build', '--no-look').status, 0);
  const types = readFileSync(join(root, 'dist/a-card.d.ts'), 'utf8');
  for (const name of names)
    for (const [own, member] of [
      [name, 'other'],
      [`${name}2`, 'own'],
    ])
      assert.ok(types.includes(`export interface ${own} { ${member}: ${own} | null }`), `${own}\n${types}`);
});

it('elements that extend each other can be published with declaration: true', () => {
  const root = project(inferred);
  const { stdout } = spawnSync(
    process.execPath,
    // biome-ignore format: one option a pair.
    [join(repository, 'node_modules/typescript/bin/tsc'), '-p', '.', '--noEmit', 'false', '--emitDeclarationOnly',
      '--rootDir', '.', '--outDir', 'types'],
    { cwd: root, encoding: 'utf8' },
  );
  assert.equal(stdout, '');
});

describe('the types of a build', () => {
  let root: string;
  before(() => {
    root = project({
      'src/boxes.ts': source,
      'node_modules/shapes/package.json': '{ "name": "shapes", "type": "module", "types": "index.d.ts" }',
      'node_modules/shapes/index.d.ts':
        "export interface Shape { sides: number }\ntype Colour = 'red' | 'blue';\nexport default Colour;",
    });
    const { status, stderr } = eltrix(root, 'build', '--no-look');
    assert.deepEqual([status, stderr], [0, '']);
    symlinkSync(join(root, 'dist'), join(root, 'node_modules/widgets'));
  });
  it('contain written types, and types of simple expressions', () => {
    assert.deepEqual(check(root, 'use.ts', use), []);
    assert.deepEqual(linesOf(check(root, 'mistakes.ts', mistakes)), [4, 5, 6, 7, 8, 9]);
  });

  it('are in the manifest, with parameters and attributes of form fields', () => {
    const manifest = JSON.parse(readFileSync(join(root, 'dist/custom-elements.json'), 'utf8')) as {
      modules: {
        path: string;
        declarations: {
          attributes: { name: string }[];
          members: { name: string; parameters?: { name: string; type: { text: string } }[] }[];
        }[];
      }[];
    };
    const box = manifest.modules.find(({ path }) => path === 'bee-box.js')!.declarations[0]!;
    const every = box.members.find(({ name }) => name === 'every')!;
    assert.deepEqual(
      every.parameters!.map(({ name, type }) => [name, type.text]),
      [
        ['done', '() => void'],
        ['delay', 'number'],
        ['names', 'string[]'],
      ],
    );
    assert.deepEqual(
      box.attributes.map(({ name }) => name),
      ['label', 'since', 'name', 'form', 'disabled'],
    );
  });

  it('are in JSX, with attributes of form fields, and without customized built-in elements', () => {
    const jsx = readFileSync(join(root, 'dist/react.d.ts'), 'utf8');
    assert.match(jsx, /interface BeeBoxProperties \{[^}]*name\?: string \| undefined;/);
    assert.match(jsx, /"bee-box": /);
    assert.doesNotMatch(jsx, /"bee-button": /);
  });
});
