/** The folders of both packages are layers: each imports only from those named here, and browser layers import nothing of Node. */
import assert from 'node:assert/strict';
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve, sep } from 'node:path';
import { it } from 'node:test';
import { fileURLToPath } from 'node:url';
import { parseSync } from 'vite';

const packages = fileURLToPath(new URL('../../packages', import.meta.url));

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
  views: ['view', 'signals', 'element'],
  language: ['element', 'signals'],
  server: ['view', 'signals', 'element'],
  testing: ['element', 'view', 'signals', 'contract'],
};
/** In the tool's half each may import the browser half's types and what stands before it here. */
const toolOrder = [
  'project',
  'serving',
  'compile',
  'describe',
  'engines',
  'check',
  'gallery',
  'runner',
  'editor',
  'cli',
];

function imports(file: string): string[] {
  const { module } = parseSync(file, readFileSync(file, 'utf8'));
  const named = [
    ...module.staticImports.map(found => found.moduleRequest.value),
    ...module.staticExports.flatMap(found => found.entries.flatMap(entry => entry.moduleRequest?.value ?? [])),
  ];
  return [...new Set(named)];
}

/** The package and the layer of a file, by its path below the folder of the packages: `eltrix/src/view/each.ts`. */
const placeOf = (path: string) => {
  const [name = '', , layer = ''] = path.split(sep);
  return { name, layer };
};

function violations(folder: string): string[] {
  const found: string[] = [];
  for (const entry of readdirSync(folder, { recursive: true }) as string[]) {
    const { name, layer } = placeOf(entry);
    if (!entry.endsWith('.ts') || !entry.startsWith(join(name, 'src', layer) + sep)) continue;
    const browser = layer in layers;
    for (const from of imports(join(folder, entry))) {
      if (!from.startsWith('.')) {
        // Test helpers run in pages beside the library that a project has.
        if (browser && !(layer === 'testing' && from === 'eltrix')) found.push(`${entry} imports the package ${from}`);
        continue;
      }
      const other = placeOf(relative(folder, resolve(folder, dirname(entry), from)));
      if (other.layer === layer) continue;
      const allowed = browser
        ? layers[layer]!
        : [...Object.keys(layers), ...toolOrder.slice(0, toolOrder.indexOf(layer))];
      if (!allowed.includes(other.layer)) found.push(`${entry} imports ${other.layer}`);
    }
  }
  return found;
}

it('no layer imports upward', () => {
  const folders = ['eltrix', 'eltrix-tool'].flatMap(name =>
    readdirSync(join(packages, name, 'src'), { withFileTypes: true }).filter(entry => entry.isDirectory()),
  );
  assert.deepEqual(folders.map(entry => entry.name).sort(), [...Object.keys(layers), ...toolOrder].sort());
  assert.deepEqual(violations(packages), []);
});

it('detects a planted import', () => {
  const planted = fileURLToPath(new URL('../support/planted-layers', import.meta.url));
  assert.deepEqual(violations(planted), [
    'eltrix/src/contract/upward.ts imports element',
    'eltrix/src/signals/package.ts imports the package node:fs',
  ]);
});
