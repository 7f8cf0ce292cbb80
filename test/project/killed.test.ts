/** Nothing of a run that was killed goes on: no browser, no profile, no temporary folder. */
import assert from 'node:assert/strict';
import { spawn } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { describe, it } from 'node:test';
import { setTimeout as pause } from 'node:timers/promises';
import { foundEngines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { project, temporary, tool } from '../support/project.ts';

/** The processes that were started with a temporary folder of their own. */
function processesWith(folder: string): string[] {
  return readdirSync('/proc').filter(pid => {
    if (!/^\d+$/.test(pid)) return false;
    try {
      return readFileSync(`/proc/${pid}/environ`, 'utf8').includes(`TMPDIR=${folder}\0`);
    } catch {
      return false;
    }
  });
}

async function until(condition: () => boolean, what: () => string): Promise<void> {
  for (const end = performance.now() + 20_000; !condition(); await pause(50))
    if (performance.now() > end) throw new Error(what());
}

describe('a run that is killed leaves nothing behind', {
  skip: process.platform !== 'linux' && 'it looks into /proc',
}, () => {
  const root = project({
    'src/hang.test.ts':
      "import { it } from 'node:test';\nit('hangs', async () => { console.log('waits'); await new Promise(() => {}); });",
    // A contract that is not written out is loaded to be known.
    'src/a.ts':
      "import { contract } from 'eltrix';\nconst more = {};\nexport class HiveCard extends contract('hive-card', more) {}\nawait new Promise(resolve => setTimeout(resolve, 5000));",
  });
  const cases: Record<string, readonly [args: string[], enough: number]> = {
    'while it loads modules': [['build', '--no-look'], 2],
  };
  // The tool, its guard, and a browser with some processes.
  for (const { name } of foundEngines()) cases[`in ${name}`] = [['test', '--in', name, '--timeout', '60000'], 5];
  for (const [what, [args, enough]] of Object.entries(cases))
    for (const signal of ['SIGKILL', 'SIGTERM'] as const)
      it(`${what}, by ${signal}`, async () => {
        const TMPDIR = temporary();
        const child = spawn(process.execPath, [tool, ...args], {
          cwd: root,
          env: { ...process.env, TMPDIR },
          stdio: 'ignore',
        });
        const ended = new Promise(resolve => child.once('exit', resolve));
        const ours = () => readdirSync(TMPDIR).filter(name => name.startsWith('eltrix-'));
        await until(
          () => processesWith(TMPDIR).length >= enough && (what === 'in webkit' || ours().length > 0),
          () => `It did not begin: ${ours()}, ${processesWith(TMPDIR).length} processes`,
        );
        child.kill(signal);
        await ended;
        await until(
          () => ours().length === 0 && processesWith(TMPDIR).length === 0,
          () =>
            `There is left: ${ours()}, and ${processesWith(TMPDIR).map(pid => readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ').slice(0, 150))}`,
        );
        assert.ok(true);
      });
});
