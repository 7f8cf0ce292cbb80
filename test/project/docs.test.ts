/** Every TypeScript block of the README and the docs compiles as it stands. */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { it } from 'node:test';

const root = new URL('../..', import.meta.url).pathname;

it('code blocks compile', () => {
  const folder = mkdtempSync(join(root, '.docs-'));
  try {
    const pages = ['README.md', ...readdirSync(join(root, 'docs')).map(name => `docs/${name}`)].filter(name =>
      name.endsWith('.md'),
    );
    let blocks = 0;
    for (const page of pages) {
      for (const [, code] of readFileSync(join(root, page), 'utf8').matchAll(/```ts\n([^]*?)```/g)) {
        writeFileSync(join(folder, `${page.replace(/\W/g, '-')}-${++blocks}.ts`), code!);
      }
    }
    assert.ok(blocks >= 2);
    writeFileSync(
      join(folder, 'tsconfig.json'),
      '{ "extends": "../tsconfig.json", "compilerOptions": { "paths": {} }, "include": ["./*.ts"] }',
    );
    const { stdout, status } = spawnSync(
      process.execPath,
      [join(root, 'node_modules/typescript/bin/tsc'), '-p', folder],
      { encoding: 'utf8' },
    );
    assert.equal(stdout, '');
    assert.equal(status, 0);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});
