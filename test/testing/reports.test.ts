/** What `eltrix test` reports, and how runs are split, repeated and put together. */
import assert from 'node:assert/strict';
import { execFile } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { describe, it } from 'node:test';
import { promisify } from 'node:util';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project, tool } from '../support/project.ts';

const files = {
  'a.test.ts': `import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
describe('group', () => {
  it('passes', () => {});
  describe('inner', () => { it('fails', () => { assert.equal(1, 2); }); });
});`,
  'b.test.ts': `import { it } from 'node:test';
it('is slow', async () => { await new Promise(resolve => setTimeout(resolve, 1100)); });
it.skip('is skipped', () => {});`,
};

/** The figures at the end of a TAP report. */
function figures(tap: string): Record<string, number> {
  return Object.fromEntries([...tap.matchAll(/^# ([a-z]+) (\d+)$/gm)].map(([, name, count]) => [name, Number(count)]));
}

describe('reports', { skip: !engines.chromium.find() && 'no Chromium' }, () => {
  it('count tests and suites, with times and the slowest tests', () => {
    const { status, stdout } = eltrix(project(files), 'test', '--in', 'chromium', '--report', 'tap');
    assert.equal(status, 1);
    assert.deepEqual(figures(stdout), { tests: 4, suites: 2, pass: 2, fail: 1, cancelled: 0, skipped: 1, todo: 0 });
    const [, slow] = /ok \d+ - is slow\n\s+---\n\s+duration_ms: ([\d.]+)/.exec(stdout)!;
    assert.ok(Number(slow) >= 1100 && Number(slow) < 4000, slow);
    assert.match(stdout, /^# slow: \d{4} ms is slow$/m);
    assert.doesNotMatch(stdout, /report\.ts/);
  });

  it('can be written to several files; JUnit has each test directly in a suite', () => {
    const root = project({
      ...files,
      'mine.mjs': `export default async function* (source) {
  for await (const { type, data } of source) if (type === 'test:fail' && data.details.type === 'test') yield data.name + '\\n';
}`,
    });
    const args = ['--report', 'junit=out/j.xml', '--report', './mine.mjs=out/mine.txt', '--report', 'dot'];
    assert.equal(eltrix(root, 'test', '--in', 'chromium', ...args).status, 1);
    const xml = readFileSync(join(root, 'out/j.xml'), 'utf8');
    assert.equal(xml.match(/<testsuite /g)?.length, 2);
    assert.match(xml, /\t\t<testcase name="group (?:>|&gt;) inner (?:>|&gt;) fails"/);
    assert.match(xml, /<testsuite name="Chrome [\d.]+: a\.test\.ts" [^>]*tests="2" failures="1" skipped="0"/);
    assert.equal(readFileSync(join(root, 'out/mine.txt'), 'utf8'), 'fails\n');
  });

  it('name the engine of a failure if there are several', () => {
    const root = project({ 'a.test.ts': files['a.test.ts'] }, ['jsdom']);
    const { stdout, stderr } = eltrix(root, 'test', '--in', 'chromium,simulated', '--report', 'spec');
    const failing = stdout.slice(stdout.indexOf('failing tests:'));
    assert.match(failing, /✖ fails \[Chrome [\d.]+\]/, stderr);
    assert.match(failing, /✖ fails \[.*jsdom.*\]/i);
  });

  it('report a test as flaky if it passes on retry', async () => {
    let asked = 0;
    const server = createServer((_, response) => {
      response.setHeader('access-control-allow-origin', '*').end(String(++asked));
    });
    await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve));
    const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/`;
    const root = project({
      'f.test.ts': `import assert from 'node:assert/strict';
import { it } from 'node:test';
it('is early', async () => { assert.ok(Number(await (await fetch('${address}')).text()) > 1, 'too early'); });
it('is fine', () => {});`,
    });
    const args = ['test', '--in', 'chromium', '--report', 'tap', '--retry', '2'];
    const { stdout } = await promisify(execFile)(process.execPath, [tool, ...args], { cwd: root }).finally(() =>
      server.close(),
    );
    assert.match(stdout, /# flaky: passed at attempt 2\. Before: too early/);
    assert.deepEqual([figures(stdout)['pass'], figures(stdout)['fail']], [2, 0]);
  });

  it('are merged from several machines', () => {
    const root = project(files);
    for (const part of [1, 2])
      eltrix(root, 'test', '--in', 'chromium', '--shard', `${part}/2`, '--report', `events=r/${part}.jsonl`);
    const { status, stdout } = eltrix(root, 'test', '--merge', 'r/*.jsonl', '--report', 'tap');
    assert.equal(status, 1);
    assert.deepEqual(figures(stdout), { tests: 4, suites: 2, pass: 2, fail: 1, cancelled: 0, skipped: 1, todo: 0 });
    assert.equal(stdout.match(/^# Subtest: Chrome/gm)?.length, 1);
  });

  it('end at the first failure with --bail', () => {
    const args = ['--in', 'chromium', '--report', 'tap', '--bail', '--no-shuffle'];
    const unloaded = `await new Promise(resolve => setTimeout(resolve, 20_000));\n${files['b.test.ts']}`;
    for (const other of [files['b.test.ts'], unloaded]) {
      const { status, stdout } = eltrix(project({ ...files, 'b.test.ts': other }), 'test', ...args);
      assert.equal(status, 1);
      assert.equal(figures(stdout)['fail'], 1, stdout);
    }
  });

  for (const name of ['chromium', 'firefox', 'webkit'] as const)
    it(`blame the test that opens a dialog or closes the page, and run the others, in ${name}`, {
      skip: !engines[name].find() && `no ${name}`,
    }, () => {
      const root = project({
        'p.test.ts': `import assert from 'node:assert/strict';
import { it } from 'node:test';
it('alerts', () => { alert('x'); });
it('fine 1', () => {});
it('closes', () => { window.close(); });
it('fine 2', t => { t.mock.method(window, 'confirm', () => true); assert.equal(confirm('x'), true); });
`,
      });
      const { stdout } = eltrix(root, 'test', '--in', name, '--report', 'tap', '--no-shuffle');
      const outcome = [...stdout.matchAll(/^ +(not ok|ok) \d+ - (alerts|closes|fine \d)/gm)].map(
        ([, how, test]) => `${test}: ${how}`,
      );
      assert.deepEqual(outcome, ['alerts: not ok', 'fine 1: ok', 'closes: not ok', 'fine 2: ok']);
      assert.match(stdout, /\(page-stopped\): alert\(\) waits for an answer/);
    });

  it('list tests without running them', () => {
    const { status, stdout } = eltrix(project(files), 'test', '--in', 'chromium', '--list');
    assert.equal(status, 0);
    assert.match(
      stdout,
      /a\.test\.ts\n +\d+ +group > passes\n +\d+ +group > inner > fails\nb\.test\.ts[^]*\n4 tests in 2 files\.\n$/,
    );
  });

  it('explain wrong usage', () => {
    const root = project({ ...files, 'bad.jsonl': '{}' });
    const cases: [string[], RegExp][] = [
      [['--report', 'what'], /"what" is not a reporter\. Reporters are spec, tap, dot, junit/],
      [['--report', './none.js'], /\.\/none\.js cannot be loaded/],
      [['--report', 'tap', '--report', 'spec'], /write to the terminal\. Give one a file: --report spec=report\.txt/],
      [['--report', 'events'], /Name a file: --report events=/],
      [['--shard', '3/2'], /for example --shard 2\/5/],
      [['--require', 'opera'], /"opera" is not an engine/],
      [['--merge', 'bad.jsonl'], /bad\.jsonl is no record of a test run/],
      [['--merge', 'none/*'], /No file matches none/],
    ];
    for (const [args, expected] of cases) {
      const { status, stderr } = eltrix(root, 'test', ...args);
      assert.equal(status, 2, args.join(' '));
      assert.match(stderr, expected);
    }
  });
});
