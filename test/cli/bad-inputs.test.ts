/** Every bad input gets an answer, and so does a fault of the tool itself. ELTRIX_BAD_INPUTS=all tries all of them, else a part that the seed chooses. */
import assert from 'node:assert/strict';
import { spawn } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { dirname, join } from 'node:path';
import { describe, it } from 'node:test';
import { complainOf } from '../../packages/eltrix-tool/src/cli/output.ts';
import { project, repository, tool } from '../support/project.ts';
import { random, seed } from '../support/random.ts';
import { type BadInput, badInputs, card } from './bad-inputs.ts';

/** No answer is longer, in characters. */
const limit = 4000;
const next = random(seed);
const chosen = process.env['ELTRIX_BAD_INPUTS'] === 'all' ? badInputs : badInputs.filter(() => next(4) === 0);

function run({ files, args, input = '' }: BadInput) {
  const root = project({});
  for (const [name, content] of Object.entries(files)) {
    mkdirSync(dirname(join(root, name)), { recursive: true });
    writeFileSync(join(root, name), content);
  }
  return new Promise<{ code: number | null; text: string; root: string }>(resolve => {
    const child = spawn(process.execPath, [tool, ...args], { cwd: root });
    const late = setTimeout(() => child.kill('SIGKILL'), 60_000);
    let text = '';
    child.stdout.on('data', data => (text += data));
    child.stderr.on('data', data => (text += data));
    child.on('close', code => {
      clearTimeout(late);
      resolve({ code, text, root });
    });
    child.stdin.on('error', () => {});
    child.stdin.end(input);
  });
}

describe(`bad input is answered with what is wrong and what to type (${badInputs.length} inputs)`, {
  concurrency: availableParallelism(),
}, () => {
  for (const one of chosen)
    it(one.name, async () => {
      const { code, text, root } = await run(one);
      const what = `${one.args.join(' ')} ended with ${code} and said:\n${text}`;
      assert.ok(code === 1 || code === 2, what);
      assert.match(text, one.says, what);
      assert.ok(text.length <= limit, `${text.length} characters: ${what.slice(0, 500)}`);
      // Nothing of the tool's own insides, and of no machine.
      assert.doesNotMatch(text, /^\s+at .*(?:node:|eltrix-tool\/|node_modules\/)/m, what);
      assert.ok(!text.includes(repository) && !text.includes(root), what);
      assert.doesNotMatch(text, /virtual:|\0|\u001b|ERR_[A-Z_]+|\[object |undefined|UNHANDLEABLE|panick/, what);
    });
});

describe('independent of the input', () => {
  it('the reader of the output may close the pipe', async () => {
    const root = project({ 'src/a.ts': `${card}` });
    const child = spawn('sh', ['-c', `"${process.execPath}" "${tool}" describe --json | head -c 5`], { cwd: root });
    let text = '';
    child.stdout.on('data', data => (text += data));
    child.stderr.on('data', data => (text += data));
    const code = await new Promise(resolve => child.on('close', resolve));
    assert.deepEqual([code, text], [0, '[\n  {']);
  });

  it('a fault of the tool exits with 70 and asks for a report', () => {
    const said: string[] = [];
    const output = {
      print() {},
      write() {},
      colours: false,
      progress: false,
      complain: (text: string) => void said.push(text),
    };
    assert.equal(complainOf(new TypeError('x is not a function'), output), 70);
    assert.match(
      said.join(),
      /^eltrix fault \(internal\): x is not a function\nThis is a fault of eltrix-tool \d+\.\d+\.\d+, not of your files\. Please report it/,
    );
  });
});
