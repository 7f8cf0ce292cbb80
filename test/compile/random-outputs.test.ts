/** What `eltrix build` writes beside the scripts, for random contracts: types, the manifest and the reference page. */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { it } from 'node:test';
import { Ajv } from 'ajv';
import markdown from 'markdown-it';
import { eltrix, project, repository } from '../support/project.ts';
import { random, seed } from '../support/random.ts';

const tags = ['hive-card', 'a-b.c', 'my-élan', 'look-😀', 'bee-', 'two--dashes', 'snake_case-tag', 'form-data'];
const names = 'size queenAge ünder a1 x_y delete class default function name type value of let static get set if in'
  .concat(' typeof undefined NaN length key ref props async yield')
  .split(' ');
const words = ['calm', 'a|b', "it's", 'q"q', 'back\\slash', '`t`', '${x}', '*/', '<b>', 'new\nline', '1', 'null', 'é'];
const abouts = [
  'Plain.',
  'Ends */ a comment.',
  'Uses `code`, `<b>` and ${x}.',
  'It\'s "quoted" \\ back.',
  'Two\nlines.',
  '| a | b |',
]
  .concat([
    'For <hive-card> & &copy; more.',
    '</script><script>alert(1)</script>',
    '@deprecated use x',
    'line\r\nbreak',
    '$& $1',
  ])
  .concat(['<!-- no -->', '{@link x}', '\\u0041', 'a ` b <i> c ` d']);
const values = [
  "'calm' as Shape",
  '0',
  'null as Shelf<number> | null',
  '[] as readonly Shape[]',
  'new Map<string, Level>()',
]
  .concat([
    'Level.Low as Level',
    '({ a: 1, b: [true] })',
    '1n',
    'null as HTMLElement | null',
    '(a: number, b = 2) => a + b',
  ])
  .concat(['[1, "a"] as [number, string]', 'undefined as undefined | (() => void)']);
const json = JSON.stringify;

interface Made {
  readonly tag: string;
  readonly name: string;
  readonly code: string;
}

function element(below: (below: number) => number, number: number, said: Set<string>): Made {
  const pick = <T>(list: readonly T[]): T => list[below(list.length)]!;
  const some = <T>(list: readonly T[]): T[] => list.filter(() => below(3) === 0);
  const about = () => {
    const text = pick(abouts);
    said.add(text);
    return json(text);
  };
  const options = (more = '') => `{ about: ${about()}${below(5) ? '' : ', reflect: false'}${more} }`;
  const kind = (): string => {
    const keywords = [...new Set([pick(words), pick(words), pick(words)])];
    const choice = `choice(${json(keywords)}, ${options(`, missing: ${json(keywords[0])}, invalid: ${json(keywords[0])}`)})`;
    const shape = pick([
      'unknown',
      '{ a: string }',
      'Shape',
      'readonly string[]',
      'Shelf<string>',
      '[a: number, b?: string]',
    ]);
    return pick(
      [
        choice,
        choice,
        `text(${options()})`,
        `integer(${options(', default: -5')})`,
        `flag(${options()})`,
        `url(${options()})`,
      ].concat([`tokens(${options()})`, `json<${shape}>(${options()})`, `decimal(${options(', default: 0.5')})`]),
    );
  };
  const record = (key: string, entries: string[]) =>
    entries.length > 0 ? `  ${key}: { ${entries.join(', ')} },\n` : '';
  const given = names.filter(() => below(4) === 0);
  const [attributes, properties] = [given.filter((_, at) => at % 2 === 0), given.filter((_, at) => at % 2 === 1)];
  const events = some(['hive-open', 'change', 'a:b', 'x.y', 'Upper', 'with space', "q's", 'é']);
  const tag = `${pick(tags)}-${number}`;
  const name = `Made${number}`;
  const code = `export class ${name} extends contract(${json(tag)}, {
  about: ${about()},
${record(
  'attributes',
  attributes.map(key => `${json(key)}: ${kind()}`),
)}${record(
  'properties',
  properties.map(key => `${json(key)}: data(() => ${pick(values)}, { about: ${about()} })`),
)}${record(
  'events',
  events.map(
    type =>
      `${json(type)}: event<${pick(['number', '{ name: string }', 'Shelf<Shape>', 'void'])}>({ about: ${about()} })`,
  ),
)}${record(
  'slots',
  some(['', 'badge', 'two words', 'é']).map(slot => `${json(slot)}: slot(${about()})`),
)}${record(
  'parts',
  some(['edge', 'é']).map(part => `${json(part)}: ${about()}`),
)}${record(
  'cssProperties',
  some(['--edge', '--x_y', '--é']).map(property => `${json(property)}: ${about()}`),
)}${record(
  'states',
  some(['full', 'é']).map(state => `${json(state)}: ${about()}`),
)}}) {
  /** Does it. */
  run(a: number, { b = 1 }: { b?: number } = {}, ...rest: Shelf<Shape>[]): Promise<Level | undefined> {
    return Promise.resolve(a + b + rest.length ? Level.Low : undefined);
  }
}
${name}.define();
`;
  return { tag, name, code };
}

