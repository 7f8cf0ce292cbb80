/** eltrix check --types: errors of types inside markup, in the lines of the author. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import type { Finding } from '../../packages/eltrix-tool/src/project/finding.ts';
import { eltrix, project } from '../support/project.ts';

const configuration = {
  compilerOptions: {
    target: 'es2022',
    lib: ['es2023', 'dom', 'dom.iterable', 'esnext.disposable'],
    module: 'esnext',
    moduleResolution: 'bundler',
    strict: true,
    noEmit: true,
    skipLibCheck: true,
    types: [],
    allowImportingTsExtensions: true,
  },
  include: ['src'],
};

/** A child with a choice, a number, a flag, data and an event, and a parent that uses it. */
const card = `import { choice, contract, data, event, flag, integer, markup, text } from 'eltrix';
export class HiveCard extends contract('hive-card', {
  attributes: { name: text(), boxes: integer(), mood: choice(['calm', 'busy']), compact: flag() },
  properties: { frames: data<{ kg: number }[]>(() => []) },
  events: { 'hive-open': event<{ name: string }>() },
}) {
  #secret = 1;
  view() { return markup\`<p>\${() => this.name}\${() => this.#secret}</p>\`; }
}
HiveCard.define();
declare global { interface HTMLElementTagNameMap { 'hive-card': HiveCard } }
`;

const list = (body: string) => `import { contract, data, each, handle, live, markup, on, signal, sync } from 'eltrix';
import './hive-card.ts';
export class HiveList extends contract('hive-list', { properties: { many: data(() => 3) } }) {
  readonly field = handle<HTMLInputElement>();
  readonly count = signal(1);
  readonly words = signal('');
  readonly day = signal(new Date());
  opened(event: CustomEvent<{ name: number }>) { return event; }
  pressed(event: MouseEvent) { return event; }
  view() {
    return markup\`${body}\`;
  }
}
HiveList.define();
`;

function check(body: string, args: readonly string[] = ['--json']) {
  const root = project(
    {
      'package.json': '{ "name": "types", "type": "module" }',
      'tsconfig.json': JSON.stringify(configuration),
      'src/hive-card.ts': card,
      'src/hive-list.ts': list(body),
    },
    ['typescript'],
  );
  const { status, stdout, stderr } = eltrix(root, 'check', '--types', ...args);
  return { status, stdout, stderr };
}

function findings(body: string): readonly Finding[] {
  const { stdout, stderr } = check(body);
  assert.equal(stderr, '');
  return (JSON.parse(stdout) as { findings: Finding[] }).findings;
}

