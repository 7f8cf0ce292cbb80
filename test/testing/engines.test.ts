/** The helpers of `eltrix/testing` in every engine, on a grid, under plain Node, and that nothing is left running. */
import assert from 'node:assert/strict';
import { execFileSync, spawnSync } from 'node:child_process';
import { cpSync, existsSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, describe, it } from 'node:test';
import { build } from 'vite';
import { findProgram } from '../../packages/eltrix-tool/src/engines/find.ts';
import { engines } from '../../packages/eltrix-tool/src/engines/index.ts';
import { eltrix, project, repository, running } from '../support/project.ts';
import { display, endServers, startDriver, startHub } from '../support/servers.ts';

function suite(): string {
  const root = project({});
  cpSync(join(repository, 'test/testing/suite'), join(root, 'src'), { recursive: true });
  return root;
}

after(endServers);

describe('the helpers of eltrix-tool/testing', () => {
  for (const name of [...Object.keys(engines), 'simulated'] as const) {
    const missing = name !== 'simulated' && !engines[name as 'webkit'].find();
    it(`in ${name}`, { skip: missing && 'it is not installed' }, () => {
      const { status, stdout } = eltrix(suite(), 'test', '--in', name);
      assert.equal(status, 0, stdout);
      assert.match(stdout, /^ℹ pass 10$/m);
      assert.match(stdout, /^ℹ fail 0$/m);
    });
  }

  it('under plain node --test, in the simulated DOM', async () => {
    const root = suite();
    await build({
      root,
      configFile: false,
      logLevel: 'silent',
      ssr: { noExternal: true, external: ['node:test', 'node:assert/strict', 'eltrix', 'eltrix-tool/testing'] },
      build: { ssr: 'src/hive-card.test.ts', outDir: 'out', rolldownOptions: { external: [/^node:/, /^eltrix/] } },
    });
    const [file] = readdirSync(join(root, 'out'));
    const { stdout, status } = spawnSync(
      process.execPath,
      [
        '--conditions=development',
        '--test',
        '--test-reporter=tap',
        '--import',
        'eltrix-tool/testing/simulated',
        `out/${file}`,
      ],
      { cwd: root, encoding: 'utf8', env: { ...process.env, NODE_TEST_CONTEXT: undefined } },
    );
    assert.equal(status, 0, stdout);
    assert.match(stdout, /^# pass (?:9|10)$/m);
  });
});

describe('several pages of one browser', () => {
  for (const name of ['chromium', 'firefox'] as const)
    it(`are all visible and get frames in ${name}`, {
      skip: !engines[name].find() && 'it is not installed',
    }, async () => {
      const session = await engines[name].start();
      try {
        const pages = [];
        for (let at = 0; at < 3; at++) pages.push(await session.open('data:text/html,<p>A page'));
        const frame = `Promise.race([
          new Promise(resolve => requestAnimationFrame(() => resolve(document.visibilityState))),
          new Promise(resolve => setTimeout(resolve, 5000, 'no frame came')),
        ])`;
        const seen = await Promise.all(pages.map(page => page.evaluate(frame)));
        assert.deepEqual(seen, ['visible', 'visible', 'visible']);
      } finally {
        await session.close();
      }
    });

  const focused = `import assert from 'node:assert/strict';
import { it } from 'node:test';
import { stage } from 'eltrix-tool/testing';
for (const round of [1, 2, 3])
  it('has the focus ' + round, async () => {
    const log = [];
    const field = await stage('<input>');
    for (const type of ['focus', 'blur']) field.addEventListener(type, () => log.push(type));
    field.focus();
    await new Promise(resolve => setTimeout(resolve, 300));
    assert.deepEqual([document.hasFocus(), field.matches(':focus'), log], [true, true, ['focus']]);
  });
`;
  for (const name of ['chromium', 'firefox', 'webkit'] as const)
    it(`have the focus while their tests run in ${name}`, {
      skip: !engines[name].find() && 'it is not installed',
    }, () => {
      const root = project(Object.fromEntries(['a', 'b', 'c', 'd'].map(file => [`${file}.test.js`, focused])));
      const { status, stdout } = eltrix(root, 'test', '--in', name);
      assert.equal(status, 0, stdout);
      assert.match(stdout, /^ℹ pass 12$/m);
    });
});

describe('files that run in one tab', () => {
  const spoiled = (how: string) => `import assert from 'node:assert/strict';
import { after, it } from 'node:test';
import { stage } from 'eltrix-tool/testing';
it('finds a new page', async () => {
  const button = await stage('<button style="position: fixed; inset: 0">x</button>');
  const { length, state } = history;
  assert.deepEqual(
    { state, name, from: document.referrer, hovered: button.matches(':hover'), visible: document.visibilityState, focus: document.hasFocus(), innerWidth },
    { state: null, name: '', from: '', hovered: false, visible: 'visible', focus: true, innerWidth: 1280 },
  );
  assert.equal(scrollY, 0);
  console.log('history: ' + length);
});
after(async () => { ${how} });
`;
  const spoils = {
    history: "history.pushState(1, '');",
    name: "window.name = 'a name';",
    leaving: "addEventListener('beforeunload', event => event.preventDefault()); onbeforeunload = () => 'stay';",
    staying: "globalThis.navigation?.addEventListener('navigate', event => event.preventDefault());",
    document: 'document.documentElement.remove();',
    head: 'document.head.remove();',
    timers: 'setInterval(() => { for (const end = performance.now() + 20; performance.now() < end; ); }, 1);',
    window: "open('about:blank');",
    scroll: "document.body.style.height = '9000px'; scrollTo(0, 5000);",
    nothing: '',
  };
  for (const name of ['chromium', 'firefox', 'webkit'] as const)
    it(`find each a new page in ${name}`, { skip: !engines[name].find() && 'it is not installed' }, () => {
      const files = Object.entries(spoils).map(([file, how]) => [`${file}.test.js`, spoiled(how)]);
      const input = `import { it } from 'node:test';
import { stage, user } from 'eltrix-tool/testing';
it('is clicked', async () => { await user.click(await stage('<button style="position: fixed; inset: 0">x</button>')); });`;
      const root = project({ ...Object.fromEntries(files), 'a-click.test.js': input, 'n-click.test.js': input });
      const { status, stdout } = eltrix(root, 'test', '--in', name);
      assert.equal(status, 0, stdout);
      // A driver of WebKit has one window, and its history.
      if (name !== 'webkit') assert.equal(new Set(stdout.match(/history: \d+/g)).size, 1, stdout);
    });
});

describe('a grid', () => {
  const driver = findProgram(['chromedriver']);
  const chrome = {
    browserName: 'chrome',
    'goog:chromeOptions': {
      binary: findProgram(['chromium']),
      args: ['--headless', '--no-sandbox', '--disable-gpu', '--disable-background-networking', '--no-first-run'],
    },
  };

  it('chromedriver as the remote end, two sessions at once', { skip: !driver && 'no chromedriver' }, async () => {
    const root = suite();
    writeFileSync(join(root, 'src/b.test.ts'), "import { it } from 'node:test'; it('b', () => {});");
    const url = await startDriver(driver!);
    const args = ['test', '--grid', url, '--capabilities', JSON.stringify(chrome), '--sessions', '2'];
    const { status, stdout } = eltrix(root, ...args);
    assert.equal(status, 0, stdout);
    assert.match(stdout, /▶ chrome [\d.]+ on 127\.0\.0\.1:\d+/);
    assert.match(stdout, /✔ tells that it was opened/);
    assert.match(stdout, /✔ b /);
  });

  it('WebKitWebDriver as the remote end', { skip: !engines.webkit.find() && 'no WebKit' }, async () => {
    const url = await startDriver('WebKitWebDriver', ['--host=127.0.0.1'], {
      ...process.env,
      DISPLAY: await display(),
    });
    const [folder] = readdirSync('/usr/lib').filter(name => existsSync(`/usr/lib/${name}/webkit2gtk-4.1/MiniBrowser`));
    const capabilities = {
      browserName: 'MiniBrowser',
      'webkitgtk:browserOptions': { binary: `/usr/lib/${folder}/webkit2gtk-4.1/MiniBrowser`, args: ['--automation'] },
    };
    const { status, stdout } = eltrix(suite(), 'test', '--grid', url, '--capabilities', JSON.stringify(capabilities));
    assert.equal(status, 0, stdout);
    assert.match(stdout, /✔ takes what is typed, and keys/);
  });

  it('a Selenium server with two nodes', {
    skip: !(driver && findProgram(['java'])) && 'no chromedriver or no Java',
  }, async () => {
    const url = await startHub('chrome', driver!, 2);
    const root = suite();
    writeFileSync(join(root, 'src/b.test.ts'), "import { it } from 'node:test'; it('b', () => {});");
    const { status, stdout } = eltrix(
      root,
      'test',
      '--grid',
      `${url}/wd/hub`,
      '--capabilities',
      JSON.stringify(chrome),
      '--sessions',
      '2',
    );
    assert.equal(status, 0, stdout);
    assert.match(stdout, /✔ tells that it was opened/);
  });

  it('reports a server that does not answer', () => {
    const { stdout } = eltrix(
      suite(),
      'test',
      '--grid',
      'http://127.0.0.1:9',
      '--capabilities',
      '{"browserName":"chrome"}',
    );
    assert.match(stdout, /The WebDriver server http:\/\/127\.0\.0\.1:9 gave no session/);
  });
});

const processes = () =>
  execFileSync('ps', ['-eo', 'ppid=,args='], { encoding: 'utf8' })
    .split('\n')
    .map(line => ({ parent: Number.parseInt(line, 10), command: line }));

async function until<T>(look: () => T): Promise<T> {
  let seen = look();
  for (let tries = 0; !seen && tries < 100; tries++) {
    await new Promise(resolve => setTimeout(resolve, 50));
    seen = look();
  }
  return seen;
}

describe('after a run', () => {
  it('no browser, display or profile remains, even after an interruption', {
    skip: !(engines.chromium.find() && existsSync('/proc')) && 'no Chromium, or no /proc',
  }, async () => {
    const root = suite();
    writeFileSync(
      join(root, 'src/slow.test.ts'),
      "import { it } from 'node:test'; it('slow', () => new Promise(() => {}));",
    );
    const run = running(root, 'test', '--in', 'chromium');
    await run.until(/Random test order/);
    const profile = await until(() => {
      const line = processes().find(
        ({ parent, command }) => parent === run.child.pid && /eltrix-chromium-/.test(command),
      );
      return line && /--user-data-dir=(.*?eltrix-chromium-\w+)/.exec(line.command)?.[1];
    });
    assert.ok(profile && existsSync(profile));
    await run.end();
    assert.ok(await until(() => !processes().some(({ command }) => command.includes(profile)) && !existsSync(profile)));
  });
});
