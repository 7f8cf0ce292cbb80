/** Snapshots and pictures that are stored, answers to requests, and what `t` gives. */
import assert from 'node:assert/strict';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, it } from 'node:test';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project } from '../support/project.ts';

const noChromium = !engines.chromium.find() && 'no Chromium';
const here = (['chromium', 'firefox', 'webkit'] as const).filter(name => engines[name].find());

/** A test file with the helpers imported. */
const testFile = (body: string) => `import assert from 'node:assert/strict';
import { it } from 'node:test';
import { markup, settled, signal } from 'eltrix';
import { checkInlineSnapshot, checkSnapshot, nextEvent, picture, respond, stage, waitFor } from 'eltrix-tool/testing';
${body}
`;

const run = (root: string, ...args: string[]) =>
  eltrix(root, 'test', '--in', 'chromium', '--report', 'tap', '--no-shuffle', ...args);

describe('stored snapshots', { skip: noChromium }, () => {
  const files = {
    'a.test.ts': testFile(`it('keeps', async t => {
  const box = await stage('<p class="b a">one <b>two</b></p>');
  checkSnapshot(box);
  checkSnapshot({ n: 1 });
  checkInlineSnapshot(box);
  checkInlineSnapshot('a \`b\` \${c}'); checkInlineSnapshot(2);
  t.assert.snapshot('x\\ny');
});`),
  };

  it('fail until they are accepted, then are stored in a file or inline', () => {
    const root = project(files);
    const first = run(root);
    assert.equal(first.status, 1);
    assert.match(first.stdout, /\(snapshot-missing\)/);
    assert.match(first.stdout, /npx eltrix test --accept/);
    assert.ok(!existsSync(join(root, 'a.test.ts.snapshot')));
    const accepted = run(root, '--accept');
    assert.equal(accepted.status, 0, accepted.stdout);
    assert.match(
      accepted.stderr,
      /a\.test\.ts\.snapshot has 3 snapshots\.\na\.test\.ts has 3 snapshots written into it\./,
    );
    assert.equal(
      readFileSync(join(root, 'a.test.ts.snapshot'), 'utf8'),
      'exports[`keeps 1`] = `\n<p class="b a">\n  one\n  <b>two</b>\n</p>\n`;\n\nexports[`keeps 2`] = `\n{\n  "n": 1\n}\n`;\n\nexports[`keeps 3`] = `\n"x\\\\ny"\n`;\n',
    );
    const written = readFileSync(join(root, 'a.test.ts'), 'utf8');
    assert.ok(
      written.includes('checkInlineSnapshot(box, `\n    <p class="b a">\n      one\n      <b>two</b>\n    </p>\n  `);'),
    );
    assert.ok(written.includes("checkInlineSnapshot('a `b` ${c}', `a \\`b\\` \\${c}`); checkInlineSnapshot(2, `2`);"));
    // All engines agree with what one has stored.
    assert.equal(run(root, '--in', here.join()).status, 0);
  });

  it('show differences, and list unused snapshots', () => {
    const root = project({ 'a.test.ts': testFile("it('keeps', () => checkSnapshot('one\\ntwo\\nthree'));") });
    run(root, '--accept');
    writeFileSync(join(root, 'a.test.ts'), testFile("it('keeps', () => checkSnapshot('one\\n2\\nthree'));"));
    assert.match(run(root).stdout, /\(snapshot-differs\)[^]*\+ 2\n +- two/);
    writeFileSync(join(root, 'a.test.ts'), testFile("it('is new', () => checkSnapshot('x'));"));
    run(root, '--accept', '--match', 'nothing');
    assert.match(readFileSync(join(root, 'a.test.ts.snapshot'), 'utf8'), /keeps 1/, 'nothing is removed by a part');
    run(root, '--accept');
    assert.equal(readFileSync(join(root, 'a.test.ts.snapshot'), 'utf8'), 'exports[`is new 1`] = `\nx\n`;\n');
    writeFileSync(join(root, 'a.test.ts'), testFile("it('has none', () => {});"));
    assert.match(run(root).stderr, /a\.test\.ts\.snapshot: "is new 1" is not used\. --accept removes it\./);
  });

  it('are rejected if engines differ, or the file is damaged', {
    skip: here.length < 2 && 'one engine',
  }, () => {
    const root = project({ 'a.test.ts': testFile("it('keeps', () => checkSnapshot(navigator.userAgent));") });
    const { status, stderr } = run(root, '--accept', '--in', here.slice(0, 2).join());
    assert.equal(status, 1);
    assert.match(stderr, /\(snapshot-engines\): a\.test\.ts: "keeps 1" differs between/);
    writeFileSync(join(root, 'a.test.ts.snapshot'), 'alert(1)');
    assert.match(run(root).stderr, /\(snapshot-file\): a\.test\.ts\.snapshot is not a file of snapshots/);
  });
});