describe('types in markup', () => {
  it('accepts correct markup', () => {
    assert.deepEqual(
      findings(
        `
      <hive-card name=\${() => 'Rosemary'} boxes=\${this.many} mood=\${() => (this.many > 2 ? 'busy' : null)} compact=\${true}
        onhive-open=\${event => event.detail.name.trim()} onclick=\${this.pressed} \${{ frames: () => [{ kg: 1 }] }}></hive-card>
      <input type="number" \${sync(this.count)} \${this.field} class=\${{ big: true }} style=\${{ color: 'red' }} maxlength=\${3}
        \${on('keydown', event => event.key)} disabled=\${() => this.many > 1} aria-label="How many \${() => this.many}"
        \${{ value: () => this.words.get(), oninput: event => event.type, onhive-open: undefined }}>
      <ul onhive-open=\${this.opened} onother-event=\${event => event.detail}><hive-card ongarden-open=\${this.opened}></hive-card></ul>
      <third-party size=\${3} \${{ anything: 1 }} ongone=\${event => event.detail}></third-party>
      <svg viewBox="0 0 9 9"><circle r=\${this.many} onclick=\${event => event.clientX}></circle></svg>
      \${each(() => [1, 2], n => n, n => markup\`<b title=\${() => n()}>\${() => n().toFixed(1)}</b>\`)}`.replace(
          'onhive-open: undefined',
          "'onhive-open': undefined",
        ),
      ),
      [],
    );
  });

  const wrong: Record<string, readonly [body: string, at: string, message: RegExp]> = {
    'a number attribute that gets a word': [
      '<hive-card boxes=${() => this.words.get()}></hive-card>',
      '() => this.words',
      /string.*number/,
    ],
    'a choice that is none': [
      '<hive-card mood=${() => "angry"}></hive-card>',
      '() => "angry"',
      /"angry".*"busy"|"calm"/,
    ],
    'a flag that gets a word': ['<hive-card compact=${"false"}></hive-card>', '"false"', /"false"/],
    'a property that does not exist': ['<hive-card ${{ framse: [] }}></hive-card>', 'framse', /framse/],
    'a property of a wrong type': [
      '<hive-card ${{ frames: () => [{ kg: "1" }] }}></hive-card>',
      'frames',
      /string.*number/,
    ],
    'a property of a platform element that does not exist': ['<input ${{ vallue: "" }}>', 'vallue', /vallue/],
    'a boolean attribute of the platform that gets a word': ['<input disabled=${"no"}>', '"no"', /"no"/],
    'an object in a text attribute': ['<hive-card name=${this.field}></hive-card>', 'this.field', /Handle/],
    'part of an attribute that is an object': ['<p title="a ${this.day}"></p>', 'this.day', /Signal<Date>/],
    'a listener for another detail': ['<hive-card onhive-open=${this.opened}></hive-card>', 'this.opened', /overload/],
    'a listener for another event': ['<button onkeydown=${this.pressed}>x</button>', 'this.pressed', /overload/],
    'a mistake inside a listener': [
      '<hive-card onhive-open=${event => event.detail.nmae}></hive-card>',
      'nmae',
      /nmae/,
    ],
    'sync with a signal of another type': ['<textarea ${sync(this.count)}></textarea>', 'this.count', /number/],
    'a handle to another element': ['<div ${this.field}></div>', 'this.field', /HTMLInputElement/],
    'a row that reads what its item does not have': [
      '${each(() => [{ kg: 1 }], one => one.kg, one => markup`<b>${() => one().weight}</b>`)}',
      'weight',
      /weight/,
    ],
    'an attribute inside a nested template': [
      '${() => markup`<hive-card boxes=${() => this.words.get()}></hive-card>`}',
      '() => this.words',
      /string.*number/,
    ],
  };
  it('reports each error at its expression', () => {
    const names = Object.keys(wrong);
    const found = findings(names.map(name => wrong[name]![0]).join('\n'));
    const source = list(names.map(name => wrong[name]![0]).join('\n')).split('\n');
    const first = source.findIndex(line => line.includes(wrong[names[0]!]![0]));
    assert.deepEqual(
      found.map(({ line }) => names[line - 1 - first]),
      names,
      JSON.stringify(found, null, 1),
    );
    for (const [i, name] of names.entries()) {
      const [, at, message] = wrong[name]!;
      const { line, column, message: said, file } = found[i]!;
      assert.equal(file, 'src/hive-list.ts');
      assert.ok(source[line - 1]!.slice(column - 1).startsWith(at), `${name}: ${line}:${column} ${said}`);
      assert.match(said, message, name);
    }
  });

  it('checks elements of packages by their manifest', () => {
    const manifest = {
      schemaVersion: '1.0.0',
      modules: [
        {
          kind: 'javascript-module',
          path: 'x.js',
          declarations: [
            {
              kind: 'class',
              name: 'XMeter',
              tagName: 'x-meter',
              customElement: true,
              attributes: [
                { name: 'level', type: { text: 'number' } },
                { name: 'look', type: { text: "'flat' | 'round'" } },
              ],
            },
          ],
        },
      ],
    };
    const root = project(
      {
        'package.json': '{ "name": "types", "type": "module", "dependencies": { "x-meter": "1" } }',
        'tsconfig.json': JSON.stringify(configuration),
        'node_modules/x-meter/package.json': '{ "name": "x-meter", "version": "1.0.0", "customElements": "cem.json" }',
        'node_modules/x-meter/cem.json': JSON.stringify(manifest),
        'src/a.ts':
          "import { markup } from 'eltrix';\nexport const a = (text: string) => markup`<x-meter level=${text} look=${'flat'}></x-meter>`;\nexport const b = markup`<x-meter level=${3} look=${'square'}></x-meter>`;\n",
      },
      ['typescript'],
    );
    const { findings } = JSON.parse(eltrix(root, 'check', '--types', '--json').stdout) as { findings: Finding[] };
    assert.deepEqual(
      findings.map(({ line, message }) => [line, /"square"|string/.exec(message)![0]]),
      [
        [2, 'string'],
        [3, '"square"'],
      ],
    );
  });

  it('prints position and source line, and leaves no files behind', () => {
    const { status, stdout } = check('<hive-card mood=${"angry"}></hive-card>', []);
    assert.equal(status, 1);
    assert.match(stdout, /^src\/hive-list\.ts:11:37 finding \(markup-type\): TS\d+: /);
    assert.match(stdout, /2 sources, 1 finding\.$/m);
  });

  it('explains missing packages and incompatible options', () => {
    const root = project({ 'src/a.ts': 'export {};', 'package.json': '{}' });
    const bare = eltrix(root, 'check', '--types');
    assert.equal(bare.status, 2);
    assert.match(bare.stderr, /npm install --save-dev typescript/);
    const both = eltrix(root, 'check', '--types', '--fix');
    assert.equal(both.status, 2);
    assert.match(both.stderr, /--fix and --types do not go together/);
  });
});
