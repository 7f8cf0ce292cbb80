/** The types of built elements, as those who use them see them. */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { readFileSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { before, describe, it } from 'node:test';
import { eltrix, project, repository } from '../support/project.ts';

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
  const check = (file: string, code: string) => {
    writeFileSync(join(root, file), code);
    const { stdout } = spawnSync(
      process.execPath,
      // biome-ignore format: one option a pair.
      [join(repository, 'node_modules/typescript/bin/tsc'), '--noEmit', '--ignoreConfig', '--strict', '--preserveSymlinks',
        '--module', 'nodenext', '--target', 'es2022', '--lib', 'es2022,dom,dom.iterable', '--types', '', file],
      { cwd: root, encoding: 'utf8' },
    );
    return stdout.split('\n').filter(line => line && !line.startsWith(' '));
  };

  it('say what the sources say, and what can be seen', () => {
    assert.deepEqual(check('use.ts', use), []);
    assert.deepEqual(
      check('mistakes.ts', mistakes).map(line => Number(/\((\d+),/.exec(line)?.[1])),
      [4, 5, 6, 7, 8, 9],
    );
  });

  it('are in the manifest, one parameter by another, with the attributes that forms give', () => {
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

  it('are in JSX: a form element has a name, and a customized built-in is no tag of its own', () => {
    const jsx = readFileSync(join(root, 'dist/react.d.ts'), 'utf8');
    assert.match(jsx, /interface BeeBoxProperties \{[^}]*name\?: string \| undefined;/);
    assert.match(jsx, /"bee-box": /);
    assert.doesNotMatch(jsx, /"bee-button": /);
  });
});
