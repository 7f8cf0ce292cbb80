/** Tests in pages run and end as they do under Node: random programs of suites, tests and hooks. */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { it } from 'node:test';
import { eltrix, project } from '../../support/project.ts';
import { random, seed } from '../../support/random.ts';

const programs = 80;

/** A suite of suites, tests, subtests and hooks, some of which throw; each says when it runs. */
function program(next: (below: number) => number): string {
  let count = 0;
  const oneOf = <T>(...list: readonly T[]) => list[next(list.length)]!;
  const hook = (kind: string) => {
    const name = `${kind} ${++count}`;
    // Where afterEach() throws, Node leaves out those of the suites around.
    const end = kind !== 'afterEach' && next(9) === 0 ? ` throw new Error('${name}');` : '';
    return `${kind}(${oneOf('', 'async ')}() => { log('${name}');${end} });`;
  };
  const test = (depth: number, call: string): string => {
    const id = ++count;
    const body = [`log('test ${id}');`];
    if (next(5) === 0) body.push(`t.${oneOf('after', 'beforeEach', 'afterEach')}(() => log('own ${id}'));`);
    if (next(12) === 0) body.push("t.todo('late');");
    if (depth < 2 && next(4) === 0)
      for (let inner = next(2); inner >= 0; inner--) body.push(test(depth + 1, 'await t.test'));
    if (next(6) === 0) body.push(`throw new Error('test ${id}');`);
    const options =
      next(4) === 0 ? oneOf(', { skip: true }', ", { skip: 'why' }", ', { todo: true }', ', { timeout: 9e4 }') : '';
    if (next(9) === 0)
      return `${call}('t${id}'${options}, ${next(4) === 0 ? 'async ' : ''}(t, done) => { log('test ${id}'); setTimeout(done, 0, ${oneOf('', "new Error('done')")}); });`;
    return `${call}('t${id}'${options}, async t => { ${body.join(' ')} });`;
  };
  const suite = (depth: number): string => {
    const id = ++count;
    const lines = ['before', 'after', 'beforeEach', 'afterEach'].filter(() => next(4) === 0).map(hook);
    for (let k = next(4); k >= 0; k--)
      lines.push(depth < 2 && next(4) === 0 ? suite(depth + 1) : test(1, oneOf('it', 'test')));
    return `${oneOf('describe', 'suite')}('s${id}'${next(14) === 0 ? ', { skip: true }' : ''}, () => {\n${lines.join('\n')}\n});`;
  };
  return suite(0);
}

/** By program: what ended how, in order, and what ran, in order. */
function told(tap: string): Map<string, { outcomes: string[]; ran: string }> {
  const all = new Map<string, string[]>();
  let outcomes: string[] = [];
  const ran = new Map<string, string>();
  for (const line of tap.split('\n')) {
    const [, which, what] = /RAN (\d+): (.*)$/.exec(line) ?? [];
    if (which) ran.set(which, what!.trim());
    const [, outcome, name, rest] = /^\s*(ok|not ok) \d+ - ((?:program |t|s)\d+)(.*)$/.exec(line) ?? [];
    if (!name) continue;
    // What is skipped in a suite that could not begin has failed for Node.
    outcomes.push(`${rest!.includes('# SKIP') ? 'skipped' : outcome} ${name}${rest!.trimEnd()}`);
    const [, done] = /^program (\d+)/.exec(name) ?? [];
    if (!done) continue;
    all.set(done, outcomes);
    outcomes = [];
  }
  return new Map([...all].map(([which, outcomes]) => [which, { outcomes, ran: ran.get(which) ?? '' }]));
}

// Later ones tell subtests of what is to do as such themselves.
const otherNode = !process.version.startsWith('v20.') && 'Node 20 is what it is compared with';

it(`${programs} random programs of tests run and end as under Node`, { skip: otherNode }, () => {
  const parts = Array.from({ length: programs }, (_, i) => {
    const code = program(random(seed + i));
    return `describe('program ${i}', () => {
before(() => { ran.length = 0; });
after(() => console.log('RAN ${i}: ' + ran.join(', ')));
${code}
});`;
  });
  const root = project({
    'src/a.test.js': `import { describe, suite, it, test, before, after, beforeEach, afterEach } from 'node:test';
const ran = [];
const log = text => void ran.push(text);
${parts.join('\n')}`,
  });
  const { stdout } = spawnSync(process.execPath, ['--test', '--test-reporter=tap', join(root, 'src/a.test.js')], {
    encoding: 'utf8',
    env: { ...process.env, NODE_TEST_CONTEXT: undefined },
  });
  const [expected, seen] = [
    told(stdout),
    told(eltrix(root, 'test', '--in', 'simulated', '--no-shuffle', '--no-clean', '--report', 'tap').stdout),
  ];
  assert.equal(expected.size, programs);
  for (const [which, of] of expected)
    assert.deepEqual(seen.get(which), of, `ELTRIX_SEED=${seed}\n${parts[Number(which)]}`);
});
