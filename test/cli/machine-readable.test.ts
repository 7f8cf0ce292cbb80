/** What the tool writes for other programs is read by independent readers of each format. */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { before, describe, it } from 'node:test';
import lcovParser from '@friedemannsommer/lcov-parser';
import { eachMapping, TraceMap } from '@jridgewell/trace-mapping';
import { JSDOM } from 'jsdom';
import { parse as junit } from 'junit2json';
import { SourceMapConsumer } from 'source-map-js';
import { Parser as TapParser } from 'tap-parser';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project, repository } from '../support/project.ts';

/** The second reader of lcov has no types. */
const lcovParse = createRequire(import.meta.url)('lcov-parse') as (
  text: string,
  done: (
    error: unknown,
    found: { file: string; lines: { found: number; hit: number }; branches: { found: number } }[],
  ) => void,
) => void;

const root = project({
  'src/bee-card.ts': `import { contract, event, flag, markup, text } from 'eltrix';
export class BeeCard extends contract('bee-card', { attributes: { name: text(), loud: flag() }, events: { 'bee-never': event() } }) {
  connected() { console.log('a "quoted" <line> & more\\n\\u001b[31mred'); }
  view() { return markup\`<p>\${() => (this.loud ? this.name.toUpperCase() : this.name)}</p>\`; }
}
`,
  'src/bee-card.test.ts': `import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { stage } from 'eltrix-tool/testing';
import { BeeCard } from './bee-card.ts';
BeeCard.define();
describe('a suite with <signs> & "quotes"', () => {
  it('passes', async () => { assert.equal((await stage('<bee-card name="x"></bee-card>')).textContent, ''); });
  describe('inside', () => {
    it('fails # with a hash', () => { console.log('said ]]> here \\u0007'); assert.equal('a\\nb', 'a\\nc'); });
    it('is skipped', { skip: 'why not' }, () => {});
  });
  it.todo('later');
});
it('at the top', () => {});
`,
  'page.html': '<bee-card nmae="ü" loud="false"></bee-card>\n<bee-crad></bee-crad>\n',
});

/** Whether TypeScript accepts the JSON as a literal of a type: names, types, enumerations, required fields. */
function isTyped(json: string, type: string, from: string): string {
  writeFileSync(
    join(root, 'typed.ts'),
    `import type { ${type} } from '${from}';\nexport const value: ${type} = ${json};\n`,
  );
  const tsc = join(repository, 'node_modules/typescript/bin/tsc');
  // biome-ignore format: one option a pair.
  const args = [tsc, '--noEmit', '--ignoreConfig', '--strict', '--skipLibCheck', '--module', 'nodenext', '--types', '', '--typeRoots', join(repository, 'node_modules/@types'), 'typed.ts'];
  return spawnSync(process.execPath, args, { cwd: root, encoding: 'utf8' }).stdout;
}

describe('SARIF 2.1.0', () => {
  const logs: [what: string, args: string[]][] = [['pages', ['check', 'page.html', '--sarif']]];
  if (engines.chromium.find()) logs.push(['elements', ['check', '--in', 'chromium', '--sarif']]);
  for (const [what, args] of logs)
    it(`of ${what} has the types of two descriptions of the standard, and positions in its files`, () => {
      const { stdout } = eltrix(root, ...args);
      for (const [type, from] of [
        ['Log', join(repository, 'node_modules/@types/sarif/index.d.ts')],
        [
          'StaticAnalysisResultsFormatSARIFVersion210JSONSchema',
          join(repository, 'node_modules/@schemastore/sarif-2.1.0/index.d.ts'),
        ],
      ] as const)
        assert.equal(isTyped(stdout, type, from), '', from);
      const { runs } = JSON.parse(stdout) as {
        runs: { results: { locations: { physicalLocation: { artifactLocation: { uri: string } } }[] }[] }[];
      };
      assert.ok(runs[0]!.results.length >= 2, stdout);
      for (const { locations } of runs[0]!.results)
        for (const { physicalLocation } of locations)
          assert.ok(readFileSync(join(root, physicalLocation.artifactLocation.uri), 'utf8'));
    });
});