it('is valid, and says what the contracts say', t => {
  t.diagnostic(`ELTRIX_SEED=${seed}`);
  const below = random(seed);
  const said = new Set<string>();
  const made = Array.from({ length: 12 }, (_, number) => element(below, number, said));
  const options = { target: 'es2022', module: 'nodenext', strict: true, noEmit: true, jsx: 'react-jsx', types: [] };
  const root = project(
    {
      'package.json': '{ "name": "made-widgets", "version": "1.0.0", "type": "module" }',
      'src/all.ts': `import { choice, contract, data, decimal, event, flag, integer, json, slot, text, tokens, url } from 'eltrix';
export interface Shelf<T> { readonly it: T; next?: Shelf<T> }
export type Shape = 'round' | "squ\\"are" | \`t\${number}\`;
export enum Level { Low = 'low', High = 'high' }
${made.map(({ code }) => code).join('')}`,
      'use/tsconfig.json': json({
        compilerOptions: { ...options, lib: ['es2023', 'dom', 'dom.iterable'] },
        include: ['.'],
      }),
      'use/use.ts': `${made.map(({ tag, name }) => `import { ${name} } from '../dist/${tag}.js';\nexport const of${name}: ${name} = document.createElement(${json(tag)});\n`).join('')}
export * as all from '../dist/all.js';
import type {} from '../dist/react.js';
import type {} from '../dist/preact.js';
`,
    },
    ['react', '@types/react', 'preact', 'csstype', 'typescript'],
  );
  const { status, stdout, stderr } = eltrix(root, 'build', '--no-look');
  assert.equal(status, 0, stdout + stderr);
  const compiler = join(repository, 'node_modules/typescript/bin/tsc');
  const types = spawnSync(process.execPath, [compiler, '-p', join(root, 'use')], { encoding: 'utf8' });
  assert.equal(types.stdout, '');

  const read = (file: string) => readFileSync(join(root, 'dist', file), 'utf8');
  const schema = JSON.parse(
    readFileSync(join(repository, 'node_modules/custom-elements-manifest/schema.json'), 'utf8'),
  ) as object;
  const validate = new Ajv({ strict: false }).compile(schema);
  assert.ok(validate(JSON.parse(read('custom-elements.json'))), json(validate.errors?.slice(0, 3)));

  // Rendered with HTML allowed, as most hosts of Markdown do, the page has the texts of the contracts and no tag of them.
  for (const { tag } of made)
    assert.match(read('undefined.css'), new RegExp(`[( ]${tag.replace('.', '\\\\.')}[,)]`), tag);
  const page = markdown({ html: true }).render(read('REFERENCE.md')) as string;
  assert.deepEqual(
    [...new Set(page.match(/<(?!\/|h1|h2|h3|p>|table>|thead>|tbody>|tr>|th>|td>|code>|ul>|li>)[^>]*>/g))],
    [],
  );
  const text = page.replace(/<[^>]*>/g, '').replace(/\s+/g, ' ');
  const shown = (about: string) =>
    about
      .replaceAll('`', '')
      .replace(/\s+/g, ' ')
      .replaceAll('&', '&amp;')
      .replaceAll('<', '&lt;')
      .replaceAll('>', '&gt;')
      .replaceAll('"', '&quot;');
  for (const about of said) if (!about.includes('\\u')) assert.ok(text.includes(shown(about)), `${about}\n${text}`);
});
