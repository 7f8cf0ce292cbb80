/** `eltrix test --open` and `--debug`: tests in a browser that somebody looks at. */
import assert from 'node:assert/strict';
import { type ChildProcess, spawn } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, describe, it } from 'node:test';
import { generatedPositionFor, LEAST_UPPER_BOUND, originalPositionFor, TraceMap } from '@jridgewell/trace-mapping';
import { launch } from 'puppeteer-core';
import { findProgram } from '../../packages/eltrix-tool/src/engines/find.ts';
import { type EngineName, engines, type Page } from '../../packages/eltrix-tool/src/engines/index.ts';
import { startDisplay } from '../../packages/eltrix-tool/src/engines/webkit.ts';
import { closeEngines, eltrix, open, project, running, tool } from '../support/project.ts';

const card = (boxes: string) => `import { contract, markup, text } from 'eltrix';
export class HiveCard extends contract('hive-card', { attributes: { name: text() } }) {
  view() { return markup\`<p>\${() => this.name} has ${boxes} boxes</p>\`; }
}
HiveCard.define();
`;

const files = {
  'hive-card.ts': card('three'),
  'card.test.ts': `import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { stage, user } from 'eltrix-tool/testing';
import './hive-card.ts';
describe('hive-card', () => {
  it('shows its name', async () => {
    const card = await stage('<hive-card name="Rosemary"></hive-card>');
    console.log('staged');
    assert.match(card.shadowRoot!.textContent!, /three/);
  });
  it('is fine', async () => { await stage('<hive-card name="Thyme"></hive-card>'); });
});
`,
  'other.test.ts': `import { it } from 'node:test';
it('leaves a timer', () => { setInterval(() => {}, 1000); });
it.skip('later', () => {});
`,
};

/** What the page shows, for \`evaluate\`. */
const shown = `(() => {
  const app = document.querySelector('runner-app').shadowRoot;
  const rows = [...app.querySelector('runner-tree').shadowRoot.querySelectorAll('.row')];
  return {
    counts: app.querySelector('.counts').textContent.replace(/\\s+/g, ' ').trim(),
    rows: rows.map(row => row.querySelector('.word').textContent + ' ' + row.querySelector('.word').parentNode.textContent.trim().split(/\\s+/).slice(1).join(' ')),
    test: app.querySelector('runner-test').shadowRoot.textContent.replace(/\\s+/g, ' ').trim(),
    frame: app.querySelector('iframe')?.src,
    address: location.hash,
  };
})()`;

interface Shown {
  readonly counts: string;
  readonly rows: readonly string[];
  readonly test: string;
  readonly frame: string;
  readonly address: string;
}

async function until(page: Page, what: (shown: Shown) => boolean): Promise<Shown> {
  const end = performance.now() + 30_000;
  for (;;) {
    const seen = await page.evaluate<Shown>(shown);
    if (what(seen)) return seen;
    assert.ok(performance.now() < end, JSON.stringify(seen, undefined, 1));
    await new Promise(resolve => setTimeout(resolve, 50));
  }
}

const click = (page: Page, label: string) =>
  page.evaluate(
    `document.querySelector('runner-app').shadowRoot.querySelector('runner-tree').shadowRoot.querySelector('[aria-label="${label}"]').click()`,
  );

