// npm run api: writes docs/api.md, the reference of every public name, from the docstrings of the built types, and
// docs/commands.md, the reference of every command, from its help.
import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { buildLibrary, root } from './prepare.js';

buildLibrary();
const typesOf = entry =>
  join(root, 'packages', entry.startsWith('eltrix-tool') ? 'eltrix-tool' : 'eltrix', 'dist/types');
const entries = {
  index: 'eltrix',
  behaviours: 'eltrix/behaviours',
  store: 'eltrix/store',
  context: 'eltrix/context',
  routes: 'eltrix/routes',
  views: 'eltrix/views',
  language: 'eltrix/language',
  server: 'eltrix/server',
  testing: 'eltrix-tool/testing',
  vite: 'eltrix-tool/vite',
  config: 'eltrix-tool/config',
};

/** Name to the file that declares it, through re-exports. */
function exportsOf(file, found = new Map()) {
  const text = readFileSync(file, 'utf8');
  const resolve = name => join(dirname(file), name.replace(/\.(?:ts|js)$/, '.d.ts'));
  for (const [, from] of text.matchAll(/^export \* from '([^']+)'/gm)) exportsOf(resolve(from), found);
  for (const [, names, from] of text.matchAll(/^export (?:type )?\{([^}]*)\} from '([^']+)'/gm)) {
    for (const part of names.split(',')) {
      const [inner, outer] = part
        .replace(/\btype\s/, '')
        .trim()
        .split(/\s+as\s+/);
      if (inner) found.set(outer ?? inner, originOf(resolve(from), inner));
    }
  }
  for (const [, name] of text.matchAll(
    /^export (?:declare )?(?:abstract )?(?:function|const|class|interface|type) (\w+)/gm,
  ))
    found.set(name, { file, name });
  return found;
}

function originOf(file, name) {
  if (!existsSync(file)) return { file, name };
  return exportsOf(file).get(name) ?? { file, name };
}

/** The docstring and the signatures of a declaration. */
function declarationOf({ file, name }) {
  if (!existsSync(file)) return undefined;
  const text = readFileSync(file, 'utf8');
  const pattern = new RegExp(
    `(?:/\\*\\*((?:(?!\\*/)[\\s\\S])*)\\*/\\s*)?export (?:declare )?(?:abstract )?(function|const|class|interface|type) ${name}\\b[\\s\\S]*?(?=\\n(?:export|/\\*\\*|declare|$))`,
    'g',
  );
  const found = [...text.matchAll(pattern)];
  if (found.length === 0) return undefined;
  const doc = found.map(([, doc]) => doc).find(Boolean) ?? '';
  const kind = found[0][2];
  const signatures = found.map(([whole]) =>
    whole
      .slice(whole.indexOf('export'))
      .replace(/^export (?:declare )?/, '')
      .trim(),
  );
  return { kind, doc: doc.replace(/^\s*\* ?/gm, '').trim(), signatures };
}

/** The guides, and what of the library each uses in its code. */
const guides = readdirSync(join(root, 'docs'))
  .filter(name => name.endsWith('.md') && !/^(?:api|messages|questions|performance|from-hand-written)/.test(name))
  .map(name => {
    const text = readFileSync(join(root, 'docs', name), 'utf8');
    const code = [...text.matchAll(/```[jt]sx?\n([^]*?)```|`([^`\n]+)`/g)]
      .map(([, block, span]) => block ?? span)
      .join('\n');
    return { name, title: /^# (.+)$/m.exec(text)[1], code };
  });

/** Links to the two guides that use a name most. */
function seeAlso(name) {
  const uses = guides
    .map(guide => ({
      ...guide,
      count: guide.code.match(new RegExp(`(?<![\\w.-])${name}(?=[(<\`])`, 'g'))?.length ?? 0,
    }))
    .filter(({ count }) => count > 0)
    .sort((a, b) => b.count - a.count);
  return uses
    .slice(0, 2)
    .map(guide => `[${guide.title}](${guide.name})`)
    .join(' · ');
}

