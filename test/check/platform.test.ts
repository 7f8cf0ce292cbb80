/** Elements that were not made with Eltrix: what really is wrong is told, and nothing else. */
import assert from 'node:assert/strict';
import { before, describe, it } from 'node:test';
import { foundEngines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project } from '../support/project.ts';
import { platformElements } from './platform-elements.ts';

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
    const files: Record<string, string> = {};
    const modules = platformElements.map(({ tag, code, specimen, manifest = {}, with: others = [] }) => {
      files[`${tag}.js`] = code;
      files[`${tag}.specimen.html`] = `<template title="First">${specimen}</template>`;
      const declarations = [tag, ...others].map(name => ({
        kind: 'class',
        name: name.replaceAll('-', '_'),
        customElement: true,
        tagName: name,
        ...(name === tag ? manifest : {}),
      }));
      return { kind: 'javascript-module', path: `${tag}.js`, declarations };
    });
    files['custom-elements.json'] = JSON.stringify({ schemaVersion: '2.1.0', modules });
    const root = project(files);
    const all = platformElements.map(({ tag }) => tag);
    const { stdout, stderr } = eltrix(
      root,
      ...['check', '--manifest', 'custom-elements.json', '--module', all.map(tag => `${tag}.js`).join()],
      ...['--element', all.join(), '--in', engines.join(), '--json'],
    );
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
        const failed = found.engines[engine]!.filter(
          // innerHTML, with which most of them are written, is refused under the strictest policies.
          ({ rule, outcome }) => outcome === 'fails' && rule !== 'policy-kept',
        );
        // An engine in which nobody can ask for collection says nothing of it.
        const said = new Set(
          found.engines[engine]!.filter(({ outcome }) => outcome !== 'not-applicable').map(({ rule }) => rule),
        );
        assert.deepEqual(
          failed.map(({ rule }) => rule).sort(),
          breaks.filter(rule => said.has(rule)).sort(),
          `${engine}: ${JSON.stringify(failed, null, 1)}`,
        );
      }
    });
});
