// npm run pictures: takes the pictures of docs/screenshots, from the demonstration: terminals and pages.
// node scripts/pictures.js server: takes those of one group only: terminals, gallery, apiary, server, tests, editor, site.
import { spawn, spawnSync } from 'node:child_process';
import { copyFileSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { buildLibrary, root } from './prepare.js';
import { terminalPage } from './terminal-page.js';

buildLibrary();
const { engines } = await import('../packages/eltrix-tool/dist/tool/engines/index.js');
const vite = await import('vite');
const apiary = join(root, 'examples/apiary');
const tool = join(root, 'packages/eltrix-tool/dist/tool/cli/main.js');
const shots = join(root, 'docs/screenshots');
const folder = mkdtempSync(join(tmpdir(), 'eltrix-pictures-'));

/** What a command prints, as a page. */
function terminal(command, args, cwd) {
  const { stdout, stderr } = spawnSync(process.execPath, [tool, ...args], {
    cwd,
    encoding: 'utf8',
    env: { ...process.env, FORCE_COLOR: '1' },
  });
  const html = terminalPage(stdout + (stderr.startsWith('\r') ? '' : stderr), `$ npx eltrix ${command}`);
  const file = join(folder, 'terminal.html');
  writeFileSync(file, html);
  return pathToFileURL(file).href;
}

/** Whether the frames of a part of the gallery have loaded, as far as they run. */
const platesReady = part => `(() => {
  const plates = document.querySelector('gallery-app').shadowRoot.querySelector('${part}')?.shadowRoot.querySelectorAll('gallery-plate') ?? [];
  const running = [...plates].filter(plate => plate.shadowRoot?.querySelector('iframe'));
  return running.length > 1 && running.every(plate => !plate.shadowRoot.querySelector('.loading'));
})()`;

/** The gallery of the apiary. */
async function gallery() {
  const served = spawn(process.execPath, [tool, 'serve', '--port', '0'], { cwd: apiary });
  const address = await new Promise(resolve => {
    served.stdout.on('data', text => {
      const found = /http:\S+/.exec(String(text));
      if (found) resolve(found[0]);
    });
  });
  try {
    await shoot(address, 'gallery.png', 800, { until: platesReady('gallery-wall') });
    const chosen = `${address}#/hive-card/a-busy-hive-with-frames?style.--hive-accent=%23c2410c`;
    const down =
      "document.querySelector('gallery-app').shadowRoot.querySelector('gallery-sheet').shadowRoot.querySelectorAll('gallery-plate')[1].scrollIntoView()";
    await shoot(chosen, 'gallery-element.png', 800, { until: platesReady('gallery-sheet'), before: down });
  } finally {
    served.kill();
  }
}

const session = await engines.chromium.start();
/** @param until an expression that is true once the page shows what it has to. */
const shoot = async (url, name, height = 800, { width = 1280, before = '0', wait = 400, until = 'true' } = {}) => {
  const page = await session.open(url, { viewport: { width, height } });
  await page.evaluate(`(async () => {
    for (let tries = 0; tries < 200 && !(${until}); tries++) await new Promise(resolve => setTimeout(resolve, 100));
    await new Promise(resolve => setTimeout(resolve, ${wait}));
  })()`);
  await page.evaluate(before);
  await page.evaluate('new Promise(resolve => setTimeout(resolve, 300))');
  writeFileSync(join(shots, name), await page.screenshot());
  await page.close();
  console.log(`docs/screenshots/${name}`);
};
const groups = {
  async terminals() {
    await shoot(terminal('build --classic', ['build', '--classic'], apiary), 'build.png', 680);
    await shoot(
      terminal('test --in chromium --coverage', ['test', '--in', 'chromium', '--coverage', '--shuffle', '7'], apiary),
      'test.png',
      860,
    );
    await shoot(terminal('new thistle-widgets', ['new', 'thistle-widgets'], folder), 'new.png', 400);
    writeFileSync(
      join(folder, 'usage.html'),
      `<hive-shelf heading="South side">
    <hive-box name="Rosemary" boxes="2" mood="calm" compact onhive-open="show(event)"><b slot="badge">prize</b></hive-box>
    <hive-box name="Bramble" boxes="3" mood="busy"></hive-box>
    <hive-box name="Old Tin" boxes="1" mood="busy"></hive-box>
  </hive-shelf>`,
    );
    await shoot(terminal('sketch usage.html', ['sketch', 'usage.html'], folder), 'sketch.png', 300);
    const report = join(apiary, 'dist/report.html');
    await shoot(
      terminal(
        'check --in chromium --report dist/report.html',
        ['check', '--in', 'chromium', '--report', 'dist/report.html'],
        apiary,
      ),
      'check.png',
      440,
    );
    await shoot(pathToFileURL(report).href, 'check-report.png');
    await shoot(terminal('describe hive-card', ['describe', 'hive-card'], apiary), 'describe.png', 620);
  },
  gallery,
  async apiary() {
    await vite.build({ root: apiary, configFile: join(apiary, 'vite.config.ts'), logLevel: 'silent' });
    const server = await vite.preview({
      root: apiary,
      configFile: join(apiary, 'vite.config.ts'),
      preview: { host: '127.0.0.1', port: 0 },
      logLevel: 'silent',
    });
    await shoot(server.resolvedUrls.local[0], 'apiary.png');
    await shoot(`${server.resolvedUrls.local[0]}hives/Bramble`, 'apiary-hive.png');
    await shoot(`${server.resolvedUrls.local[0]}ledger`, 'apiary-phone.png', 800, { width: 400 });
    await shoot(`${server.resolvedUrls.local[0]}plain.html`, 'plain-page.png');
    await server.close();
  },
  server: rendered,
  tests,
  editor,
  site,
};

/** The tests as a page, with one that fails; and a report with a picture that differs. */
async function tests() {
  const demo = join(folder, 'tests');
  mkdirSync(join(demo, 'node_modules'), { recursive: true });
  for (const name of ['eltrix', 'eltrix-tool'])
    symlinkSync(join(root, 'packages', name), join(demo, 'node_modules', name));
  writeFileSync(join(demo, 'package.json'), '{ "name": "bienenstand", "type": "module" }');
  for (const name of [
    'hive-card.ts',
    'hive-card.specimen.html',
    'hive-card.test.ts',
    'weight-field.ts',
    'weight-field.test.ts',
  ])
    copyFileSync(join(apiary, 'src/elements', name), join(demo, name));
  writeFileSync(
    join(demo, 'look.test.ts'),
    `import { it } from 'node:test';
import { HiveCard } from './hive-card.ts';
import { picture, stage } from 'eltrix-tool/testing';

HiveCard.define();

it('looks as it did', async () => {
  const card = await stage<HiveCard>('<hive-card name="Bramble" boxes="3" mood="busy" style="max-width: 340px"></hive-card>');
  card.frames = [1.2, 2.4, 2.9, 1.8].map((honey, id) => ({ id, honey, capped: honey > 2 }));
  await picture(card, 'busy');
});
`,
  );
  const run = (...args) => spawnSync(process.execPath, [tool, 'test', '--in', 'chromium', ...args], { cwd: demo });
  run('look.test.ts', '--accept');
  const card = join(demo, 'hive-card.ts');
  writeFileSync(
    card,
    readFileSync(card, 'utf8').replace('#e2a21b', '#c8791b').replace('border-radius: 99px', 'border-radius: 6px'),
  );
  run('--report', 'html=report.html');
  await shoot(pathToFileURL(join(demo, 'report.html')).href, 'test-report.png');
  const test = join(demo, 'hive-card.test.ts');
  writeFileSync(test, readFileSync(test, 'utf8').replace("'Rosemary'", "'Bramble'"));
  const served = spawn(process.execPath, [tool, 'test', '--open'], { cwd: demo });
  const address = await new Promise(resolve => {
    served.stdout.on('data', text => {
      const found = /http:\S+/.exec(String(text));
      if (found) resolve(found[0]);
    });
  });
  const choose = `(async () => {
    const tree = document.querySelector('runner-app').shadowRoot.querySelector('runner-tree').shadowRoot;
    const row = tree.querySelector('.test > .failed');
    location.hash = row.querySelector('a').hash;
    row.querySelector('.run').click();
    await new Promise(resolve => setTimeout(resolve, 3000));
  })()`;
  await shoot(address, 'tests.png', 800, { wait: 6000, before: choose });
  served.kill();
}

/** A guide of the site, with its example running. */
async function site() {
  spawnSync(process.execPath, ['build.js'], { cwd: join(root, 'examples/site'), stdio: 'inherit' });
  const server = await vite.preview({
    root: join(root, 'examples/site'),
    configFile: false,
    preview: { host: '127.0.0.1', port: 0 },
    logLevel: 'silent',
  });
  const edit = `(async () => {
    const example = document.querySelector('live-example');
    [...example.shadowRoot.querySelectorAll('button')].find(({ textContent }) => textContent === 'Edit').click();
    await new Promise(resolve => setTimeout(resolve, 1500));
    example.scrollIntoView();
    await new Promise(resolve => setTimeout(resolve, 1500));
  })()`;
  await shoot(`${server.resolvedUrls.local[0]}contracts.html`, 'site.png', 800, { wait: 1500, before: edit });
  await server.close();
}

/** Neovim with the language server: a finding, and completion of a choice. It needs nvim and tmux. */
async function editor() {
  const page = join(folder, 'page.html');
  writeFileSync(
    page,
    `<title>Thistlecombe</title>
<hive-card name="Rosemary" boxes="2" compact="false">
  <b slot="bagde">prize</b>
</hive-card>
<hive-card name="Bramble" mood=""></hive-card>
`,
  );
  copyFileSync(page, join(apiary, 'editor-demo.html'));
  const script = join(folder, 'editor.lua');
  writeFileSync(
    script,
    `vim.o.laststatus = 2; vim.o.signcolumn = 'yes'; vim.o.completeopt = 'menu,noinsert'; vim.o.termguicolors = true; vim.o.background = 'dark'
for name, style in pairs({ Pmenu = 'guibg=#3a362c guifg=#eae6da', PmenuSel = 'guibg=#e2a21b guifg=#1d1b16', SignColumn = 'guibg=NONE', NonText = 'guifg=#4a463c', DiagnosticWarn = 'guifg=#f3c969' }) do vim.cmd('hi ' .. name .. ' ' .. style) end
local client = vim.lsp.start_client({ name = 'eltrix', cmd = { '${process.execPath}', '${tool}', 'language-server', '--stdio' }, root_dir = vim.fn.getcwd() })
vim.lsp.buf_attach_client(0, client)
vim.bo.omnifunc = 'v:lua.vim.lsp.omnifunc'`,
  );
  const tmux = (...args) => spawnSync('tmux', ['-L', 'eltrix-pictures', ...args], { encoding: 'utf8' }).stdout;
  const pause = milliseconds => new Promise(resolve => setTimeout(resolve, milliseconds));
  try {
    const call = `nvim -u NONE -n editor-demo.html -c 'luafile ${script}'`;
    tmux('-f', '/dev/null', 'new-session', '-d', '-x', '142', '-y', '15', '-c', apiary, call);
    await pause(6000);
    tmux('send-keys', '/mood=', 'Enter', 'f"', 'a', 'C-x', 'C-o');
    await pause(3000);
    const html = join(folder, 'editor.html');
    writeFileSync(html, terminalPage(tmux('capture-pane', '-e', '-p'), '$ nvim editor-demo.html'));
    await shoot(pathToFileURL(html).href, 'editor.png', 400);
  } finally {
    tmux('kill-server');
    rmSync(join(apiary, 'editor-demo.html'), { force: true });
  }
}

/** The page of a server that renders: without scripts beside the same with scripts. */
async function rendered() {
  const block = join(root, 'examples/content-block');
  spawnSync(process.execPath, [tool, 'build', '--no-look'], { cwd: block });
  const { server } = await import(pathToFileURL(join(block, 'server.js')).href);
  await new Promise(resolve => server.listen(0, '127.0.0.1', resolve));
  const address = `http://127.0.0.1:${server.address().port}/`;
  const file = join(folder, 'server.html');
  const frame = (title, sandbox) =>
    `<figure><figcaption>${title}</figcaption><iframe src="${address}"${sandbox}></iframe></figure>`;
  writeFileSync(
    file,
    `<!doctype html><meta charset="utf-8"><style>
      body { margin: 0; display: flex; height: 100vh; background: #ece6d8; font: 15px system-ui, "DejaVu Sans", sans-serif }
      figure { flex: 1; margin: 12px; display: flex; flex-direction: column; gap: 8px }
      iframe { flex: 1; border: 1px solid #c9bfa8; background: white }
    </style>${frame('Scripts off', ' sandbox')}${frame('Scripts on', '')}`,
  );
  await shoot(pathToFileURL(file).href, 'server.png', 800, { wait: 1500 });
  server.closeAllConnections();
  server.close();
}

const chosen = process.argv.slice(2);
try {
  for (const [name, take] of Object.entries(groups)) if (chosen.length === 0 || chosen.includes(name)) await take();
} finally {
  await session.close();
  rmSync(folder, { recursive: true });
}
process.exit();
