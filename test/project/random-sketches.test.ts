/** `eltrix sketch` from random HTML: its sources pass the type checker, their tests and the conformance suite. */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { it } from 'node:test';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project, repository } from '../support/project.ts';
import { random, seed } from '../support/random.ts';

const tags = [
  'hive-card',
  'my-élan',
  'a-b.c',
  'bee-',
  'item-2',
  'look-😀',
  'two--dashes',
  'snake_case-tag',
  'form-data',
];
/** Members of elements and of objects, names without a letter, and names that scripts cannot set. */
const names =
  'name value type label compact boxes mood open length connected connected-value remove children attributes emit view constructor tostring content-editable inner-html style-sheets ünder item-2 2nd a_b a.b __proto__ mix:in @click #ref lang class style title aria-label data-id onclick onhive-open'.split(
    ' ',
  );
const values = ['', '1', '0', '-0', '+1', '1.5', '.5', '1e3', '007', '12345678901', 'true', 'calm', 'Calm hive']
  .concat([
    '{"a":[1]}',
    '[1,2',
    'https://honey.example/a?b=c&amp;d',
    'a/b.png',
    "it's",
    '&quot;',
    '`${x}`',
    '\\n',
    'a\nb',
  ])
  .concat(['</script>', '--x: 1', 'en', '-- */ x']);
const contents = [
  'Hello',
  ' ',
  '12 boxes',
  '`${x}`',
  '&lt;b&gt;',
  'back\\n',
  'A <b>bold</b> one',
  '<!-- c -->',
  '<p>One</p>',
]
  .concat(['<i slot="badge">3</i>', '<h2 slot="heading">H</h2>', '<i slot="constructor">c</i>'])
  .concat([
    '<i slot="two words">w</i>',
    '<i slot="a&quot;b">q</i>',
    '<button>Go</button>',
    '<template><b>t</b></template>',
  ])
  .concat([
    '<style>b { color: navy }</style>',
    '<ul><li>One</li></ul>',
    '<img src="https://honey.example/a.png" alt="">',
  ]);

/** HTML whose tags end with a number, so that those of several files differ. */
function usage(below: (below: number) => number, number: number): string {
  const pick = <T>(list: readonly T[]): T => list[below(list.length)]!;
  const attribute = (name: string) => {
    const value = name === 'lang' ? 'en' : name === 'onclick' ? 'go()' : pick(values);
    return below(4) === 0 && name !== 'lang'
      ? ` ${name}`
      : ` ${name}=${value.includes('"') ? `'${value}'` : `"${value}"`}`;
  };
  const element = (depth: number): string => {
    const tag = `${pick(tags)}-${number}`;
    const given = new Set(Array.from({ length: below(5) }, () => pick(names)));
    const inside = Array.from({ length: below(4) }, () =>
      depth > 0 && below(3) === 0 ? element(depth - 1) : pick(contents),
    );
    const slot = depth < 2 && below(3) === 0 ? ' slot="badge"' : '';
    return `<${tag}${slot}${[...given].map(attribute).join('')}>${inside.join(below(2) ? '\n  ' : '')}</${tag}>`;
  };
  return Array.from({ length: 1 + below(4) }, () => `${element(2)}\n`).join('');
}

it('writes sources that pass everything', { skip: !engines.chromium.find() && 'no Chromium' }, t => {
  t.diagnostic(`ELTRIX_SEED=${seed}`);
  const below = random(seed);
  const files = Array.from({ length: 5 }, (_, number) => [`usage-${number}.html`, usage(below, number)] as const);
  const options = { target: 'es2022', module: 'nodenext', strict: true, noEmit: true, skipLibCheck: true };
  const sources = {
    'package.json': '{ "type": "module" }',
    'tsconfig.json': JSON.stringify({
      compilerOptions: { ...options, allowImportingTsExtensions: true, types: ['node', 'eltrix/css'] },
      include: ['src'],
    }),
    ...Object.fromEntries(files),
  };
  const root = project(sources, ['@types/node']);
  for (const [file, html] of files) {
    const { status, stdout, stderr } = eltrix(root, 'sketch', file);
    assert.equal(status, 0, `${html}\n${stdout}${stderr}`);
  }
  const compiler = join(repository, 'node_modules/typescript/bin/tsc');
  const types = spawnSync(process.execPath, [compiler, '-p', root], { encoding: 'utf8' });
  assert.equal(types.stdout, '');
  for (const command of ['test', 'check']) {
    const { status, stdout, stderr } = eltrix(root, command, '--in', 'chromium');
    assert.equal(status, 0, stdout + stderr);
  }
});

it('leaves out attributes that no script can set, and says so', () => {
  const root = project({ 'usage.html': '<x-y size="1">\n<x-y 2nd="a" @click="go()"></x-y></x-y>' });
  const { status, stdout } = eltrix(root, 'sketch', 'usage.html');
  assert.equal(status, 0);
  for (const name of ['2nd', '@click'])
    assert.ok(stdout.includes(`usage.html:2 note: no script can set an attribute ${name} in every engine.`), stdout);
  const source = readFileSync(join(root, 'src/x-y.ts'), 'utf8');
  assert.match(source, /attributes: \{\n {4}size: integer\(\),\n {2}\}/);
});
