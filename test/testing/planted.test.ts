/** `eltrix test` on suites with planted faults: what it reports, word for word where it counts. */
import assert from 'node:assert/strict';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, describe, it } from 'node:test';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project, running } from '../support/project.ts';

const skip = !engines.chromium.find() && 'no Chromium';
const head = "import assert from 'node:assert/strict';\nimport { it, test, describe } from 'node:test';\n";
const chromium = (root: string, ...args: string[]) => eltrix(root, 'test', '--in', 'chromium', ...args);

describe('eltrix test', { skip }, () => {
  it('fails a test that leaves something behind, unless it is allowed', () => {
    const leak = `
      window.addEventListener('resize', () => {});
      document.body.append(document.createElement('p'));
      setInterval(() => {}, 500);
      localStorage.setItem('left', '1');
      globalThis.leftGlobal = 1;`;
    const root = project({
      'a.test.ts': `${head}import { leaves } from 'eltrix-tool/testing';
        it('leaks', () => {${leak}});
        it('is not touched by it', () => { assert.equal(localStorage.getItem('left'), null); assert.equal(document.querySelector('p'), null); assert.ok(!('leftGlobal' in globalThis)); });
        it('declares it', () => { leaves('nodes', 'listeners', 'timers', 'storage', 'globals');${leak} localStorage.clear(); });`,
    });
    const { status, stdout } = chromium(root, '--no-shuffle');
    assert.equal(status, 1);
    assert.match(
      stdout,
      /✖ leaks [^]*\(left-behind\): The test passed, and left something behind: <p> in body, a "resize" listener on window, setInterval\(…, 500\), "left" in localStorage, the global "leftGlobal"\. It was removed\. Clean up in the test, in atEnd\(\(\) => …\) or afterEach\(\), or allow it: leaves\('nodes', 'listeners', 'timers', 'storage', 'globals'\)\./,
    );
    assert.match(stdout, /✔ is not touched by it/);
    assert.match(stdout, /✔ declares it/);
  });

  it('finds globals however they were added, and takes those of the platform for no leftovers', () => {
    const root = project({
      'a.test.ts': `${head}
        it('1', () => { globalThis.left1 = 1; });
        it('2', () => { Object.defineProperty(window, 'left2', { value: 1, configurable: true }); });
        it('3', () => { Object.defineProperties(window, { left3: { value: 1, configurable: true } }); });
        it('4', () => { Reflect.defineProperty(window, 'left4', { get: () => 1, configurable: true }); });
        it('5', () => { const script = document.createElement('script'); script.textContent = 'function left5() {}'; document.head.append(script); script.remove(); });
        it('6', () => { Object.assign(window, { left6: 1 }); });
        it('of the platform', () => {
          const { ResizeObserver } = window;
          Object.defineProperty(window, 'ResizeObserver', { value: class {}, configurable: true, writable: true });
          assert.notEqual(window.ResizeObserver, ResizeObserver);
          delete window.ResizeObserver;
          window.ResizeObserver = ResizeObserver;
        });
        it('removed', () => { Object.defineProperty(window, 'gone', { value: 1, configurable: true }); delete window.gone; });`,
    });
    const { stdout } = chromium(root, '--no-shuffle', '--report', 'tap');
    for (const n of [1, 2, 3, 4, 5, 6])
      assert.match(stdout, new RegExp(`not ok ${n} - ${n}\n[^#]*the global "left${n}"`));
    assert.match(stdout, / ok 7 - of the platform\n[^]* ok 8 - removed\n/);
  });

  it('isolates files from each other, in parallel and in sequence', () => {
    const file = `${head}import { leaves } from 'eltrix-tool/testing';
      it('finds nothing', async () => {
        leaves('storage');
        const heard = [];
        const channel = new BroadcastChannel('all');
        channel.onmessage = ({ data }) => heard.push(data);
        channel.postMessage('here');
        assert.deepEqual(Object.keys(localStorage), []);
        assert.deepEqual(await indexedDB.databases(), []);
        localStorage.setItem('mine', '1');
        await new Promise((resolve, reject) => Object.assign(indexedDB.open('mine'), { onsuccess: resolve, onerror: reject }));
        await new Promise(resolve => setTimeout(resolve, 300));
        channel.close();
        assert.deepEqual(heard, []);
      });`;
    const { status, stdout } = chromium(project({ 'a.test.ts': file, 'b.test.ts': file, 'c.test.ts': file }));
    assert.equal(status, 0, stdout);
  });

  it('finds an order dependency, its cause, and a command that shows it', () => {
    const root = project({
      'a.test.ts': `${head}
        const shared = { count: 0 };
        it('first', () => {});
        it('spoils', () => { shared.count = 1; });
        it('between', () => {});
        it('needs a clean start', () => assert.equal(shared.count, 0));
        it('needs it spoilt', () => assert.equal(shared.count, 1));`,
    });
    const { status, stdout } = chromium(root, '--isolate');
    assert.equal(status, 1);
    assert.equal(
      stdout,
      `a.test.ts finding (order-dependent): "needs a clean start" passes alone, and fails after "spoils".
  npx eltrix test a.test.ts --in chromium --order 2,4
a.test.ts finding (order-dependent): "needs it spoilt" fails alone, and passes after "spoils".
  npx eltrix test a.test.ts --in chromium --order 2,5
2 tests depend on what ran before.
`,
    );
    assert.match(chromium(root, 'a.test.ts', '--order', '2,4').stdout, /✖ needs a clean start/);
    assert.match(chromium(root, 'a.test.ts', '--order', '4').stdout, /✔ needs a clean start/);
  });

  it('fails tests that hang or crash their page, replaces the page, and continues', () => {
    const root = project({
      'hang.test.ts': `${head}
        describe('a suite', () => {
          it('before', () => {});
          it('hangs', { timeout: 300 }, () => { for (;;); });
          it('after', () => {});
        });`,
      'crash.test.ts': `${head}
        it('crashes', { timeout: 60_000 }, () => {
          const all: unknown[] = [];
          for (;;) all.push(new Array(1e6).fill(1.5));
        });
        it('after the crash', () => {});`,
      'late.test.ts': `${head} it('never ends', { timeout: 50 }, () => new Promise(() => {}));`,
    });
    const { status, stdout } = chromium(root, '--no-shuffle');
    assert.equal(status, 1);
    for (const name of ['before', 'after', 'after the crash']) assert.match(stdout, new RegExp(`✔ ${name} `));
    assert.match(
      stdout,
      /✖ hangs [^]*\(page-lost\): The page did not answer any more while "hangs" ran: it has an endless loop\. The page was replaced, and the run continues\./,
    );
    assert.match(stdout, /✖ crashes [^]*\(page-lost\): the page crashed \(.*\) while "crashes" ran\./);
    assert.match(stdout, /✖ never ends [^]*test timed out after 50ms/);
  });

  it('shows audit findings: rule, element, advice', () => {
    const root = project({
      'a.test.ts': `${head}import { audit, stage } from 'eltrix-tool/testing'; import { contract, markup } from 'eltrix';
        class BadForm extends contract('bad-form', {}) { view() { return markup\`<input type="text"><img src="data:,">\`; } }
        BadForm.define();
        it('audits', async () => { await audit(await stage('<bad-form></bad-form>')); });`,
    });
    const { status, stdout } = chromium(root);
    assert.equal(status, 1);
    assert.match(stdout, /\(audit-findings\): 2 accessibility findings\./);
    assert.match(
      stdout,
      /image-alt \(critical\): bad-form >>> img\n\s+<img src="data:,">\n\s+One of these has to change: Element does not have an alt attribute; /,
    );
    assert.match(stdout, /label \(critical\): bad-form >>> input/);
  });

  it('shows difference, author’s line and excerpt, and assigns console output and uncaught errors to their test', () => {
    const root = project({
      'a.test.ts': `${head}
it('compares', () => {
  const seen: { name: string } = { name: 'Bramble' };
  assert.deepEqual(seen, { name: 'Rosemary' });
});
it('prints', () => console.log('seen', { a: 1 }));
it('throws later', async () => {
  setTimeout(() => { throw new TypeError('too late'); });
  await new Promise(resolve => setTimeout(resolve, 20));
});`,
    });
    const { stdout } = chromium(root, '--no-shuffle');
    assert.match(stdout, /test at a\.test\.ts:4:1\n✖ compares/);
    assert.match(stdout, /\{ name: 'Bramble' \} !== \{ name: 'Rosemary' \}/);
    assert.match(stdout, /> 6 \| {3}assert\.deepEqual\(seen, \{ name: 'Rosemary' \}\);\n\s+\| {10}\^/);
    assert.match(stdout, /at a\.test\.ts:6:10/);
    assert.match(stdout, /✔ prints .*\n\s+ℹ console\.log: seen \{ a: 1 \}/);
    assert.match(stdout, /✖ throws later [^]*too late[^]*a\.test\.ts:10:28/);
  });

  it('reports files that do not load, have no test, or do not exist', () => {
    const root = project({ 'a.test.ts': "throw new Error('at the top');", 'b.test.ts': 'export {};' });
    const { stdout } = chromium(root);
    assert.match(stdout, /✖ the file loads [^]*at the top[^]*a\.test\.ts:1:7/);
    assert.match(stdout, /\(no-tests\): b\.test\.ts has no test in it\./);
    const nothing = chromium(root, 'nowhere.test.ts');
    assert.equal(nothing.status, 2);
    assert.match(nothing.stderr, /\(no-test-files\): No file matches "nowhere\.test\.ts"\./);
    assert.match(
      eltrix(root, 'test', '--in', 'chromum').stderr,
      /\(engine-unknown\): "chromum" is not an engine\. Did you mean "chromium"\?/,
    );
  });

  it('filters by name, repeats tests and orders, and prints TAP, JUnit and dots', () => {
    const root = project({
      'a.test.ts': `${head} describe('a', () => { it('x', () => {}); it('y', () => {}); }); it('z', () => {});`,
    });
    const names = (text: string) => [...text.matchAll(/✔ ([xyz]\b.*?) \([\d.]+ms\)/g)].map(([, name]) => name);
    assert.deepEqual(names(chromium(root, '--match', 'a', '--no-shuffle').stdout), ['x', 'y']);
    assert.deepEqual(names(chromium(root, '--match', '^z$', '--times', '2').stdout), ['z (1 of 2)', 'z (2 of 2)']);
    const orders = ['11', '11', '12', '13', '14'].map(seed => names(chromium(root, '--shuffle', seed).stdout).join());
    assert.equal(orders[0], orders[1]);
    assert.ok(new Set(orders).size > 1);
    const tap = chromium(root, '--report', 'tap');
    assert.match(tap.stdout, /^TAP version 13\n/);
    assert.match(tap.stderr, /Repeat it with --shuffle=\d+/);
    assert.match(chromium(root, '--report', 'junit').stdout, /^<\?xml version="1\.0"/);
    assert.match(chromium(root, '--report', 'dot').stdout, /\.{3}/);
  });

  it('measures coverage', () => {
    const root = project({
      'src/tidy.ts': `export function tidy(text: string) {\n  if (text === '') {\n    return 'nothing';\n  }\n  return text.trim();\n}\n`,
      'src/unloaded.ts':
        '// Says why.\nexport type Text = string;\nexport function never(): Text {\n  return "x";\n}\n',
      'src/tidy.test.ts': `${head}import { tidy } from './tidy.ts'; it('tidies', () => assert.equal(tidy(' a '), 'a'));`,
    });
    const { stdout } = chromium(root, '--coverage');
    // A way of a condition that no test goes, and a source that no test loads.
    assert.match(stdout, /src\/tidy\.ts +\d+\.\d % +0\.0 % +3\n/);
    assert.match(stdout, /src\/unloaded\.ts +0\.0 % +- +none ran\n/);
    const lcov = readFileSync(join(root, 'coverage/lcov.info'), 'utf8');
    assert.match(lcov, /SF:src\/tidy\.ts\n/);
    assert.match(lcov, /DA:3,0\n/);
    assert.match(lcov, /DA:5,1\n/);
    assert.match(lcov, /BRDA:3,0,0,0\nBRF:1\nBRH:0\n/);
    assert.match(lcov, /SF:src\/unloaded\.ts\nBRF:0\nBRH:0\nDA:3,0\nDA:4,0\n/);
  });
});

