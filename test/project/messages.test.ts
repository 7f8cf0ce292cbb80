/** Every code that a message carries has its anchor in docs/messages.md, and every anchor its code. */
import assert from 'node:assert/strict';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { it } from 'node:test';
import { packages, repository as root } from '../support/project.ts';

it('each code is documented under its own name', () => {
  const codes = new Set<string>();
  const sources = packages.flatMap(name => {
    const folder = join(root, 'packages', name, 'src');
    return (readdirSync(folder, { recursive: true }) as string[]).map(file => join(folder, file));
  });
  for (const file of sources) {
    if (!file.endsWith('.ts')) continue;
    const text = readFileSync(file, 'utf8');
    const calls =
      /(?:refuse|mistake|warn|report|problem|reportProblem|reportRoute|new ToolError|new MarkupError|new RenderError)\(\s*(?:'[A-Z]\w+',\s*)?'([a-z]+(?:-[a-z]+)+)'/g;
    const texts = /\(([a-z]+(?:-[a-z]+)+)\): /g;
    const fields = /code: '([a-z]+(?:-[a-z]+)+)'/g;
    for (const pattern of [calls, texts, fields]) for (const [, code] of text.matchAll(pattern)) codes.add(code!);
  }
  // Rules have a page of their own.
  const rules = new Set(
    [...readFileSync(join(root, 'docs/conformance.md'), 'utf8').matchAll(/^### (.+)$/gm)].map(([, name]) => name!),
  );
  for (const rule of rules) codes.delete(rule);
  const anchors = [...readFileSync(join(root, 'docs/messages.md'), 'utf8').matchAll(/^### (.+)$/gm)].map(
    ([, name]) => name!,
  );
  const built = [
    'constructor-attributes',
    'constructor-children',
    'hole-in-script',
    'hole-in-style',
    'part-unknown',
    'source-error',
    'state-unknown',
    'tag-name',
  ];
  assert.ok(codes.size > 25);
  assert.deepEqual(
    [...codes].filter(code => !anchors.includes(code)),
    [],
  );
  assert.deepEqual(
    anchors.filter(code => !codes.has(code) && !built.includes(code)),
    [],
  );
  assert.equal(new Set(anchors).size, anchors.length);
});

it('each message has cause, example and fix', () => {
  const page = readFileSync(join(root, 'docs/messages.md'), 'utf8');
  const lacking = page
    .split(/^### /m)
    .slice(1)
    .filter(part => !/^\S+\n\n[^\n-].+\n\n- Example: .+\n- Fix: .+/.test(part))
    .map(part => part.split('\n')[0]);
  assert.deepEqual(lacking, []);
});
