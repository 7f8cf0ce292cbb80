// npm run package: bundles the extension and packs it as eltrix.vsix. Nothing is published.
import { execFileSync } from 'node:child_process';
import { cpSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'vite';

const root = fileURLToPath(new URL('.', import.meta.url));
await build({
  root,
  configFile: false,
  logLevel: 'warn',
  ssr: { noExternal: true, target: 'node' },
  build: {
    ssr: 'extension.js',
    outDir: 'dist',
    target: 'node20',
    minify: true,
    rolldownOptions: { external: ['vscode'], output: { format: 'cjs', entryFileNames: 'extension.cjs' } },
  },
});
cpSync(join(root, '../../LICENSE'), join(root, 'LICENSE'));
execFileSync(
  join(root, 'node_modules/.bin/vsce'),
  ['package', '--no-dependencies', '--allow-missing-repository', '--out', 'eltrix.vsix'],
  { cwd: root, stdio: 'inherit' },
);
