// npm run pictures: takes the pictures of docs/screenshots anew, from the demonstration: terminals and pages.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { buildLibrary, root } from './prepare.js';

buildLibrary();
const { engines } = await import('../dist/tool/engines/index.js');
const vite = await import('vite');
const apiary = join(root, 'examples/apiary');
const tool = join(root, 'dist/tool/cli/main.js');
const shots = join(root, 'docs/screenshots');
const folder = mkdtempSync(join(tmpdir(), 'eltrix-pictures-'));

const colours = {
  1: 'font-weight:700',
  31: 'color:#ff8b78',
  32: 'color:#8fd694',
  33: 'color:#f3c969',
  34: 'color:#8ab8ff',
  36: 'color:#7fd5d5',
  90: 'color:#8d8a80',
};

/** What a command prints, as a page. */
function terminal(command, args, cwd) {
  const { stdout, stderr } = spawnSync(process.execPath, [tool, ...args], {
    cwd,
    encoding: 'utf8',
    env: { ...process.env, FORCE_COLOR: '1' },
  });
  const shown = (stdout + (stderr.startsWith('\r') ? '' : stderr))
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/\u001b\[(\d+)m/g, (_, code) => (colours[code] ? `<span style="${colours[code]}">` : '</span>'));
  const html = `<!doctype html><meta charset="utf-8"><style>
    body { margin: 0; background: #1d1b16; color: #eae6da; font: 14px/1.45 "DejaVu Sans Mono", monospace }
    pre { margin: 0; padding: 24px 28px; white-space: pre-wrap }
  </style><pre><span style="color:#8d8a80">$ npx eltrix ${command}</span>\n${shown}</pre>`;
  const file = join(folder, 'terminal.html');
  writeFileSync(file, html);
  return pathToFileURL(file).href;
}

const session = await engines.chromium.start();
const shoot = async (url, name, height = 800) => {
  const page = await session.open(url, { viewport: { width: 1280, height } });
  await page.evaluate('new Promise(resolve => setTimeout(resolve, 400))');
  writeFileSync(join(shots, name), await page.screenshot());
  await page.close();
  console.log(`docs/screenshots/${name}`);
};
try {
  await shoot(terminal('build --classic', ['build', '--classic'], apiary), 'build.png', 420);
  await shoot(
    terminal('test --in chromium --coverage', ['test', '--in', 'chromium', '--coverage', '--shuffle', '7'], apiary),
    'test.png',
    860,
  );
  await shoot(terminal('describe hive-card', ['describe', 'hive-card'], apiary), 'describe.png', 620);
  await vite.build({ root: apiary, configFile: join(apiary, 'vite.config.ts'), logLevel: 'silent' });
  const server = await vite.preview({
    root: apiary,
    configFile: join(apiary, 'vite.config.ts'),
    preview: { host: '127.0.0.1', port: 0 },
    logLevel: 'silent',
  });
  await shoot(server.resolvedUrls.local[0], 'apiary.png');
  await shoot(`${server.resolvedUrls.local[0]}plain.html`, 'plain-page.png');
  await server.close();
} finally {
  await session.close();
  rmSync(folder, { recursive: true });
}
process.exit();
