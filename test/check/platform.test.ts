/** Elements that were not made with Eltrix: what really is wrong is told, and nothing else. */
import assert from 'node:assert/strict';
import { before, describe, it } from 'node:test';
import { foundEngines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project } from '../support/project.ts';
import { brokenAndLabelled, platformElements, platformProject } from './platform-elements.ts';

interface Checked {
  readonly elements: readonly {
    readonly tag: string;
    readonly engines: Readonly<
      Record<string, readonly { rule: string; outcome: string; failures?: readonly object[] }[]>
    >;
  }[];
}

const engines = (process.env['ELTRIX_PLATFORM_ENGINES'] ?? foundEngines()[0]?.name ?? '').split(',');

describe('the conformance of hand-written elements', { skip: engines[0] === '' && 'no engine' }, () => {
  let checked: Checked;
  before(() => {
    const { files, options } = platformProject();
    const { stdout, stderr } = eltrix(project(files), 'check', ...options, '--in', engines.join(), '--json');
    assert.equal(stderr, '');
    checked = JSON.parse(stdout) as Checked;
  });
  it('can be printed as SARIF', () => {
    const bad = platformElements.find(({ tag }) => tag === 'd-log')!;
    const manifest = { modules: [{ declarations: [{ customElement: true, tagName: bad.tag }] }] };
    const root = project({ 'a.js': bad.code, 'm.json': JSON.stringify(manifest) });
    const { stdout, status } = eltrix(
      root,
      ...['check', '--manifest', 'm.json', '--module', 'a.js', '--in', engines[0]!, '--sarif'],
    );
    assert.equal(status, 1);
    const { runs } = JSON.parse(stdout) as {
      runs: [
        {
          tool: { driver: { rules: { id: string; helpUri?: string }[] } };
          results: { ruleId: string; message: { text: string } }[];
        },
      ];
    };
    assert.ok(runs[0].tool.driver.rules.every(({ helpUri }) => helpUri === undefined));
    const said = runs[0].results.find(({ ruleId }) => ruleId === 'console-quiet');
    assert.match(said!.message.text, /<d-log> in \w+: .* Seen: console\.log: here\. Fix: /);
  });

  for (const { tag, breaks } of platformElements)
    it(`<${tag}> ${breaks.length > 0 ? `breaks ${breaks.join(' and ')}` : 'breaks nothing'}`, () => {
      const found = checked.elements.find(element => element.tag === tag)!;
      for (const engine of engines) {
        const rules = found.engines[engine]!;
        const [broken, labelled] = brokenAndLabelled(tag, rules);
        assert.deepEqual(broken, labelled, `${engine}: ${JSON.stringify(rules, null, 1)}`);
      }
    });
});