describe('pictures', { skip: noChromium }, () => {
  const body = (colour: string, options = '') =>
    testFile(`it('looks', async () => {
  const box = await stage('<div style="width: 60px; height: 20px; background: ${colour}"><i style="display: block; width: 10px; height: 10px; background: black"></i></div>');
  box.animate([{ opacity: 0 }, { opacity: 1 }], { duration: 100000 });
  await picture(box, 'box', ${options || '{}'});
});`);

  it('fail until they are accepted, then if they differ, with three pictures in the report', () => {
    const root = project({ 'a.test.ts': body('green') });
    assert.match(run(root).stdout, /\(picture-missing\): No picture is accepted yet: pictures\/chromium\/a\/box\.png/);
    assert.match(run(root, '--accept').stderr, /1 picture accepted\./);
    assert.equal(run(root).status, 0);
    writeFileSync(join(root, 'a.test.ts'), body('darkgreen'));
    const { status, stdout } = run(root, '--report', 'html=out/report.html');
    assert.equal(status, 1);
    assert.match(stdout, /\(picture-differs\): 1100 of 1200 pixels differ from pictures\/chromium\/a\/box\.png/);
    const html = readFileSync(join(root, 'out/report.html'), 'utf8');
    assert.deepEqual(
      [...html.matchAll(/<figcaption>([^<]+)</g)].map(([, name]) => name),
      ['accepted', 'taken', 'difference', 'when it failed'],
    );
    assert.ok(existsSync(join(root, 'node_modules/.eltrix/pictures/chromium/a/box.png')));
    // A tolerance, a mask, and another size.
    writeFileSync(join(root, 'a.test.ts'), body('darkgreen', '{ tolerance: 0.95 }'));
    assert.equal(run(root).status, 0);
    writeFileSync(join(root, 'a.test.ts'), body('green; position: relative', "{ mask: 'i' }"));
    assert.match(run(root).stdout, /100 of 1200 pixels differ/);
    writeFileSync(join(root, 'a.test.ts'), body('green; height: 30px'));
    assert.match(run(root).stdout, /It is 60 by 30 pixels, and pictures\/chromium\/a\/box\.png is 60 by 20/);
  });

  it('are reported once for another version of the engine', () => {
    const root = project({ 'a.test.ts': body('green') });
    run(root, '--accept');
    writeFileSync(join(root, 'pictures/chromium/engine.json'), '{ "version": "Chrome 1.0" }');
    assert.equal(run(root).status, 0, 'nothing differs');
    writeFileSync(join(root, 'a.test.ts'), body('darkgreen'));
    const { status, stdout } = run(root);
    assert.equal(status, 1);
    assert.match(stdout, /ok 1 - looks/);
    assert.match(
      stdout,
      /not ok 2 - pictures\n[^]*\(picture-version\): 1 picture differs from those that were accepted with Chrome 1\.0/,
    );
    assert.equal(run(root, '--accept').status, 0);
    assert.equal(run(root).status, 0);
  });

  it('list unused pictures, and those that cannot be taken', () => {
    const root = project({ 'a.test.ts': body('green') });
    run(root, '--accept');
    writeFileSync(join(root, 'a.test.ts'), body('green').replace("'box'", "'other'"));
    assert.match(run(root, '--accept').stderr, /pictures\/chromium\/a\/box\.png is not used\./);
    writeFileSync(join(root, 'a.test.ts'), body('green; display: none'));
    assert.match(run(root).stdout, /\(picture-empty\): <div> has no size/);
    writeFileSync(join(root, 'a.test.ts'), body('green; height: 4000px'));
    assert.match(run(root).stdout, /\(picture-large\): <div> is larger than the window \(1280 by 800\)/);
    rmSync(join(root, 'pictures'), { recursive: true });
  });
});

