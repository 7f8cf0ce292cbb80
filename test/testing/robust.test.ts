/** Whatever a test does to its page: the right test is blamed, and the others run. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project } from '../support/project.ts';

const files = {
  'a.test.ts': `import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { stage } from 'eltrix-tool/testing';
describe('a suite', () => {
  it('is fine first', () => {});
  it('hangs', { timeout: 500 }, () => { for (;;); });
  it('is fine after a hang', () => {});
  it('goes away', async () => { location.href = '/elsewhere'; await new Promise(() => {}); });
  it('is fine after that', () => {});
  it('follows a link', async () => {
    const link = await stage<HTMLAnchorElement>('<a href="/elsewhere">x</a>');
    link.click();
    await new Promise(resolve => setTimeout(resolve, 2000));
  });
  it('sends a form', async () => {
    const form = await stage<HTMLFormElement>('<form method="get" action="/elsewhere"></form>');
    form.submit();
    await new Promise(resolve => setTimeout(resolve, 2000));
  });
  it('loads again', async () => { location.reload(); await new Promise(() => {}); });
  it('is fine after all of that', () => {});
  it('has a listener that throws', async () => {
    const button = await stage('<button>x</button>');
    button.addEventListener('click', () => { throw new TypeError('in a listener'); });
    button.click();
    assert.equal(1, 2);
  });
});
it('is fine at the end', () => {});
`,
  'broken.test.ts': "import { it } from 'node:test';\nit('x', () => {\n",
};

const outcomes = [
  'ok is fine first',
  'not ok hangs',
  'ok is fine after a hang',
  'not ok goes away',
  'ok is fine after that',
  'not ok follows a link',
  'not ok sends a form',
  'not ok loads again',
  'ok is fine after all of that',
  'not ok has a listener that throws',
  'ok is fine at the end',
];

describe('a test that harms its page', () => {
  for (const name of ['chromium', 'firefox', 'webkit'] as const)
    it(`is blamed for it, and no other is, in ${name}`, { skip: !engines[name].find() && `no ${name}` }, () => {
      const { status, stdout } = eltrix(project(files), 'test', '--in', name, '--report', 'tap', '--no-shuffle');
      assert.equal(status, 1);
      const seen = [...stdout.matchAll(/^ {8,}(not ok|ok) \d+ - (.*)$/gm)].map(([, how, test]) => `${how} ${test}`);
      assert.deepEqual(
        seen.filter(line => !line.endsWith(' a suite')),
        outcomes,
        stdout,
      );
      assert.match(stdout, /did not answer any more while "hangs" ran/);
      for (const test of ['goes away', 'follows a link', 'sends a form', 'loads again'])
        assert.ok(stdout.includes(`The page went to another address while "${test}" ran.`), test);
      // The error of the listener stands with the assertion that came after it.
      assert.match(stdout, /1 !== 2/);
      // A file that does not bundle fails alone.
      assert.match(stdout, /not ok \d+ - broken\.test\.ts/);
    });

  it('shows what is thrown or rejected, and explains modules of Node, in the simulated DOM', () => {
    const root = project({
      'a.test.ts': `import assert from 'node:assert/strict';
import fs, { readFileSync } from 'node:fs';
import { join } from 'path';
import { it } from 'node:test';
it('reads a file', () => { readFileSync('package.json'); });
it('reads it otherwise', () => { fs.readFileSync('package.json'); });
it('joins', () => { join('a', 'b'); });
it('throws an object', () => { throw { a: 1 }; });
it('forgets to await', async () => { void assert.rejects(async () => {}); });
it('takes a callback and returns a promise', async (t, done) => { setTimeout(done, 1); });
it('goes on', () => {});
`,
    });
    const { stdout } = eltrix(root, 'test', '--in', 'simulated', '--no-shuffle');
    for (const text of [
      /✖ reads a file[^]*\(node-module\): "readFileSync" is of node:fs, which only Node has[^]*a\.test\.ts:5/,
      /✖ reads it otherwise[^]*\(node-module\): "readFileSync" is of node:fs/,
      /✖ joins[^]*\(node-module\): "join" is of path/,
      /✖ throws an object[^]*\{ a: 1 \} was thrown/,
      /✖ takes a callback and returns a promise[^]*passed a callback but also returned a Promise/,
      /✔ goes on/,
      /uncaught after a test had ended: \[AssertionError: Missing expected rejection\.\]/,
    ])
      assert.match(stdout, text);
  });

  it('shows uncaught errors beside the assertion that failed after them', {
    skip: !engines.chromium.find() && 'no Chromium',
  }, () => {
    const root = project({ 'a.test.ts': files['a.test.ts'] });
    const { stdout } = eltrix(root, 'test', '--in', 'chromium', '--match', 'listener');
    assert.match(stdout, /1 !== 2[^]*Uncaught before it:\n +TypeError: in a listener[^]*a\.test\.ts:24/);
  });
});