describe('eltrix test --watch', { skip }, () => {
  let watcher: ReturnType<typeof running> | undefined;
  afterEach(() => watcher?.end());

  it('runs the tests affected by a change', async () => {
    const test = (expected: string) =>
      `${head} import { name } from './name.ts'; it('is named', () => assert.equal(name, '${expected}'));`;
    const root = project({
      'name.ts': "export const name = 'a';",
      'a.test.ts': test('a'),
      'b.test.ts': `${head} it('other', () => {});`,
    });
    watcher = running(root, 'test', '--in', 'chromium', '--watch');
    await watcher.until(/Watching/);
    writeFileSync(join(root, 'name.ts'), "export const name = 'b';");
    const seen = await watcher.until(/duration_ms/);
    assert.match(seen, /✖ is named/);
    assert.doesNotMatch(seen, /other/);
    writeFileSync(join(root, 'a.test.ts'), test('b'));
    assert.match(await watcher.until(/duration_ms/), /✔ is named/);
  });

  it('follows all kinds of sources, new and removed files, and what did not bundle', async () => {
    const test = (name: string, from: string) =>
      `${head} import ${name} from '${from}'; it('has ' + ${name}, () => {});`;
    const root = project({
      'a.ts': "export default 'a1';",
      'a.test.ts': test('a', './a.ts'),
      'b.ts': "export { default } from './c.ts';",
      'c.ts': "export default 'b1';",
      'b.test.ts': test('b', './b.ts'),
      'sheet.css': 'p { order: 1 }',
      'sheet.test.ts': `${head} import sheet from './sheet.css' with { type: 'css' };
        it('has ' + sheet.cssRules[0].style.order, () => {});`,
      'note.txt': 'text1',
      'note.test.ts': test('note', './note.txt?raw'),
    });
    watcher = running(root, 'test', '--in', 'chromium', '--watch');
    await watcher.until(/Watching/);
    /** Saves files, and returns the results of the run that follows. */
    const save = async (files: Record<string, string | undefined>) => {
      for (const [file, text] of Object.entries(files))
        if (text === undefined) rmSync(join(root, file));
        else writeFileSync(join(root, file), text);
      const output = await watcher!.until(/▶[^]*duration_ms/);
      // The failures of the run before are printed after its summary.
      const seen = output.slice(output.indexOf('▶'));
      return [...new Set(seen.match(/[✔✖] (?:has \w+|\S+\.test\.ts)/g))].sort().join(', ');
    };
    assert.equal(await save({ 'a.ts': "export default 'a2';" }), '✔ a.test.ts, ✔ has a2');
    // The sources of files that did not run just now are still known.
    assert.equal(await save({ 'c.ts': "export default 'b2';" }), '✔ b.test.ts, ✔ has b2');
    assert.equal(await save({ 'sheet.css': 'p { order: 2 }' }), '✔ has 2, ✔ sheet.test.ts');
    assert.equal(await save({ 'note.txt': 'text2' }), '✔ has text2, ✔ note.test.ts');
    assert.equal(await save({ 'd.test.ts': `${head} it('has d', () => {});` }), '✔ d.test.ts, ✔ has d');
    assert.equal(await save({ 'd.test.ts': `${head} it('has e', () => {});` }), '✔ d.test.ts, ✔ has e');
    // What is missing may come from anywhere.
    assert.equal(await save({ 'c.ts': 'export const none = 1;' }), '✖ b.test.ts');
    assert.equal(await save({ 'c.ts': "export default 'b3';" }), '✔ b.test.ts, ✔ has b3');
    assert.equal(await save({ 'a.ts': "export { default } from './later.ts';" }), '✖ a.test.ts');
    assert.equal(await save({ 'later.ts': "export default 'a3';" }), '✔ a.test.ts, ✔ has a3');
    assert.equal(await save({ 'd.test.ts': undefined, 'later.ts': "export default 'a4';" }), '✔ a.test.ts, ✔ has a4');
    assert.equal(await save({ 'c.ts': "export default 'b4';" }), '✔ b.test.ts, ✔ has b4');
  });
});