/** What a docstring says, its tags as lists. */
function proseOf(doc) {
  const [text, ...tags] = doc.split(/\n?^@(?=\w+)/m);
  const given = name =>
    tags
      .filter(tag => tag.startsWith(`${name} `) || tag.startsWith(`${name}\n`))
      .map(tag =>
        tag
          .slice(name.length)
          .trim()
          .replace(/\s*\n\s*/g, name === 'example' ? '\n' : ' '),
      );
  const parts = [text.trim()];
  const parameters = given('param').map(line => line.replace(/^(\S+)\s+/, '- `$1`: '));
  if (parameters.length > 0) parts.push(parameters.join('\n'));
  for (const line of given('returns')) parts.push(`Returns ${line}`);
  for (const line of given('throws')) parts.push(`Throws ${line}`);
  for (const code of given('example')) parts.push(`\`\`\`js\n${code}\n\`\`\``);
  return parts
    .filter(Boolean)
    .join('\n\n')
    .replace(/\{@link (\w+)\}/g, '`$1`');
}

const isValue = ({ kind }) => kind === 'function' || kind === 'const';
let page =
  '# API reference\n\nEvery public name by entry point, from its docstring. Functions come first, then types. Written by `npm run api`.\n';
const sections = Object.entries(entries).map(([entry, title]) => {
  const names = [...exportsOf(join(typesOf(title), `${entry}.d.ts`))]
    .map(([name, origin]) => ({ name, declaration: declarationOf(origin) }))
    .filter(({ declaration }) => declaration !== undefined)
    .sort((a, b) => (a.name.toLowerCase() < b.name.toLowerCase() ? -1 : 1));
  return {
    title,
    values: names.filter(one => isValue(one.declaration)),
    types: names.filter(one => !isValue(one.declaration)),
  };
});

/** Code hosts number anchors that would be the same. */
const anchors = new Map([['api-reference', 1]]);
function anchorOf(heading) {
  const anchor = heading.toLowerCase().replace(/[^\w-]/g, '');
  const before = anchors.get(anchor) ?? 0;
  anchors.set(anchor, before + 1);
  return before === 0 ? anchor : `${anchor}-${before}`;
}
for (const { title, values, types } of sections) {
  anchorOf(title);
  for (const one of [...values, ...types]) one.anchor = anchorOf(one.name);
}

const linksTo = names => names.map(({ name, anchor }) => `[${name}](#${anchor})`).join(' · ');
for (const { title, values, types } of sections) {
  page += `\n## \`${title}\`\n\n${linksTo(values)}\n`;
  if (types.length > 0) page += `\nTypes: ${linksTo(types)}\n`;
  for (const { name, declaration } of [...values, ...types]) {
    const prose = proseOf(declaration.doc);
    const more = isValue(declaration) ? seeAlso(name) : '';
    page += `\n### ${name}\n\n\`\`\`typescript\n${declaration.signatures.join('\n')}\n\`\`\`\n${prose ? `\n${prose}\n` : ''}${more ? `\nSee also: ${more}\n` : ''}`;
  }
}
writeFileSync(join(root, 'docs/api.md'), page.replace(/\n{3,}/g, '\n\n'));
console.log(
  `docs/api.md: ${sections.reduce((sum, { values, types }) => sum + values.length + types.length, 0)} names.`,
);

const cli = join(root, 'packages/eltrix-tool/dist/tool/cli/main.js');
const helpOf = (...args) => execFileSync(process.execPath, [cli, ...args, '--help'], { encoding: 'utf8' });
const commands = [...helpOf().matchAll(/^ {2}([a-z][a-z-]*) (?=.* {2,})/gm)]
  .map(([, name]) => name)
  .filter(name => name !== 'help');
const general = '\nOptions of every command:';
let reference = `# Commands

Look up a command: its options and examples, as \`eltrix <command> --help\` prints them. What each is for: [command line and configuration](command-line.md).

${commands.map(name => `[${name}](#eltrix-${name})`).join(' · ')}
`;
for (const name of commands) {
  const help = helpOf(name);
  reference += `\n## \`eltrix ${name}\`\n\n\`\`\`text\n${help.slice(0, help.indexOf(general)).trim()}\n\`\`\`\n`;
}
const last = helpOf(commands[0]);
reference += `\n## Options of every command\n\n\`\`\`text\n${last.slice(last.indexOf(general) + general.length).trim()}\n\`\`\`\n`;
writeFileSync(join(root, 'docs/commands.md'), reference);
console.log(`docs/commands.md: ${commands.length} commands.`);
