/** A new project and a sketched one: each installs, type-checks, tests, serves and builds with the packed library. */
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { after, describe, it } from 'node:test';
import { eltrix, packages, project, repository, running, tool } from '../support/project.ts';

const folder = mkdtempSync(join(tmpdir(), 'eltrix-new-'));
after(() => rmSync(folder, { recursive: true, force: true }));

const run = (program: string, args: string[], cwd: string) =>
  execFileSync(program, args, { cwd, encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });

describe('eltrix new', () => {
  const root = join(folder, 'thistle-widgets');

  it('creates a project, and prints the next steps', () => {
    const printed = run(process.execPath, [tool, 'new', 'thistle-widgets'], folder);
    assert.match(printed, /\n {2}cd thistle-widgets\n {2}npm install\n {2}npx eltrix serve\n$/);
    assert.equal(
      (JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as { name: string }).name,
      'thistle-widgets',
    );
  });

  it('overwrites nothing', () => {
    const before = readFileSync(join(root, 'README.md'), 'utf8');
    writeFileSync(join(root, 'README.md'), 'mine');
    rmSync(join(root, 'index.html'));
    const { status, stderr } = eltrix(folder, 'new', 'thistle-widgets');
    assert.equal(status, 2);
    assert.match(stderr, /\(file-there\): .*thistle-widgets\/README\.md.* Nothing was written/);
    assert.equal(readFileSync(join(root, 'README.md'), 'utf8'), 'mine');
    assert.ok(!existsSync(join(root, 'index.html')));
    for (const file of readdirSync(root)) rmSync(join(root, file), { recursive: true });
    assert.equal(eltrix(folder, 'new', 'thistle-widgets').status, 0);
    assert.equal(readFileSync(join(root, 'README.md'), 'utf8'), before);
  });

  it('installs, type-checks, tests, serves and builds', async () => {
    const tarballs = packages.map(name => {
      const pack = ['pack', '--json', '--pack-destination', folder];
      const [packed] = JSON.parse(run('npm', pack, join(repository, 'packages', name))) as [{ filename: string }];
      return join(folder, packed.filename);
    });
    run('npm', ['install', '--prefer-offline', '--no-audit', '--no-fund', ...tarballs, 'jsdom@29'], root);
    run('npm', ['run', 'types'], root);
    assert.match(run('npx', ['eltrix', 'test', '--in', 'simulated'], root), /# pass \d|ℹ pass \d/);
    assert.match(run('npx', ['eltrix', 'build'], root), /step-counter\.js/);
    assert.match(run('npx', ['vite', 'build'], root), /built in/);
    // Installed from files, as here, another project gets them from there as well.
    run('npx', ['eltrix', 'new', 'further widgets'], root);
    const { dependencies, devDependencies } = JSON.parse(
      readFileSync(join(root, 'further widgets/package.json'), 'utf8'),
    ) as Record<string, Record<string, string>>;
    assert.match(dependencies!['eltrix']!, /^file:\.\.\/\.\.\/eltrix-0\.1\.0\.tgz$/);
    assert.match(devDependencies!['eltrix-tool']!, /^file:\.\.\/\.\.\/eltrix-tool-0\.1\.0\.tgz$/);
    rmSync(join(root, 'further widgets'), { recursive: true });
    const served = running(root, 'serve', '--port', '0');
    try {
      const address = /http:\S+/.exec(await served.until(/ready in/))![0];
      const data = (await (await fetch(`${address}@eltrix/data.json`)).json()) as {
        elements: { tag: string; specimens: unknown[] }[];
      };
      assert.deepEqual(
        data.elements.map(({ tag, specimens }) => [tag, specimens.length]),
        [['step-counter', 2]],
      );
      assert.equal((await fetch(`${address}@eltrix/elements/step-counter.js`)).status, 200);
    } finally {
      await served.end();
    }
  });
});

describe('eltrix new with a package store', () => {
  // As pnpm lays them out: packages in a store below a hidden folder, links to those that a project names itself.
  const root = join(folder, 'store widgets');

  it('serves, tests, checks and builds', { skip: !existsSync('/bin/cp') && 'it copies by links' }, async () => {
    eltrix(folder, 'new', 'store widgets');
    const installed = join(folder, 'thistle-widgets/node_modules');
    mkdirSync(join(root, 'node_modules/.pnpm'), { recursive: true });
    run('cp', ['-al', installed, join(root, 'node_modules/.pnpm/node_modules')], folder);
    const { dependencies, devDependencies } = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as Record<
      string,
      Record<string, string>
    >;
    for (const name of Object.keys({ ...dependencies, ...devDependencies })) {
      mkdirSync(dirname(join(root, 'node_modules', name)), { recursive: true });
      const place = join(root, 'node_modules/.pnpm/node_modules', name);
      if (existsSync(place)) symlinkSync(place, join(root, 'node_modules', name));
    }
    const bin = join(root, 'node_modules/eltrix-tool/dist/tool/cli/main.js');
    const call = (...args: string[]) => run(process.execPath, [bin, ...args], root);
    assert.match(call('test', '--in', 'chromium'), /ℹ fail 0/);
    assert.match(call('check', '--in', 'chromium'), / 0 failed/);
    assert.match(call('check', '--types'), /0 findings/);
    assert.match(call('build'), /step-counter\.js/);
    const served = running(root, 'serve', '--port', '0');
    try {
      const address = /http:\S+/.exec(await served.until(/ready in/))![0];
      assert.equal((await fetch(`${address}@eltrix/elements/step-counter.js`)).status, 200);
    } finally {
      await served.end();
    }
  });
});

const usage = `<!doctype html>
<title>Thistlecombe</title>
<hive-shelf heading="South side" src="/hives.json">
  <hive-box name="Rosemary" boxes="2" mood="calm" compact frames='[{"id":1,"honey":2.5}]' onhive-open="show(event)" queen-age="2">
    <b slot="badge">prize</b>
    <p>Gentle.</p>
  </hive-box>
  <hive-box name="Bramble" boxes="3" mood="busy" weight="12.5" onclick="x()"></hive-box>
  <hive-box name="Old Tin" boxes="1" mood="busy" weight="9"></hive-box>
</hive-shelf>`;

describe('eltrix sketch', () => {
  const root = project({ 'usage.html': usage });

  it('infers kinds, names, slots, events and containment, with the evidence', () => {
    const { status, stdout } = eltrix(root, 'sketch', 'usage.html', '--preview');
    assert.equal(status, 0);
    for (const expected of [
      'name: text(),',
      'boxes: integer(),',
      "mood: choice(['calm', 'busy'], { missing: 'calm', invalid: 'calm' }),",
      'compact: flag(),',
      'frames: json<unknown>(),',
      'queenAge: integer(),',
      'weight: decimal(),',
      'src: url(),',
      "'hive-open': event(",
      "badge: slot('TODO: describe the slot badge.')",
      "'': slot('The content.', { accepts: 'hive-box' })",
      'used 3 times, in <hive-shelf>',
      'choice   3 of 3 uses  "calm", "busy"',
    ])
      assert.ok(stdout.includes(expected), expected);
    assert.ok(!stdout.includes('onclick: '));
    assert.ok(!existsSync(join(root, 'src')), 'a preview writes nothing');
  });

  it('writes an element that passes its test, and specimens as written', () => {
    assert.equal(eltrix(root, 'sketch', 'usage.html').status, 0);
    assert.deepEqual(
      readdirSync(join(root, 'src')).sort(),
      ['box', 'shelf'].flatMap(name => ['css', 'specimen.html', 'test.ts', 'ts'].map(end => `hive-${name}.${end}`)),
    );
    const specimen = readFileSync(join(root, 'src/hive-shelf.specimen.html'), 'utf8');
    assert.ok(
      specimen.includes(
        usage
          .slice(usage.indexOf('<hive-shelf'))
          // No browser runs it, so it stands for the event only.
          .replace(' onhive-open="show(event)"', '')
          .split('\n')
          .map(line => `  ${line}`)
          .join('\n'),
      ),
    );
    const tested = eltrix(root, 'test', '--in', 'simulated');
    assert.equal(tested.status, 0, tested.stdout);
    assert.match(tested.stdout, /pass [1-9]/);
    const checked = eltrix(root, 'check', 'src/*.specimen.html');
    assert.equal(checked.status, 0, checked.stdout);
  });

  it('compares existing elements, and changes nothing', () => {
    const before = readFileSync(join(root, 'src/hive-box.ts'), 'utf8');
    writeFileSync(join(root, 'more.html'), '<hive-box nmae="Rosemary" boxes="many"></hive-box><hive-gate></hive-gate>');
    const { status, stdout } = eltrix(root, 'sketch', 'more.html', '--into', 'src/gates');
    assert.equal(status, 1);
    assert.match(
      stdout,
      /<hive-box> {2}is there already, in src\/hive-box\.ts\. Nothing was changed; it differs in:\n {2}more\.html:1:11 \(attribute-unknown\).*"name".*\n {2}more\.html:1:27 \(number-invalid\)/,
    );
    assert.equal(readFileSync(join(root, 'src/hive-box.ts'), 'utf8'), before);
    assert.ok(existsSync(join(root, 'src/gates/hive-gate.ts')));
  });

  it('recognises colours, dates, flags, unusual names and names that start with "on"', () => {
    const root = project({
      'usage.html':
        '<odd-one colour="#ff0000" since="2026-05-01" active="false" 1a="x" once="true" only="here" onopen="show()" onodd-done="x" href="#top"></odd-one> <odd-one active="true"></odd-one>',
    });
    const { status, stdout } = eltrix(root, 'sketch', 'usage.html');
    assert.equal(status, 0);
    assert.match(stdout, /usage\.html:1 note: active="false" is true/);
    assert.match(stdout, /usage\.html:1 note: no script can set an attribute 1a in every engine/);
    const source = readFileSync(join(root, 'src/odd-one.ts'), 'utf8');
    for (const line of [
      'colour: text()',
      'since: text()',
      'active: flag()',
      'once: flag()',
      'only: text()',
      'href: url()',
      "'odd-done': event(",
      'open: event(',
    ])
      assert.ok(source.includes(line) || source.includes(line.replace(/^open/, "'open'")), `${line}\n${source}`);
    const titles = readFileSync(join(root, 'src/odd-one.specimen.html'), 'utf8').match(/title="[^"]*"/g)!;
    assert.deepEqual(titles, ['title="As in usage.html, line 1, 1 of 2"', 'title="As in usage.html, line 1, 2 of 2"']);
    assert.equal(eltrix(root, 'build', '--no-look').status, 0);
  });

  it('copies markup once and in its order where the parser moves it out of a table', () => {
    const root = project({
      'usage.html':
        '<hive-book><table><tr><td><b onx-done="a()">1</b></td></tr><i ony-done="b()">2</i></table></hive-book>',
    });
    assert.equal(eltrix(root, 'sketch', 'usage.html').status, 0);
    const specimen = readFileSync(join(root, 'src/hive-book.specimen.html'), 'utf8');
    assert.match(specimen, /<table><tr><td><b>1<\/b><\/td><\/tr><i>2<\/i><\/table>/);
  });

  it('explains input without elements', () => {
    writeFileSync(join(root, 'plain.html'), '<p>Hello</p>');
    const { status, stderr } = eltrix(root, 'sketch', 'plain.html');
    assert.equal(status, 1);
    assert.match(stderr, /\(no-usage\): There is no tag with a hyphen in plain\.html/);
    assert.equal(eltrix(root, 'sketch', 'none.html').status, 2);
  });
});
