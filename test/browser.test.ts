/** The library's own tests in pages, run by `eltrix test` as its users run theirs: as written, compiled first, and as shipped. */
import assert from 'node:assert/strict';
import { spawn } from 'node:child_process';
import { describe, it } from 'node:test';
import { engines, foundEngines } from '../packages/eltrix-tool/src/engines/index.ts';
import { repository, tool } from './support/project.ts';

const found = foundEngines();
const missing = Object.values(engines).filter(engine => !found.includes(engine));
/** What the three engines are taken to run at least, in each mode. */
const least = 120;

describe('in the page', () => {
  for (const mode of ['as written', 'compiled', 'production'] as const) {
    // What is shipped differs in the library alone: one engine tells.
    const used = mode === 'production' ? found.slice(0, 1) : found;
    it(mode, { skip: found.length === 0 && 'no engine is installed' }, async t => {
      for (const { name, install } of missing) t.diagnostic(`${name} is not installed. ${install}`);
      // ELTRIX_SEED=… tries another order.
      const seed = process.env['ELTRIX_SEED'] ?? '604063';
      const args = [
        'test',
        'test/pages',
        '--report',
        'tap',
        // Beside other tests an engine may be slow.
        '--timeout',
        '60000',
        '--shuffle',
        seed,
        ...(mode === 'as written' ? [] : [`--${mode}`]),
        '--in',
        used.map(({ name }) => name).join(),
      ];
      const { code, text } = await new Promise<{ code: number | null; text: string }>(resolve => {
        const child = spawn(process.execPath, [tool, ...args], { cwd: repository });
        let text = '';
        child.stdout.on('data', data => (text += data));
        child.stderr.on('data', data => (text += data));
        child.on('close', code => resolve({ code, text }));
      });
      const failures = text
        .split('\n')
        .flatMap((line, i, all) => (/^\s*not ok/.test(line) ? [all.slice(i, i + 12).join('\n')] : []));
      assert.equal(
        code,
        0,
        `--shuffle ${seed}\n${failures.join('\n')}\n${failures.length === 0 ? text.slice(-2000) : ''}`,
      );
      const passed = Number(/^# pass (\d+)$/m.exec(text)?.[1]);
      t.diagnostic(`${passed} passed in ${used.map(({ name }) => name).join(', ')}, --shuffle ${seed}`);
      assert.ok(passed > least * used.length, `only ${passed} tests ran`);
    });
  }
});