describe('reports of tests', () => {
  const report = (kind: string) => eltrix(root, 'test', '--in', 'simulated', '--report', kind, '--no-shuffle').stdout;

  it('JUnit is XML, with the tests, failures and skipped tests that another reader finds', async () => {
    const text = report('junit');
    const { window } = new JSDOM();
    const page = new window.DOMParser().parseFromString(text, 'application/xml');
    const count = (selector: string) => page.querySelectorAll(selector).length;
    assert.deepEqual([count('testcase'), count('failure'), count('skipped')], [5, 1, 2], text);
    const read = (await junit(text)) as unknown as { testsuite: readonly { testcase?: readonly object[] }[] };
    const suite = 'a suite with <signs> & "quotes"';
    const cases = read.testsuite.flatMap(({ testcase = [] }) => testcase) as {
      name: string;
      failure?: object[];
      skipped?: object[];
    }[];
    assert.deepEqual(
      cases.map(({ name, failure, skipped }) => `${name}${failure ? ' fails' : ''}${skipped ? ' skipped' : ''}`).sort(),
      [
        `${suite} > inside > fails # with a hash fails`,
        `${suite} > inside > is skipped skipped`,
        `${suite} > later skipped`,
        `${suite} > passes`,
        'at the top',
      ],
    );
  });

  it('TAP has the plan, the outcomes and the directives', () => {
    const ended: string[] = [];
    const listen = (parser: TapParser) => {
      parser.on('child', listen);
      parser.on('assert', ({ ok, name, skip, todo }) =>
        ended.push(`${ok ? 'ok' : 'not ok'} ${name}${skip ? ' SKIP' : ''}${todo ? ' TODO' : ''}`),
      );
    };
    const parser = new TapParser();
    listen(parser);
    let results: { ok: boolean; failures: unknown[] } | undefined;
    parser.on('complete', found => (results = found as never));
    parser.end(report('tap'));
    assert.equal(results?.ok, false);
    for (const line of [
      'ok passes',
      'not ok fails # with a hash',
      'ok is skipped SKIP',
      'ok later TODO',
      'ok at the top',
    ])
      assert.ok(ended.includes(line), `${line}: ${ended.join('\n')}`);
  });

  it('lcov has the same lines and hits for two readers', {
    skip: !engines.chromium.find() && 'no Chromium',
  }, async () => {
    eltrix(root, 'test', '--in', 'chromium', '--coverage', '--report', 'dot');
    const text = readFileSync(join(root, 'coverage/lcov.info'), 'utf8');
    const [one] = await lcovParser({ from: text });
    const [other] = await new Promise<Parameters<Parameters<typeof lcovParse>[1]>[1]>((resolve, reject) =>
      lcovParse(text, (error, found) => (error ? reject(error) : resolve(found))),
    );
    assert.deepEqual(
      [one!.path, one!.lines.instrumented, one!.lines.hit, one!.branches.instrumented],
      [other!.file, other!.lines.found, other!.lines.hit, other!.branches.found],
    );
    assert.ok(one!.lines.hit > 2 && one!.branches.instrumented >= 1, text);
  });
});

describe('source maps of a build', () => {
  before(() => assert.equal(eltrix(root, 'build', '--no-look').status, 0));

  it('lead from every mapped position to one inside a source, for two readers', () => {
    let mappings = 0;
    for (const name of readdirSync(join(root, 'dist')).filter(name => name.endsWith('.js.map'))) {
      const text = readFileSync(join(root, 'dist', name), 'utf8');
      const lines = readFileSync(join(root, 'dist', name.replace(/\.map$/, '')), 'utf8').split('\n');
      const { sources, sourcesContent } = JSON.parse(text) as { sources: string[]; sourcesContent: string[] };
      const contents = sourcesContent.map(content => content.split('\n'));
      const check = (source: string | null, line: number | null, column: number | null, at: string) => {
        if (source === null) return;
        const content =
          contents[sources.findIndex(one => one === source || source.endsWith(one.replace(/^(?:\.\.?\/)+/, '')))];
        assert.ok(
          content && line !== null && column !== null && column <= (content[line - 1]?.length ?? -1),
          `${name} ${at}`,
        );
        mappings++;
      };
      eachMapping(new TraceMap(text), mapping => {
        assert.ok(mapping.generatedColumn <= lines[mapping.generatedLine - 1]!.length);
        check(
          mapping.source,
          mapping.originalLine,
          mapping.originalColumn,
          `${mapping.generatedLine}:${mapping.generatedColumn}`,
        );
      });
      new SourceMapConsumer(JSON.parse(text)).eachMapping(mapping =>
        check(
          mapping.source,
          mapping.originalLine,
          mapping.originalColumn,
          `${mapping.generatedLine}:${mapping.generatedColumn}`,
        ),
      );
    }
    assert.ok(mappings > 200, String(mappings));
  });
});
