/** What differs between systems, as far as it can be tried on one: processes, names of programs, paths, lines. */
import assert from 'node:assert/strict';
import { spawn } from 'node:child_process';
import { win32 } from 'node:path';
import { describe, it } from 'node:test';
import {
  descendantsOf,
  fromPowershell,
  fromPs,
  runningProcesses,
} from '../../packages/eltrix-tool/src/project/processes.ts';
import { eltrix, project } from '../support/project.ts';

describe('processes', () => {
  it('are listed with their parents and arguments', async () => {
    const child = spawn(process.execPath, ['-e', 'setInterval(() => {}, 1000)', 'a mark)']);
    await new Promise(resolve => child.once('spawn', resolve));
    try {
      for (const platform of ['linux', 'darwin'] as const) {
        const found = runningProcesses(platform).find(({ pid }) => pid === child.pid);
        if (platform === 'darwin' && found === undefined) continue;
        assert.equal(found?.parent, process.pid);
        assert.match(found!.command, /a mark\)/);
      }
      assert.ok(descendantsOf(process.pid).includes(child.pid!));
    } finally {
      child.kill();
    }
  });

  it('are parsed from the output of ps and PowerShell', () => {
    assert.deepEqual(fromPs('    1     0 /sbin/launchd\n  501   1 /Applications/A B.app/x --profile=/tmp/p\n'), [
      { pid: 1, parent: 0, command: '/sbin/launchd' },
      { pid: 501, parent: 1, command: '/Applications/A B.app/x --profile=/tmp/p' },
    ]);
    const one = { ProcessId: 4, ParentProcessId: 0, CommandLine: null };
    const two = { ProcessId: 8, ParentProcessId: 4, CommandLine: 'C:\\chrome.exe --user-data-dir=C:\\Temp\\p' };
    assert.deepEqual(fromPowershell(JSON.stringify([one, two])), [
      { pid: 4, parent: 0, command: '' },
      { pid: 8, parent: 4, command: two.CommandLine },
    ]);
    assert.equal(fromPowershell(JSON.stringify(one)).length, 1);
    assert.deepEqual(fromPowershell(''), []);
    const tree = [1, 2, 3, 4].map(pid => ({ pid, parent: pid - 1, command: '' }));
    assert.deepEqual(descendantsOf(2, tree), [3, 4]);
  });
});

describe('sources', () => {
  const card = (tag: string, Class: string) => `import { contract, markup, text } from 'eltrix';
export class ${Class} extends contract('${tag}', { about: 'A card.', attributes: { name: text() } }) {
  view() { return markup\`<p>\${() => this.name}</p>\`; }
}
${Class}.define();
`;

  it('with CRLF have the same contract and positions', () => {
    const crlf = (text: string) => text.replaceAll('\n', '\r\n');
    const root = project({
      'src/a-card.js': crlf(card('a-card', 'ACard')),
      'page.html': crlf('<!doctype html>\n<title>A</title>\n<a-card nmae="x"></a-card>\n'),
    });
    assert.match(eltrix(root, 'describe').stdout, /a-card/);
    const { status, stdout } = eltrix(root, 'check', 'page.html');
    assert.equal(status, 1);
    assert.match(stdout, /^page\.html:3:9 finding \(attribute-unknown\)/m);
  });

  it('whose names differ only in case are two files on a case-sensitive file system', () => {
    const root = project({ 'src/a-card.js': card('a-card', 'ACard'), 'src/A-Card.js': card('b-card', 'BCard') });
    const { elements } = JSON.parse(eltrix(root, 'describe', '--json').stdout) as { elements?: { tag: string }[] };
    if (elements) assert.deepEqual(elements.map(({ tag }) => tag).sort(), ['a-card', 'b-card']);
  });

  it('on another drive have no relative path, so findings have none', () => {
    // relative() of two drives is absolute: what is shown then is the path as it is.
    assert.equal(win32.relative('C:\\project', 'D:\\shared\\a-card.ts'), 'D:\\shared\\a-card.ts');
    assert.equal(win32.relative('C:\\project', 'C:\\project\\src\\a-card.ts').replaceAll('\\', '/'), 'src/a-card.ts');
  });
});