it('respond, waitFor and plan work in each engine', {
  skip: here.length === 0 && 'no engine',
}, () => {
  const root = project({
    'a.test.ts': testFile(`it('answers', async () => {
  const asked = respond('/api/hives?x=1', [{ name: 'Thyme' }]);
  respond(/\\/missing$/g, 404);
  respond('/late', () => new Promise(() => {}));
  assert.deepEqual(await (await fetch(new Request('/api/hives?x=1'))).json(), [{ name: 'Thyme' }]);
  assert.equal((await fetch('/missing')).status, 404);
  assert.equal((await fetch('/missing')).status, 404);
  assert.equal((await fetch('/api/hives?x=1#part')).status, 200);
  const ending = new AbortController();
  const late = fetch('/late', { signal: ending.signal });
  ending.abort();
  await assert.rejects(late, { name: 'AbortError' });
  const request = new XMLHttpRequest();
  const loaded = new Promise(resolve => { request.onload = resolve; });
  request.open('POST', '/api/hives?x=1');
  request.setRequestHeader('x-a', '1');
  request.send('body');
  await loaded;
  await new Promise(resolve => setTimeout(resolve));
  assert.deepEqual([request.status, request.responseText], [200, '[{"name":"Thyme"}]']);
  assert.deepEqual([asked.length, asked[2]!.method, asked[2]!.headers.get('x-a')], [3, 'POST', '1']);
  // An aborted request has no answer; the next one has.
  const log: string[] = [];
  for (const type of ['load', 'abort', 'error', 'loadend'])
    request.addEventListener(type, () => log.push(type + ' ' + request.status));
  request.onload = null;
  request.open('GET', '/missing');
  request.send();
  request.abort();
  assert.deepEqual([log, request.readyState], [['abort 0', 'loadend 0'], 0]);
  request.open('GET', '/missing');
  request.send();
  request.open('GET', '/api/hives?x=1');
  request.send();
  await waitFor(() => assert.equal(log.length, 4));
  await new Promise(resolve => setTimeout(resolve, 30));
  assert.deepEqual(log.slice(2), ['load 200', 'loadend 200']);
  respond('/broken', () => { throw new Error('broken'); });
  request.open('GET', '/broken');
  request.send();
  await waitFor(() => assert.deepEqual(log.slice(4), ['error 0', 'loadend 0']));
  await respond('/api/hives?x=1', 'newer');
  assert.equal(await (await fetch('/api/hives?x=1')).text(), 'newer');
});
it('is taken back', async () => {
  assert.match(String(fetch), /native code/);
  assert.match(String(XMLHttpRequest), /native code/);
});
const count = signal(0);
let runs = 0;
it('stages markup', async () => {
  const shown = await stage(markup\`<p>\${() => [runs++, count.get()].at(1)}</p>\`);
  count.set(1);
  await settled();
  assert.deepEqual([shown.textContent, runs], ['1', 2]);
});
it('forgets it', async () => {
  count.set(2);
  await settled();
  assert.equal(runs, 2);
});
it('asks for an event', () => void nextEvent(document, 'never', 40));
it('does not hear of it', () => new Promise(resolve => setTimeout(resolve, 80)));
it('waits', async t => {
  let n = 0;
  assert.equal(await waitFor(() => { assert.ok(++n > 3); return n; }), 4);
  assert.equal(await t.waitFor(() => 5), 5);
  await assert.rejects(waitFor(() => { throw new Error('never'); }, { timeout: 60, interval: 20 }), /\\(wait-timeout\\).*never/);
  await assert.rejects(waitFor(() => new Promise(() => {}), { timeout: 60 }), /\\(wait-timeout\\).*60 ms/);
  // A last attempt that is cut off does not hide what was wrong before.
  let slow = 0;
  const condition = async () => {
    if (slow++ > 0) await new Promise(() => {});
    throw new Error('never');
  };
  await assert.rejects(waitFor(condition, { timeout: 60, interval: 20 }), /\\(wait-timeout\\).*never/);
});
it('is planned', async t => {
  t.plan(2);
  t.assert.equal(1, 1);
  await t.test('inner', () => {});
});
it('has a clock', t => {
  const seen: number[] = [];
  t.mock.timers.enable({ apis: ['setTimeout', 'Date', 'requestAnimationFrame' as 'Date'], now: 0 });
  const frame = () => { seen.push(Date.now()); if (seen.length < 3) requestAnimationFrame(frame); };
  requestAnimationFrame(frame);
  cancelAnimationFrame(requestAnimationFrame(() => seen.push(-1)));
  t.mock.timers.tick(100);
  assert.deepEqual(seen, [16, 32, 48]);
});
it('misses its plan', t => { t.plan(2); t.assert.ok(true); });
`),
  });
  const { stdout } = run(root, '--in', here.join());
  const outcomes = [...stdout.matchAll(/^ {8}(not ok|ok) \d+ - (.*)$/gm)].map(([, how, name]) => `${name}: ${how}`);
  const expected = [
    'answers: ok',
    'is taken back: ok',
    'stages markup: ok',
    'forgets it: ok',
    'asks for an event: not ok',
    'does not hear of it: ok',
    'waits: ok',
    'is planned: ok',
    'has a clock: ok',
    'misses its plan: not ok',
  ];
  const withEngine = (name: string) => name.replace(/ \[[^\]]+\]/, '');
  assert.deepEqual(
    outcomes.map(withEngine),
    here.flatMap(() => expected),
    stdout,
  );
  assert.match(stdout, /plan expected 2 assertions but received 1/);
});

it('a failure contains the content of the page', { skip: noChromium }, () => {
  const root = project({
    'a.test.ts': testFile("it('fails', async () => { await stage('<p title=\"x\">shown</p>'); assert.equal(1, 2); });"),
  });
  const { stdout } = eltrix(root, 'test', '--in', 'chromium');
  assert.match(stdout, /The page when it failed:\n +<div>\n +<p title="x">shown<\/p>/);
});
