/** The conformance suite: every rule's planted fault is caught, and by its own rule alone, in every engine. */
import assert from 'node:assert/strict';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { before, describe, it } from 'node:test';
import { ruleCodes } from '../../packages/eltrix-tool/src/check/report/rules.ts';
import { type EngineName, engines, foundEngines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project, repository } from '../support/project.ts';
import { faultProject, faults, tagOf } from './faults.ts';
import type { Report } from './report.ts';

describe('planted faults', { skip: foundEngines().length === 0 && 'no engine is installed' }, () => {
  it('exist for each rule, and each rule is documented', () => {
    // Pictures are compared apart: test/check/pictures.test.ts.
    assert.deepEqual([...Object.keys(faults), 'pictures'].sort(), [...ruleCodes].sort());
    const anchors = [...readFileSync(join(repository, 'docs/conformance.md'), 'utf8').matchAll(/^### (.+)$/gm)].map(
      ([, name]) => name!,
    );
    assert.deepEqual(
      ruleCodes.filter(code => !anchors.includes(code)),
      [],
    );
  });

  // All engines in one run, as `eltrix check` does it: the elements are bundled once.
  const found = foundEngines();
  let elements: Report['elements'];
  before(() => {
    const { status, stdout, stderr } = eltrix(
      project(faultProject()),
      'check',
      '--in',
      found.map(({ name }) => name).join(),
      '--json',
      '--timeout',
      '20000',
    );
    assert.deepEqual([status, stderr], [1, '']);
    ({ elements } = JSON.parse(stdout) as Report);
  });

  for (const engine of Object.keys(engines) as EngineName[]) {
    it(`each makes exactly its own rule fail in ${engine}`, t => {
      if (!engines[engine].find()) return t.skip(`${engine} is not here`);
      const seen: Record<string, string[]> = {};
      const expected: Record<string, string[]> = {};
      for (const [rule, { notIn = [] }] of Object.entries(faults)) {
        const results = elements.find(({ tag }) => tag === tagOf(rule))!.engines[engine]!;
        seen[rule] = results.filter(({ outcome }) => outcome === 'fails').map(({ rule }) => rule);
        expected[rule] = notIn.includes(engine) ? [] : [rule];
      }
      assert.deepEqual(seen, expected);
    });
  }
});

describe('a DOMException that an element reports', () => {
  it('is shown with its text', { skip: !engines.chromium.find() && 'no Chromium' }, () => {
    const root = project({
      'src/a.ts':
        "import { contract } from 'eltrix';\nexport class HiveCard extends contract('hive-card', {}) { connectedCallback() {} }\n",
    });
    const { stdout } = eltrix(root, 'check', '--in', 'chromium');
    assert.match(
      stdout,
      /seen +Uncaught InvalidStateError: \(super-forgotten\): <hive-card>: .*Name the method connected\(scope\)/,
    );
  });
});

describe('an element that hangs', () => {
  const element = (tag: string, name: string, connected: string) =>
    `import { contract, markup } from 'eltrix';\nexport class ${name} extends contract('${tag}', {}) { view() { return markup\`<p>One</p>\`; } connected() { ${connected} } }\n`;

  it('fails alone, and the check continues with the next element', () => {
    const root = project({
      'src/bee-hang.js': element('bee-hang', 'BeeHang', 'for (;;);'),
      'src/bee-zest.js': element('bee-zest', 'BeeZest', ''),
    });
    const names = foundEngines().map(({ name }) => name);
    const { stdout } = eltrix(root, 'check', '--in', names.join(), '--timeout', '8000', '--json');
    const { elements } = JSON.parse(stdout) as Report;
    for (const name of names) {
      const failing = elements.map(({ tag, engines }) => [
        tag,
        engines[name]!.filter(({ outcome }) => outcome === 'fails').map(({ rule }) => rule),
      ]);
      assert.deepEqual(
        failing,
        [
          ['bee-hang', ['page-runs']],
          ['bee-zest', []],
        ],
        name,
      );
    }
  });
});

describe('the report', () => {
  it('is one page with a matrix, failures and pictures', () => {
    const root = project({
      'src/bad-words.js':
        "import { contract, markup } from 'eltrix';\nexport class BadWords extends contract('bad-words', {}) { view() { return markup`<p>One</p>`; } connected() { console.log('here'); } }\n",
    });
    const { status, stdout } = eltrix(root, 'check', '--report', 'out/report.html');
    assert.equal(status, 1);
    assert.match(
      stdout,
      /src\/bad-words\.js finding \(console-quiet\): <bad-words>(?: in chromium)?\n {2}did .*\n {2}expected {2}nothing on the console\n {2}seen {6}console\.log: here/,
    );
    const page = readFileSync(join(root, 'out/report.html'), 'utf8');
    assert.ok(existsSync(join(root, 'out/report.html')));
    assert.match(page, /id="bad-words-console-quiet"/);
    for (const { name } of foundEngines())
      assert.match(page, new RegExp(`Default, in ${name}"[^>]*src="data:image/png;base64,`));
    assert.ok(!/(?:src|href)="https?:/.test(page), 'it needs nothing else');
  });

  it('explains an unknown rule or element', () => {
    const root = project({
      'src/bee-card.js':
        "import { contract } from 'eltrix';\nexport class BeeCard extends contract('bee-card', {}) {}\n",
    });
    const rule = eltrix(root, 'check', '--without', 'console-quite');
    assert.equal(rule.status, 2);
    assert.match(rule.stderr, /\(rule-unknown\): "console-quite" is not a rule\. Did you mean "console-quiet"\?/);
    assert.match(eltrix(root, 'check', '--element', 'bee-crad').stderr, /Did you mean <bee-card>\?/);
  });
});
