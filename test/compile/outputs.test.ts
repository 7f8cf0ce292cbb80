/** What `eltrix build` writes beside the scripts, on the apiary's widgets. */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { cpSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { before, describe, it } from 'node:test';
import { Ajv } from 'ajv';
import { publint } from 'publint';
import { eltrix, project, repository, temporary } from '../support/project.ts';

const apiary = join(repository, 'examples/apiary');
const out = join(temporary(), 'widgets');
const read = (file: string) => readFileSync(join(out, file), 'utf8');
const json = (file: string) => JSON.parse(read(file)) as never;

describe('the output of eltrix build', () => {
  before(() => {
    const { status, stderr } = eltrix(apiary, 'build', '--out', out, '--classic');
    assert.equal(stderr, '');
    assert.equal(status, 0);
  });

  it('has a complete manifest that is valid by the community schema', () => {
    const schema = JSON.parse(
      readFileSync(join(repository, 'node_modules/custom-elements-manifest/schema.json'), 'utf8'),
    ) as object;
    const validate = new Ajv({ strict: false }).compile(schema);
    const manifest = json('custom-elements.json') as {
      modules: {
        path: string;
        declarations: Record<string, { name: string; type?: { text: string }; default?: string }[]>[];
      }[];
    };
    assert.ok(validate(manifest), JSON.stringify(validate.errors?.slice(0, 3)));
    const card = manifest.modules.find(({ path }) => path === 'hive-card.js')!.declarations[0]!;
    assert.deepEqual(
      card['attributes']!.map(({ name, type, default: value }) => [name, type!.text, value]),
      [
        ['name', 'string', '""'],
        ['boxes', 'number', '1'],
        ['mood', "'calm' | 'busy' | 'swarming'", '"calm"'],
        ['compact', 'boolean', 'false'],
      ],
    );
    assert.deepEqual(card['events']![0]!.type, { text: 'CustomEvent<{ name: string }>' });
    for (const group of ['slots', 'cssParts', 'cssProperties']) assert.ok(card[group]!.length > 0, group);
    const note = manifest.modules.find(({ path }) => path === 'keeper-note.js')!.declarations[0]!;
    assert.equal(note['cssStates']![0]!.name, 'pinned');
  });

  it('has declarations for pages, React 19 and Preact, which reject mistakes', () => {
    const root = project({}, ['react', '@types/react', 'preact', 'csstype']);
    cpSync(out, join(root, 'node_modules/widgets'), { recursive: true });
    const check = (file: string, code: string, jsx: string): string => {
      writeFileSync(join(root, file), code);
      const { stdout } = spawnSync(
        process.execPath,
        // biome-ignore format: one option a pair.
        [join(repository, 'node_modules/typescript/bin/tsc'), '--noEmit', '--ignoreConfig', '--strict', '--exactOptionalPropertyTypes',
          '--target', 'es2022', '--module', 'nodenext', '--lib', 'es2024,dom,dom.iterable', '--types', '', '--jsx', 'react-jsx', '--jsxImportSource', jsx, file],
        { cwd: root, encoding: 'utf8' },
      );
      return stdout;
    };
    const page = `
      import { HiveCard, type Frame } from './node_modules/widgets/hive-card.js';
      const card = document.querySelector('hive-card')!;
      const frames: Frame[] = [{ id: 1, honey: 2, capped: true }];
      card.frames = frames; card.mood = 'busy'; card.boxes += 1; card.open();
      card.addEventListener('hive-open', event => event.detail.name.trim());
      card.addEventListener('click', event => event.clientX);
      HiveCard.define('my-card');
    `;
    assert.equal(check('page.ts', page, 'react'), '');
    assert.match(check('wrong.ts', page.replace("'busy'", "'cross'"), 'react'), /TS2322/);
    assert.match(check('wrong.ts', page.replace('detail.name', 'detail.nome'), 'react'), /TS\d+/);
    for (const host of ['react', 'preact']) {
      const view = (mood: string) => `
        import './node_modules/widgets/${host}.d.ts';
        export const view = <div>
          <hive-card name="Rosemary" mood="${mood}" boxes={2} compact frames={[{ id: 1, honey: 2, capped: false }]} onhive-open={event => event.detail.name.trim()} id="x">
            <b slot="badge">new</b>
          </hive-card>
          <weight-field label="Frame 3" value={2.5} name="weight" />
        </div>;`;
      assert.equal(check(`${host}.tsx`, view('calm').replace(' name="weight"', ''), host), '');
      assert.match(check(`${host}-wrong.tsx`, view('cross').replace(' name="weight"', ''), host), /TS2322/);
    }
  });

  it('can be published: publint and arethetypeswrong find nothing', async () => {
    const { messages } = await publint({ pkgDir: out, strict: true });
    assert.deepEqual(
      messages.filter(({ code }) => code !== 'USE_LICENSE').map(({ code, path }) => [code, path]),
      [],
    );
    const { stdout, status } = spawnSync(
      process.execPath,
      [
        join(repository, 'node_modules/@arethetypeswrong/cli/dist/index.js'),
        '--pack',
        out,
        '--profile',
        'esm-only',
        '--format',
        'ascii',
        '--exclude-entrypoints',
        './undefined.css',
      ],
      { encoding: 'utf8', cwd: temporary() },
    );
    assert.equal(status, 0, stdout);
  });

  it('has editor data, sizes, integrity, styles for undefined elements and a reference page', () => {
    const data = json('html-data.json') as {
      tags: { name: string; attributes: { name: string; values?: object[] }[] }[];
    };
    assert.deepEqual(
      data.tags.map(({ name }) => name).filter(name => /^(?:hive-card|honey|keeper|weight)/.test(name)),
      ['hive-card', 'honey-gauge', 'keeper-note', 'weight-field'],
    );
    assert.equal(
      data.tags.find(({ name }) => name === 'hive-card')!.attributes.find(({ name }) => name === 'mood')!.values!
        .length,
      3,
    );
    const sizes = json('sizes.json') as Record<string, { raw: number; brotli: number; loads: string[] }>;
    assert.equal(sizes['hive-card.js']!.raw, readFileSync(join(out, 'hive-card.js')).length);
    for (const file of sizes['hive-card.js']!.loads) assert.ok(file in sizes, file);
    const integrity = json('integrity.json') as Record<string, { integrity: string; script: string }>;
    const hash = createHash('sha384')
      .update(readFileSync(join(out, 'hive-card.js')))
      .digest('base64');
    assert.equal(integrity['hive-card.js']!.integrity, `sha384-${hash}`);
    assert.ok(integrity['hive-card.js']!.script.includes(hash));
    assert.match(read('undefined.css'), /is\(ask-dialog, frame-box, .*, yield-chart\):not\(:defined\)/);
    assert.match(
      read('REFERENCE.md'),
      /\| `mood` \| `mood` \| `'calm' \\\| 'busy' \\\| 'swarming'` \| `"calm"` \| How the bees are\. \|/,
    );
  });

  it('omits descriptions, messages, parser and unused kinds, and has source maps', () => {
    const code = readdirSync(out)
      .filter(file => file.endsWith('.js'))
      .map(read)
      .join('\n');
    for (const text of ['Painted on the front', 'Warning (', 'of the markup', 'tokenizer', 'doctype'])
      assert.ok(!code.includes(text), text);
    // `tokens` and `json` are not used by any widget.
    for (const text of ['InvalidCharacterError', 'is not expected at character']) assert.ok(!code.includes(text), text);
    const map = json('hive-card.js.map') as { sources: string[]; sourcesContent: string[] };
    const at = map.sources.findIndex(source => source.endsWith('src/elements/hive-card.ts'));
    assert.ok(map.sourcesContent[at]!.includes('Painted on the front'));
  });

  it('loads little for a small element, and none of what other elements share', () => {
    const sizes = json('sizes.json') as Record<string, { brotli: number; loads: string[] }>;
    const whole = (file: string): number =>
      sizes[file]!.loads.reduce((sum, other) => sum + sizes[other]!.brotli, sizes[file]!.brotli);
    assert.ok(whole('honey-gauge.js') < 2600, `${whole('honey-gauge.js')} B`);
    assert.ok(whole('keeper-note.js') > 9000, 'the others share a core');
  });
});
