// npm run api: writes docs/api.md, the reference of every public name, from the docstrings of the built types.
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
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

let page = '# API reference\n\nEvery public name, from its docstring. Written by `npm run api`.\n';
let count = 0;
for (const [entry, title] of Object.entries(entries)) {
  page += `\n## \`${title}\`\n`;
  for (const [name, origin] of [...exportsOf(join(typesOf(title), `${entry}.d.ts`))].sort(([a], [b]) =>
    a.toLowerCase() < b.toLowerCase() ? -1 : 1,
  )) {
    const declaration = declarationOf(origin);
    if (!declaration) continue;
    count++;
    const source = relative(typesOf(title), origin.file)
      .replace(/\.d\.ts$/, '.ts')
      .replaceAll('\\', '/');
    const prose = declaration.doc
      .replace(/@example\s*([\s\S]*?)(?=\n@|$)/, (_, code) => `\n\`\`\`js\n${code.trim()}\n\`\`\``)
      .replace(/^@(\w+)\s*/gm, '\n**$1** ')
      .replace(/\{@link (\w+)\}/g, '`$1`');
    page += `\n### ${name}\n\n\`packages/${title.split('/')[0]}/src/${source}\`\n\n\`\`\`typescript\n${declaration.signatures.join('\n')}\n\`\`\`\n${prose.trim() ? `\n${prose.trim()}\n` : ''}`;
  }
}
writeFileSync(join(root, 'docs/api.md'), page);
console.log(`docs/api.md: ${count} names.`);
