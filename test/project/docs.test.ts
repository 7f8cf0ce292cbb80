/** Every TypeScript block of the README and the docs compiles as it stands. */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { it } from 'node:test';
import { fileURLToPath } from 'node:url';
import { eltrix, project } from '../support/project.ts';
import { exam } from './exam.ts';

const root = fileURLToPath(new URL('../..', import.meta.url));

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

it('the guide for hand-written elements states the right sizes', () => {
  const page = readFileSync(join(root, 'docs/from-hand-written.md'), 'utf8');
  const blocks = [...page.matchAll(/(?:By hand|Here), (\d+) bytes:\n\n```(?:js|ts)\n([^]*?)\n```/g)];
  assert.equal(blocks.length, 20);
  for (const [, stated, code] of blocks)
    assert.equal(Buffer.byteLength(code!.replace(/^(?:import .*\n)+\n/, '')), Number(stated), code);
});

it('every public name is in the API reference', () => {
  const page = readFileSync(join(root, 'docs/api.md'), 'utf8');
  for (const name of ['contract', 'markup', 'watchSize', 'autosave', 'ask', 'routes', 'stage', 'eltrix', 'inspect'])
    assert.match(page, new RegExp(`^### ${name}$`, 'm'));
  const documented = page.split(/^### /m).slice(1);
  const bare = documented.filter(part => !/```typescript\n[^]*?```\n\n\S/.test(part)).map(part => part.split('\n')[0]);
  assert.ok(bare.length < documented.length / 3, `without a docstring: ${bare.join(', ')}`);
  const withoutExample = documented
    .filter(part => /```typescript\nfunction/.test(part) && !part.includes('```js'))
    .map(part => part.split('\n')[0]);
  assert.deepEqual(withoutExample, []);
});

/** As code hosts make an anchor of a heading. */
const anchorOf = (heading: string) =>
  heading
    .toLowerCase()
    .replace(/[^\p{L}\p{N}\s_-]/gu, '')
    .trim()
    .replace(/\s/g, '-');

it('a hundred questions are answered within two clicks', () => {
  assert.ok(exam.length >= 100);
  const readme = readFileSync(join(root, 'README.md'), 'utf8');
  const lost = exam.filter(([_, place, answer]) => {
    const [page, anchor] = place.split('#') as [string, string?];
    // One click from the README to the page, one to its section.
    if (page !== 'README.md' && !readme.includes(`](${page})`)) return true;
    const parts = readFileSync(join(root, page), 'utf8').split(/^(?=#{1,4} )/m);
    const sections = parts.filter(part => anchor === undefined || anchorOf(part.split('\n')[0]!) === anchor);
    return !sections.some(section => section.replace(/\s+/g, ' ').includes(answer));
  });
  assert.deepEqual(lost, []);
});

const pages = [
  ...['README.md', 'ARCHITECTURE.md', 'CONTRIBUTING.md', 'CHANGELOG.md'],
  ...readdirSync(join(root, 'docs')).flatMap(name => (name.endsWith('.md') ? [`docs/${name}`] : [])),
];

it('every link of a page leads to a file and a heading', () => {
  const withoutCode = (page: string) => readFileSync(join(root, page), 'utf8').replace(/^ *```[^]*?^ *```$/gm, '');
  const anchors = new Map<string, ReadonlySet<string>>();
  const anchorsOf = (page: string) => {
    const known = anchors.get(page);
    if (known) return known;
    const found = new Set<string>();
    for (const [, heading] of withoutCode(page).matchAll(/^#{1,6} (.+)$/gm)) {
      const anchor = anchorOf(heading!);
      let one = anchor;
      // Headings with the same text are numbered.
      for (let i = 1; found.has(one); i++) one = `${anchor}-${i}`;
      found.add(one);
    }
    anchors.set(page, found);
    return found;
  };
  let links = 0;
  const dead = pages.flatMap(page =>
    [...withoutCode(page).matchAll(/\]\((?![a-z]+:)([^)#\s]*)(?:#([^)\s]*))?\)/g)].flatMap(([link, file, fragment]) => {
      links++;
      const target = file ? join(dirname(page), file) : page;
      if (!existsSync(join(root, target))) return [`${page}: ${link}`];
      const isLost = fragment !== undefined && target.endsWith('.md') && !anchorsOf(target).has(fragment);
      return isLost ? [`${page}: ${link}`] : [];
    }),
  );
  assert.ok(links > 100);
  assert.deepEqual(dead, []);
});

it('every file of the repository that a page names exists', () => {
  const lost = pages.flatMap(page =>
    [...readFileSync(join(root, page), 'utf8').matchAll(/`((?:test|scripts|bench|packages|examples)\/[\w./-]+)`/g)]
      .map(([, file]) => file!)
      // What a build writes is there only after it.
      .filter(file => !file.split('/').includes('dist'))
      .filter(file => !existsSync(join(root, file)))
      .map(file => `${page}: ${file}`),
  );
  assert.deepEqual(lost, []);
});

it('docs/commands.md contains the help of every command', () => {
  const page = readFileSync(join(root, 'docs/commands.md'), 'utf8');
  const help = (...args: string[]) => eltrix(root, ...args, '--help').stdout;
  const commands = [...help().matchAll(/^ {2}([a-z][a-z-]*) (?=.* {2,})/gm)].map(([, name]) => name!);
  assert.ok(commands.length > 10);
  for (const name of commands) {
    if (name === 'help') continue;
    const [own] = help(name).split('\nOptions of every command:');
    assert.ok(page.includes(own!.trim()), `${name}: npm run api writes the page`);
  }
});

it('each guide has pitfalls and next pages', () => {
  const others =
    /^(?:api|commands|messages|questions|performance-details|command-line|conformance|recipes|upgrading|from-hand-written)\.md$/;
  const guides = readdirSync(join(root, 'docs')).filter(name => name.endsWith('.md') && !others.test(name));
  assert.ok(guides.length >= 25);
  const lacking = guides.filter(name => {
    const page = readFileSync(join(root, 'docs', name), 'utf8');
    return !/^## Pitfalls$/m.test(page) || !/^Next: \[/m.test(page);
  });
  assert.deepEqual(lacking, []);
});

it('the README prints the sizes that a build of its element has', () => {
  const readme = readFileSync(join(root, 'README.md'), 'utf8');
  const [, source] = /```ts\n([^]*?)```/.exec(readme)!;
  const { stdout } = eltrix(project({ 'src/hive-card.ts': source! }), 'build', '--no-look');
  for (const line of stdout.split('\n').slice(0, 4)) assert.ok(readme.includes(line), line);
});