describe('tests as a page', () => {
  after(closeEngines);

  for (const name of ['chromium', 'firefox', 'webkit'] as const satisfies readonly EngineName[])
    it(`run at once, one by one, and again when a source is saved, in ${name}`, {
      skip: !engines[name].find() && `no ${name}`,
    }, async () => {
      const root = project(files);
      const run = running(root, 'test', '--open');
      try {
        const printed = await run.until(/http:\/\/127\.0\.0\.1:\d+\//);
        const address = /http:\/\/127\.0\.0\.1:\d+\//.exec(printed)![0];
        const page = (await open(address, name))!;
        const all = await until(page, ({ counts }) => /^2 passed ?1 failed ?1 skipped$/.test(counts));
        assert.deepEqual(all.rows, [
          'passed card.test.ts',
          'passed hive-card',
          'passed shows its name',
          'passed is fine',
          'failed other.test.ts',
          'failed leaves a timer',
          'skipped later',
        ]);
        // What is chosen stands in the address; the failure says what was left behind.
        await page.evaluate("location.hash = '#/other.test.ts?leaves%20a%20timer'");
        const chosen = await until(page, ({ test }) => test.includes('left-behind'));
        assert.match(chosen.test, /setInterval/);
        await page.evaluate("location.hash = '#/card.test.ts?hive-card/shows%20its%20name'");
        await until(page, ({ test }) => /passed.*Console ?console\.log: staged/.test(test));
        // One test alone, in a new page.
        await click(page, 'Run shows its name');
        await until(page, ({ counts, frame }) => frame !== all.frame && /^2 passed ?1 failed/.test(counts));
        // A saved source runs what it concerns, and the page says why it fails.
        writeFileSync(join(root, 'hive-card.ts'), card('four'));
        const failed = await until(page, ({ counts }) => /^1 passed ?2 failed/.test(counts));
        assert.match(
          failed.test,
          /✕ failed.*did not match the regular expression.*The page when it failed.*has four boxes/,
        );
        // A new file is there without a restart.
        writeFileSync(join(root, 'new.test.ts'), "import { it } from 'node:test'; it('is new', () => {});");
        await until(page, ({ rows }) => rows.includes('passed is new'));
        // A page that is loaded again shows what is known.
        await page.go(`${address}${failed.address}`);
        await until(page, ({ counts, test }) => /^2 passed ?2 failed/.test(counts) && test.includes('has four boxes'));
        await page.close();
      } finally {
        await run.end();
      }
    });

  it('stops at breakpoints in the TypeScript', {
    skip: !engines.chromium.find() && 'no Chromium',
  }, async () => {
    const run = running(project(files), 'test', '--open');
    const browser = await launch({
      executablePath: findProgram([
        process.env['ELTRIX_CHROMIUM'],
        'chromium',
        'google-chrome-stable',
        'google-chrome',
      ])!,
      args: process.getuid?.() === 0 ? ['--no-sandbox'] : [],
    });
    try {
      const [address] = /http:\/\/127\.0\.0\.1:\d+\//.exec(await run.until(/http:\/\/127\.0\.0\.1:\d+\//))!;
      const page = await browser.newPage();
      const client = await page.createCDPSession();
      await client.send('Debugger.enable');
      const scripts: { url: string; sourceMapURL?: string }[] = [];
      client.on('Debugger.scriptParsed', script => void scripts.push(script));
      const paused = new Promise<{
        callFrames: { location: { lineNumber: number; columnNumber?: number }; url: string }[];
      }>(resolve => client.on('Debugger.paused', resolve));
      await page.goto(address!);
      const seen = { evaluate: (expression: string) => page.evaluate(expression) } as unknown as Page;
      await until(seen, ({ counts }) => /^2 passed ?1 failed ?1 skipped$/.test(counts));
      await page.evaluate("location.hash = '#/card.test.ts'");
      await click(seen, 'Run card.test.ts');
      const { frame } = await until(
        seen,
        ({ test, counts }) => /passed/.test(test) && /^2 passed ?1 failed/.test(counts),
      );
      // Line 11 of the test, as developer tools find it: through the map that the script names.
      for (const { url, sourceMapURL } of scripts) {
        if (!sourceMapURL || !url.startsWith(new URL(frame).origin)) continue;
        const map = new TraceMap((await (await fetch(new URL(sourceMapURL!, url))).json()) as never);
        const source = map.sources.find(name => name?.endsWith('card.test.ts'));
        const at = source && generatedPositionFor(map, { source, line: 11, column: 2, bias: LEAST_UPPER_BOUND });
        if (!at || at.line === null) continue;
        const urlRegex = `/${url.split('/').at(-1)!.replaceAll('.', '\\.')}$`;

        await client.send('Debugger.setBreakpointByUrl', {
          urlRegex,
          lineNumber: at.line - 1,
          columnNumber: at.column,
        });
        await click(seen, 'Run is fine');
        const late = new Promise<never>((_, reject) =>
          setTimeout(reject, 20_000, new Error('nothing stopped')).unref(),
        );
        const { callFrames } = await Promise.race([paused, late]);
        const { lineNumber, columnNumber = 0 } = callFrames[0]!.location;
        assert.equal(originalPositionFor(map, { line: lineNumber + 1, column: columnNumber }).line, 11);
        // Longer than any page is waited for otherwise.
        await new Promise(resolve => setTimeout(resolve, 4000));
        await client.send('Debugger.resume');
        await until(seen, ({ counts }) => /^2 passed ?1 failed/.test(counts));
        return;
      }
      assert.fail('no script has a map of card.test.ts');
    } finally {
      await browser.close();
      await run.end();
    }
  });

  it('is keyboard accessible and passes the audit', { skip: !engines.chromium.find() && 'no Chromium' }, async () => {
    const run = running(project(files), 'test', '--open');
    try {
      const [address] = /http:\/\/127\.0\.0\.1:\d+\//.exec(await run.until(/http:\/\/127\.0\.0\.1:\d+\//))!;
      const page = (await open(`${address}#/other.test.ts?leaves%20a%20timer`))!;
      await until(page, ({ counts }) => /^2 passed ?1 failed ?1 skipped$/.test(counts));
      const axe = readFileSync(new URL('../../packages/eltrix-tool/dist/axe.cjs', import.meta.url), 'utf8');
      await page.evaluate(`(() => { ${axe}; return true; })()`);
      const findings = await page.evaluate(
        "axe.run(document, { resultTypes: ['violations'], iframes: false }).then(({ violations }) => violations.map(({ id, nodes }) => [id, nodes[0].html]))",
      );
      assert.deepEqual(findings, []);
      await page.close();
    } finally {
      await run.end();
    }
  });

  it('rejects other origins and unknown requests', async () => {
    const run = running(project(files), 'test', '--open');
    try {
      const [address] = /http:\/\/127\.0\.0\.1:\d+\//.exec(await run.until(/http:\/\/127\.0\.0\.1:\d+\//))!;
      const post = (body: string, headers = {}) => fetch(`${address}run`, { method: 'POST', body, headers });
      assert.equal((await post('[]')).status, 200);
      assert.equal((await post('[{ "file": "../x.test.ts" }]')).status, 400);
      assert.equal((await post('{')).status, 400);
      assert.equal((await post('[]', { origin: 'http://elsewhere.example' })).status, 403);
      assert.equal((await fetch(`${address}card.test.ts`)).status, 404);
    } finally {
      await run.end();
    }
  });
});

describe('--debug', () => {
  it('explains a missing display', () => {
    const root = project(files);
    const before = process.env['DISPLAY'];
    delete process.env['DISPLAY'];
    const { status, stderr } = eltrix(root, 'test', '--debug', '--in', 'chromium');
    if (before !== undefined) process.env['DISPLAY'] = before;
    assert.equal(status, 2);
    assert.match(stderr, /\(no-display\): --debug opens a window.*xvfb-run/);
  });

  // Firefox needs 25 seconds for its window with developer tools on a virtual display.
  for (const name of ['chromium', 'webkit'] as const)
    it(`opens a window, waits, sends trusted input, and stays, in ${name}`, {
      skip: (!engines[name].find() || !engines.webkit.find()) && `no ${name}, or no virtual display`,
    }, async () => {
      const children = new Map<ChildProcess, () => void>();
      const display = process.env['DISPLAY'] ?? (await startDisplay(children));
      const root = project({
        'a.test.ts': `import assert from 'node:assert/strict';
import { it } from 'node:test';
import { stage, user } from 'eltrix-tool/testing';
it('is clicked', async () => {
  const button = await stage('<button>x</button>');
  const clicked = new Promise<Event>(resolve => button.addEventListener('click', resolve));
  await user.click(button);
  assert.ok((await clicked).isTrusted);
});`,
      });
      const args = ['test', '--debug', '--in', name, '--report', 'tap'];
      const child = spawn(process.execPath, [tool, ...args], { cwd: root, env: { ...process.env, DISPLAY: display } });
      try {
        let [out, err] = ['', ''];
        child.stdout.on('data', data => (out += data));
        const said = (pattern: RegExp) =>
          new Promise<void>((resolve, reject) => {
            const late = setTimeout(() => reject(new Error(`${pattern} did not come: ${err}${out}`)), 60_000);
            const look = () => {
              if (!pattern.test(err + out)) return;
              clearTimeout(late);
              resolve();
            };
            child.stdout.on('data', look);
            child.stderr.on('data', look);
            look();
          });
        child.stderr.on('data', data => (err += data));
        await said(/Set breakpoints/);
        assert.doesNotMatch(out, /ok \d+ - is clicked/);
        child.stdin.write('\n');
        await said(/The tests have run/);
        await said(/ok \d+ - is clicked/);
        child.stdin.write('\n');
        assert.equal(await new Promise(resolve => child.once('exit', resolve)), 0);
      } finally {
        child.kill('SIGKILL');
        for (const end of children.values()) end();
      }
    });
});
