/** Options of every command, and the commands for a project and a machine: add, doctor, completion, new. */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, it } from 'node:test';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project, repository, temporary, tool } from '../support/project.ts';

const card = `import { contract } from 'eltrix';
export class ACard extends contract('a-card', { about: 'A card.' }) {}
ACard.define();
`;

describe('the command line', () => {
  it('has help with examples and exit codes for every command', () => {
    const { stdout } = eltrix(temporary(), '--help');
    const names = [...stdout.matchAll(/^ {2}([a-z]+)(?: [[<].*)?$|^ {2}([a-z]+) [[<]/gm)].map(([, a, b]) => a ?? b!);
    const commands = [
      'new',
      'sketch',
      'serve',
      'test',
      'check',
      'build',
      'render',
      'describe',
      'add',
      'doctor',
      'completion',
    ];
    for (const name of commands) {
      assert.ok(names.includes(name), name);
      const help = eltrix(temporary(), name, '--help').stdout;
      assert.match(help, new RegExp(`Examples:\\n {2}eltrix ${name}`), name);
      assert.match(help, /Exit codes: 0 fine, 1 findings/);
    }
  });

  it('rejects options that do not go together', () => {
    const root = project({ 'src/a-card.js': card, 'page.html': '<a-card></a-card>' });
    for (const [args, message] of [
      [['test', '--watch', '--list'], /'--watch' cannot be used with option '--list'/],
      [['test', '--open', '--debug'], /cannot be used with option/],
      [['check', '--json', '--sarif'], /cannot be used with option/],
      [['describe', '--page', '--json'], /cannot be used with option/],
      [['check', 'page.html', '--in', 'chromium'], /--in is for the check of elements/],
      [['check', '--fix'], /--fix is for pages/],
      [['check', '--accept'], /--accept needs --pictures/],
    ] as const) {
      const { status, stderr } = eltrix(root, ...args);
      assert.match(stderr, message);
      assert.equal(status, 2, args.join(' '));
    }
  });

  it('reports wrong calls as in the guide, with exit code 2', () => {
    const guide = readFileSync(join(repository, 'docs/command-line.md'), 'utf8');
    const block = /## Wrong calls[^]*?```console\n([^]*?)```/.exec(guide)![1]!;
    const root = project({ 'src/a-card.js': card });
    for (const [, call, answer] of block.matchAll(/^\$ npx eltrix (.*)\n([^$]*)/gm)) {
      const { status, stderr } = eltrix(root, ...call!.split(' ').map(word => word.replaceAll('"', '')));
      assert.equal(stderr, answer, call);
      assert.equal(status, 2, call);
    }
    assert.deepEqual(readdirSync(root).sort(), ['node_modules', 'package.json', 'src']);
  });

  it('prints nothing but errors with --quiet, and more with --verbose', () => {
    const root = project({ 'src/a-card.js': card });
    const quiet = eltrix(root, 'describe', '--quiet');
    assert.deepEqual([quiet.stdout, quiet.stderr, quiet.status], ['', '', 0]);
    assert.match(eltrix(root, 'describe', '--json', '--quiet').stdout, /"a-card"/);
    const verbose = eltrix(root, '--verbose', 'describe', 'b-card');
    assert.match(verbose.stderr, /eltrix-tool .*, Node v.*, in .*\n.*b-card/s);
    assert.match(verbose.stderr, /\n\s+at /);
  });

  it('prints failures as JSON with --json', () => {
    const { stdout, status } = eltrix(project({ 'src/a-card.js': `${card}export class {` }), 'build', '--json');
    const { error } = JSON.parse(stdout) as { error: { code: string; file: string; line: number } };
    assert.deepEqual([error.code, error.file, error.line, status], ['source-error', 'src/a-card.js', 4, 1]);
  });

  it('colours as the options say', () => {
    const root = project({ 'src/a-card.js': card });
    const coloured = /\u001b\[/;
    assert.match(eltrix(root, 'describe', 'b-card', '--color').stderr, coloured);
    assert.doesNotMatch(eltrix(root, 'describe', 'b-card', '--no-color').stderr, coloured);
  });

  it('completes commands and options in three shells', () => {
    for (const [shell, program] of [
      ['bash', 'bash'],
      ['zsh', undefined],
      ['fish', undefined],
    ] as const) {
      const { stdout, status } = eltrix(temporary(), 'completion', shell);
      assert.equal(status, 0);
      for (const word of ['describe', 'no-look', 'coverage']) assert.match(stdout, new RegExp(word), shell);
      if (program === undefined) continue;
      const script = `${stdout}\nCOMP_WORDS=(eltrix build --w); COMP_CWORD=2; _eltrix; echo "\${COMPREPLY[@]}"; COMP_WORDS=(eltrix de); COMP_CWORD=1; _eltrix; echo "\${COMPREPLY[@]}"`;
      assert.equal(spawnSync(program, ['-c', script], { encoding: 'utf8' }).stdout, '--watch\ndescribe\n');
    }
    assert.match(eltrix(temporary(), 'completion', 'tcsh').stderr, /bash, zsh or fish/);
  });
});

it('a build contains the licence and the README of the project', () => {
  const root = project({
    'src/a-card.js': card,
    LICENSE: 'Do as you like.',
    'README.md': '# Cards',
    'readme-notes.md': 'no',
  });
  assert.equal(eltrix(root, 'build', '--no-look').status, 0);
  assert.equal(readFileSync(join(root, 'dist/LICENSE'), 'utf8'), 'Do as you like.');
  assert.equal(readFileSync(join(root, 'dist/README.md'), 'utf8'), '# Cards');
  assert.ok(!existsSync(join(root, 'dist/readme-notes.md')));
});

describe('eltrix add', () => {
  it('writes an element in the language of the project', () => {
    const root = project({ 'src/a-card.js': card });
    const { stdout, status } = eltrix(root, 'add', 'b-card');
    assert.equal(status, 0);
    assert.match(
      stdout,
      /src\/b-card\.js\n.*src\/b-card\.css\n.*src\/b-card\.specimen\.html\n.*src\/b-card\.test\.js/s,
    );
    assert.match(eltrix(root, 'describe', 'b-card').stdout, /TODO: describe <b-card> in one sentence\./);
    assert.match(eltrix(root, 'add', 'b-card').stderr, /are there already, and no file is written over/);
    assert.match(eltrix(root, 'add', 'card').stderr, /hyphen/);
    eltrix(root, 'add', 'c-card', '--into', 'src/more');
    assert.ok(existsSync(join(root, 'src/more/c-card.js')));
  });

  it('writes an element whose test passes', { skip: !engines.chromium.find() && 'no Chromium' }, () => {
    const root = project({});
    eltrix(root, 'add', 'b-card');
    const { stdout, status } = eltrix(root, 'test', '--in', 'chromium');
    assert.match(stdout, /pass 2/);
    assert.equal(status, 0);
  });
});

describe('eltrix new', () => {
  const calledBy = (agent: string, ...args: string[]) => {
    const folder = temporary();
    const env = { ...process.env, npm_config_user_agent: agent };
    const { stdout } = spawnSync(process.execPath, [tool, 'new', 'widgets', ...args], {
      cwd: folder,
      encoding: 'utf8',
      env,
    });
    return { folder: join(folder, 'widgets'), stdout };
  };

  it('names the commands of the package manager that called it', () => {
    assert.match(calledBy('pnpm/9.1.0 npm/? node/v20').stdout, /pnpm install\n.*pnpm exec eltrix serve/s);
    assert.match(calledBy('yarn/4.0.0 npm/? node/v20').stdout, /yarn\n.*yarn eltrix serve/s);
    assert.match(calledBy('').stdout, /npm install\n.*npx eltrix serve/s);
  });

  it('writes JavaScript with --js', () => {
    const { folder } = calledBy('', '--js');
    assert.deepEqual(readdirSync(join(folder, 'src')).sort(), [
      'step-counter.css',
      'step-counter.js',
      'step-counter.specimen.html',
      'step-counter.test.js',
    ]);
    for (const file of ['src/step-counter.js', 'src/step-counter.test.js', 'vite.config.js']) {
      const { status, stderr } = spawnSync(process.execPath, ['--check', join(folder, file)], { encoding: 'utf8' });
      assert.equal(status, 0, stderr);
    }
    const all = ['package.json', 'README.md', 'index.html']
      .map(file => readFileSync(join(folder, file), 'utf8'))
      .join();
    assert.doesNotMatch(all, /typescript|tsc|\.ts\b/);
  });
});

describe('eltrix doctor', () => {
  it('lists what is installed, and how to install the rest', () => {
    const root = project({ 'src/a-card.js': card, 'eltrix.config.json': '{ "out": "built" }' });
    const { stdout } = eltrix(root, 'doctor', '--no-start');
    assert.match(stdout, /✔ Node +v20/);
    assert.match(stdout, /eltrix\.config\.json: \{"source":"src","out":"built"/);
    const { findings } = JSON.parse(eltrix(root, 'doctor', '--no-start', '--json').stdout) as {
      findings: { what: string }[];
    };
    for (const what of [
      'Node',
      'eltrix',
      'configuration',
      'writing here',
      'port 5180',
      'chromium',
      'firefox',
      'webkit',
    ])
      assert.ok(
        findings.some(finding => finding.what === what),
        what,
      );
    const wrong = eltrix(project({ 'eltrix.config.json': '{ "sorce": 1 }' }), 'doctor', '--no-start');
    assert.match(wrong.stdout, /✖ configuration .*Did you mean "source"\?/);
    assert.equal(wrong.status, 1);
  });

  it('starts the engines that are found', { skip: !engines.chromium.find() && 'no Chromium' }, () => {
    assert.match(eltrix(project({}), 'doctor').stdout, /chromium +Chrome [\d.]+, started in [\d.]+ s/);
  });
});
