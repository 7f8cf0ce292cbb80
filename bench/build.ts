/**
 * npm run bench:build: how long a build of 100 and of 1,000 elements takes beside the bundler alone on the same files,
 * and a changed element while watching. Options: --counts 100,1000
 */
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';

const repository = fileURLToPath(new URL('..', import.meta.url));
const tool = join(repository, 'packages/eltrix-tool/dist/tool/cli/main.js');
const { values } = parseArgs({ options: { counts: { type: 'string', default: '4,20,100,1000' } } });
const source = readFileSync(join(repository, 'examples/apiary/src/elements/hive-card.ts'), 'utf8');

/** The bundler alone: the same entries and settings, without what Eltrix does. */
const alone = `
  import { build } from 'vite';
  import { readdirSync } from 'node:fs';
  await build({ configFile: false, logLevel: 'silent', publicDir: false, resolve: { conditions: ['production', 'browser', 'module'] }, build: {
    outDir: 'alone', target: 'es2022', minify: 'oxc', modulePreload: false, sourcemap: true,
    rolldownOptions: { input: readdirSync('src').map(file => 'src/' + file), preserveEntrySignatures: 'exports-only' } } });`;

for (const count of values.counts.split(',').map(Number)) {
  const root = mkdtempSync(join(tmpdir(), 'eltrix-bench-'));
  mkdirSync(join(root, 'src'));
  mkdirSync(join(root, 'node_modules'));
  symlinkSync(join(repository, 'packages/eltrix'), join(root, 'node_modules/eltrix'));
  symlinkSync(join(repository, 'node_modules/vite'), join(root, 'node_modules/vite'));
  writeFileSync(join(root, 'package.json'), '{ "type": "module" }');
  writeFileSync(join(root, 'alone.js'), alone);
  for (let i = 0; i < count; i++)
    writeFileSync(
      join(root, `src/hive-card-${i}.ts`),
      source
        .replaceAll('HiveCard', `HiveCard${i}`)
        .replaceAll('hive-card', `hive-card-${i}`)
        .replaceAll('Open hive', `Open hive ${i}`),
    );
  const time = (...args: string[]) => {
    const start = performance.now();
    const { status, stdout, stderr } = spawnSync(process.execPath, args, { cwd: root, encoding: 'utf8' });
    if (status !== 0) throw new Error(stderr);
    return { seconds: (performance.now() - start) / 1000, stdout };
  };
  const rounds = count > 300 ? 1 : 3;
  const best = (...args: string[]) => Math.min(...Array.from({ length: rounds }, () => time(...args).seconds));
  const bundler = best('alone.js');
  // The tool would read its output as further sources.
  rmSync(join(root, 'alone'), { recursive: true });
  // What a build before has kept is taken away.
  const first = Math.min(
    ...Array.from({ length: rounds }, () => {
      for (const kept of ['node_modules/.cache', 'dist']) rmSync(join(root, kept), { recursive: true, force: true });
      return time(tool, 'build', '--no-look').seconds;
    }),
  );
  const again = best(tool, 'build', '--no-look');
  const memory = /at most (\d+ MB)/.exec(time(tool, 'build', '--no-look').stdout)![1];
  console.log(
    `${count} elements: the bundler alone ${bundler.toFixed(2)} s, the first build ${first.toFixed(2)} s, ratio ${(first / bundler).toFixed(2)}, again ${again.toFixed(2)} s, ratio ${(again / bundler).toFixed(2)}, at most ${memory}`,
  );
  if (count <= 100) console.log(`a watched change is out after ${(await watched(root)).toFixed(0)} ms`);
  rmSync(root, { recursive: true, force: true });
}

/** Milliseconds from saving a source to the end of the build that it causes, the median of five. */
async function watched(root: string): Promise<number> {
  const child = spawn(process.execPath, [tool, 'build', '--watch', '--no-look'], { cwd: root });
  let text = '';
  child.stdout.on('data', data => (text += data));
  const until = async (pattern: RegExp) => {
    while (!pattern.test(text)) await new Promise(resolve => setTimeout(resolve, 1));
    text = '';
  };
  await until(/Watching/);
  await new Promise(resolve => setTimeout(resolve, 500));
  const times: number[] = [];
  const file = join(root, 'src/hive-card-0.ts');
  for (let i = 0; i < 5; i++) {
    const start = performance.now();
    writeFileSync(file, readFileSync(file, 'utf8').replace(/Open hive[^<]*</, `Open hive ${i} again<`));
    await until(/MB of memory/);
    times.push(performance.now() - start);
    await new Promise(resolve => setTimeout(resolve, 200));
  }
  child.kill();
  return times.sort((a, b) => a - b)[2]!;
}
