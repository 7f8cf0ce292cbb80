/** What `eltrix build` may replace and remove, and what is there when it is killed. ELTRIX_KILLS says how often it is. */
import assert from 'node:assert/strict';
import { spawn } from 'node:child_process';
import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import { describe, it } from 'node:test';
import { setTimeout as pause } from 'node:timers/promises';
import { eltrix, project, temporary, tool } from '../support/project.ts';
import { random, seed } from '../support/random.ts';

const card = (text: string) => `import { contract, markup } from 'eltrix';
export class HiveCard extends contract('hive-card', {}) { view() { return markup\`<p>${text}</p>\`; } }`;
const mark = 'eltrix-output.json';
const made = (folder: string) => JSON.parse(readFileSync(join(folder, mark), 'utf8')) as { files: string[] };
const put = (root: string, file: string, text = 'mine') => {
  mkdirSync(dirname(join(root, file)), { recursive: true });
  writeFileSync(join(root, file), text);
};

describe('eltrix build keeps', () => {
  it('folders with similar names', () => {
    const root = project({ 'src/a.ts': card('a') });
    const mine = [
      'dist.old-2023/a',
      '.dist-notes/a',
      '.dist.eltrix-1-2/a',
      '.dist.eltrix-99999-0a1b2c3d/a',
      'dist.old-1/sizes.json',
    ];
    for (const file of mine) put(root, file);
    for (let n = 0; n < 2; n++) assert.equal(eltrix(root, 'build', '--no-look').status, 0);
    for (const file of mine) assert.equal(readFileSync(join(root, file), 'utf8'), 'mine', file);
  });

  const refused: Record<string, readonly [files: string[], args: string[], says: RegExp]> = {
    'a folder that somebody else made': [['dist/letter.txt'], [], /contains files that eltrix build did not write/],
    'a folder with a file called as one of ours': [['dist/sizes.json'], [], /did not write/],
    'a mark that is none': [[`dist/${mark}`], [], /did not write/],
    'a folder for the gallery': [['docs/tags.json'], ['--gallery', 'docs'], /"docs" contains files that/],
    'a file': [['dist'], [], /"dist" is a file/],
    'the sources': [[], ['--out', 'src'], /"src" contains files that/],
    'the project': [[], ['--out', '.'], /contains the project itself/],
    'what is above the project': [[], ['--out', '..'], /contains the project itself/],
  };
  for (const [what, [files, args, says]] of Object.entries(refused))
    it(what, () => {
      const root = project({ 'src/a.ts': card('a') });
      for (const file of files) put(root, file);
      const { status, stderr } = eltrix(root, 'build', '--no-look', ...args);
      assert.equal(status, 2, stderr);
      assert.match(stderr, /^eltrix error \(out-in-use\): [^]* Nothing was written\.\n$/);
      assert.match(stderr, says);
      for (const file of files) assert.equal(readFileSync(join(root, file), 'utf8'), 'mine');
      assert.ok(existsSync(join(root, 'src/a.ts')));
    });

  it('foreign files in its folder, and files outside the project', () => {
    const root = project({ 'src/a.ts': card('a') });
    assert.equal(eltrix(root, 'build', '--no-look').status, 0);
    put(root, 'dist/sub/CNAME');
    const { status, stderr } = eltrix(root, 'build', '--no-look');
    assert.equal(status, 2);
    assert.match(stderr, /"dist\/sub\/CNAME" was not written by eltrix build, .* Move it elsewhere/);
    assert.equal(readFileSync(join(root, 'dist/sub/CNAME'), 'utf8'), 'mine');
    const outside = temporary();
    renameSync(join(root, 'dist'), join(outside, 'dist'));
    symlinkSync(join(outside, 'dist'), join(root, 'dist'));
    const linked = eltrix(root, 'build', '--no-look');
    assert.equal(linked.status, 2);
    assert.match(linked.stderr, /lies outside the project and is not empty/);
    assert.ok(existsSync(join(outside, 'dist/sub/CNAME')));
  });
});

describe('the output of eltrix build', () => {
  it('has permissions by the umask', {
    skip: process.platform === 'win32' && 'no permissions',
  }, async () => {
    const root = project({ 'src/a.ts': card('a') });
    const child = spawn(
      'sh',
      ['-c', `umask 027; exec "${process.execPath}" "${tool}" build --no-look --gallery site`],
      {
        cwd: root,
        stdio: 'ignore',
      },
    );
    await new Promise(resolve => child.once('exit', resolve));
    for (const folder of ['dist', 'site']) {
      assert.equal(statSync(join(root, folder)).mode & 0o777, 0o750);
      for (const file of made(join(root, folder)).files)
        assert.equal(statSync(join(root, folder, file)).mode & 0o777, 0o640, file);
    }
  });

  const kills = Number(process.env['ELTRIX_KILLS'] ?? 12);
  for (const where of ['anywhere', 'in an exchange without the system’s help'] as const)
    it(`is whole when the build is killed ${where}, ${kills} times`, {
      skip: process.platform === 'win32' && 'no signals',
    }, async t => {
      t.diagnostic(`ELTRIX_SEED=${seed}`);
      const next = random(seed);
      const root = project({ 'src/a.ts': card('first') });
      assert.equal(eltrix(root, 'build', '--no-look').status, 0);
      // Without its helpers in PATH the exchange takes two steps.
      const env = where === 'anywhere' ? process.env : { ...process.env, PATH: '/nowhere' };
      for (let kill = 0; kill < kills; kill++) {
        writeFileSync(join(root, 'src/a.ts'), card(`text ${kill}`));
        const child = spawn(process.execPath, [tool, 'build', '--no-look'], { cwd: root, stdio: 'ignore', env });
        const ended = new Promise(resolve => child.once('exit', resolve));
        if (where === 'anywhere') await pause(next(1100));
        else {
          // At once when what it writes is complete.
          const isComplete = () =>
            readdirSync(root).some(
              name =>
                name.startsWith('.dist.eltrix-') &&
                existsSync(join(root, name, mark)) &&
                readFileSync(join(root, name, mark), 'utf8').includes('hive-card.js'),
            );
          while (child.exitCode === null && !isComplete()) await pause(1);
        }
        child.kill('SIGKILL');
        await ended;
        if (where === 'anywhere') {
          const { files } = made(join(root, 'dist'));
          for (const file of files) assert.ok(existsSync(join(root, 'dist', file)), `${file} after kill ${kill}`);
          assert.match(
            readFileSync(join(root, 'dist/hive-card.js'), 'utf8'),
            kill > 0 ? /text \d+|first/ : /first|text 0/,
          );
        }
        if (kill % 4 !== 3 && kill !== kills - 1) continue;
        const { status, stderr } = eltrix(root, 'build', '--no-look');
        assert.equal(status, 0, stderr);
        assert.ok(readFileSync(join(root, 'dist/hive-card.js'), 'utf8').includes(`text ${kill}`));
        assert.deepEqual(readdirSync(root).sort(), ['dist', 'node_modules', 'package.json', 'src']);
      }
    });
});
