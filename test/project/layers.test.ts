/** The folders of src are layers: each imports only from those named here, and browser layers import nothing of Node. */
import assert from 'node:assert/strict';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve, sep } from 'node:path';
import { it } from 'node:test';
import { fileURLToPath } from 'node:url';
import { parseSync } from 'vite';

const source = fileURLToPath(new URL('../../src', import.meta.url));

/** A layer and what it may import: "above" in ARCHITECTURE's picture. */
const layers: Record<string, readonly string[]> = {
  contract: [],
  signals: [],
  view: ['signals'],
  element: ['contract', 'signals', 'view'],
  behaviours: ['element', 'signals'],
  store: ['signals'],
  context: ['element', 'signals', 'contract'],
  routes: ['view', 'signals', 'element'],
  testing: ['element', 'view', 'signals', 'contract'],
};
const tool = ['compile', 'describe', 'check', 'engines', 'gallery', 'project', 'cli'];
/** In the tool's half each may import the browser half's types and what stands before it here. */
const toolOrder = ['project', 'compile', 'describe', 'engines', 'check', 'gallery', 'cli'];

function imports(file: string): string[] {
  const { module } = parseSync(file, readFileSync(file, 'utf8'));
  const named = [
    ...module.staticImports.map(found => found.moduleRequest.value),
    ...module.staticExports.flatMap(found => found.entries.flatMap(entry => entry.moduleRequest?.value ?? [])),
  ];
  return [...new Set(named)];
}

function violations(folder: string): string[] {
  const found: string[] = [];
  for (const entry of readdirSync(folder, { recursive: true }) as string[]) {
    if (!entry.endsWith('.ts') || !entry.includes(sep)) continue;
    const layer = entry.split(sep)[0]!;
    const browser = layer in layers;
    for (const name of imports(join(folder, entry))) {
      if (!name.startsWith('.')) {
        if (browser) found.push(`${entry} imports the package ${name}`);
        continue;
      }
      const other = relative(folder, resolve(folder, dirname(entry), name)).split(sep)[0]!;
      if (other === layer) continue;
      const allowed = browser
        ? layers[layer]!
        : [...Object.keys(layers), ...toolOrder.slice(0, toolOrder.indexOf(layer))];
      if (!allowed.includes(other)) found.push(`${entry} imports ${other}`);
    }
  }
  return found;
}

it('no layer imports upward', () => {
  const folders = readdirSync(source, { withFileTypes: true }).filter(entry => entry.isDirectory());
  assert.deepEqual(
    folders.map(entry => entry.name).filter(name => !(name in layers) && !tool.includes(name)),
    [],
  );
  assert.deepEqual(violations(source), []);
});

it('would notice an import upward', () => {
  const planted = fileURLToPath(new URL('../support/planted-layers', import.meta.url));
  assert.ok(existsSync(planted));
  assert.deepEqual(violations(planted), [
    'contract/upward.ts imports element',
    'signals/package.ts imports the package node:fs',
  ]);
});
