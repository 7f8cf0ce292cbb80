/** No module of either package imports itself by way of others, types included. */
import assert from 'node:assert/strict';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { it } from 'node:test';
import { parseSync } from 'vite';
import { repository, temporary } from '../support/project.ts';

function graphOf(folder: string): Map<string, readonly string[]> {
  const files = (readdirSync(folder, { recursive: true }) as string[]).filter(file => file.endsWith('.ts'));
  return new Map(
    files.map(file => {
      const path = join(folder, file);
      const { module } = parseSync(path, readFileSync(path, 'utf8'));
      const named = [
        ...module.staticImports.map(found => found.moduleRequest.value),
        ...module.staticExports.flatMap(found => found.entries.flatMap(entry => entry.moduleRequest?.value ?? [])),
      ].filter(name => name.startsWith('.'));
      return [path, [...new Set(named.map(name => resolve(dirname(path), name)))].filter(existsSync)];
    }),
  );
}

/** Groups of files that import each other, by Tarjan's method. */
function cycles(graph: ReadonlyMap<string, readonly string[]>): string[][] {
  const found: string[][] = [];
  const index = new Map<string, number>();
  const low = new Map<string, number>();
  const stack: string[] = [];
  const visit = (file: string) => {
    index.set(file, index.size);
    low.set(file, index.get(file)!);
    stack.push(file);
    for (const other of graph.get(file) ?? []) {
      if (!index.has(other)) visit(other);
      if (stack.includes(other)) low.set(file, Math.min(low.get(file)!, low.get(other)!));
    }
    if (low.get(file) !== index.get(file)) return;
    const group = stack.splice(stack.indexOf(file));
    if (group.length > 1) found.push(group.sort());
  };
  for (const file of graph.keys()) if (!index.has(file)) visit(file);
  return found;
}

for (const name of ['eltrix', 'eltrix-tool'])
  it(`no import leads back to where it began, in ${name}`, () => {
    const folder = join(repository, 'packages', name, 'src');
    const graph = graphOf(folder);
    assert.ok(graph.size > 50);
    assert.deepEqual(
      cycles(graph).map(group => group.map(file => relative(folder, file))),
      [],
    );
  });

it('detects a planted cycle', () => {
  const at = (name: string) => join(temporary(), name);
  const [a, b, c] = [at('a'), at('b'), at('c')];
  assert.deepEqual(
    cycles(
      new Map([
        [a, [b]],
        [b, [c]],
        [c, [b]],
      ]),
    ),
    [[b, c].sort()],
  );
});
