// npm start: installs, builds the library and the apiary's widgets, and serves the demonstration.
// npm start -- --once: does the same work, looks at the built page in a browser, prints what it made, and exits.
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { buildLibrary, installPackages, root } from './prepare.js';

installPackages();
buildLibrary();

const apiary = join(root, 'examples/apiary');
const widgets = spawnSync(process.execPath, [join(root, 'packages/eltrix-tool/dist/tool/cli/main.js'), 'build'], {
  cwd: apiary,
  stdio: 'inherit',
});
if (widgets.status !== 0) process.exit(widgets.status ?? 1);

const vite = await import('vite');

if (!process.argv.includes('--once')) {
  const server = await vite.createServer({
    root: apiary,
    configFile: join(apiary, 'vite.config.ts'),
    server: { host: '127.0.0.1' },
  });
  await server.listen();
  console.log(`\nThe Thistlecombe apiary: ${server.resolvedUrls.local[0]}`);
  console.log(`The same hive card on a plain page: ${server.resolvedUrls.local[0]}plain.html`);
} else {
  await vite.build({ root: apiary, configFile: join(apiary, 'vite.config.ts'), logLevel: 'warn' });
  console.log('\nBuilt examples/apiary/dist: index.html and plain.html.');
  await look();
  process.exit();
}

async function look() {
  const { previewOf } = await import('./preview.js');
  const { engines } = await import('../packages/eltrix-tool/dist/tool/engines/index.js');
  const engine = Object.values(engines).find(candidate => candidate.find());
  if (!engine) {
    console.log('No browser was found to look at the page with.');
    for (const { install } of Object.values(engines)) console.log(`  ${install}`);
    return;
  }
  const server = await previewOf(apiary, join(apiary, 'vite.config.ts'));
  const session = await engine.start();
  try {
    const address = server.resolvedUrls.local[0];
    console.log(`\nIn ${session.version}:`);
    for (const page of ['', 'plain.html']) {
      const opened = await session.open(address + page);
      const cards = await opened.evaluate(readFileSync(join(root, 'scripts/describe-page.js'), 'utf8'));
      console.log(`  /${page}: ${cards.length} hive cards`);
      for (const { name, text } of cards) console.log(`    ${name}: ${text}`);
      await opened.close();
    }
  } finally {
    await session.close();
    await server.close();
  }
}
