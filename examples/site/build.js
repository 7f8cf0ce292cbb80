/**
 * npm run site: the guides as a static site in examples/site/dist. Pages are rendered by eltrix/server, so they are complete
 * without scripts; addresses are relative, so any folder will do.
 */
import { spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { brotliCompressSync } from 'node:zlib';
import { eltrix } from 'eltrix-tool/vite';
import MarkdownIt from 'markdown-it';
import { build } from 'vite';

const here = fileURLToPath(new URL('.', import.meta.url));
const root = join(here, '../..');
const out = join(here, 'dist');
const examplesFolder = join(here, '.examples');

/** The pages by group, in the order of reading. */
const groups = {
  Start: ['first-element', 'contracts', 'questions'],
  Elements: ['attributes', 'markup', 'styles', 'slots', 'events', 'forms', 'lifecycle', 'classes', 'accessibility'],
  Applications: ['lists', 'state', 'data', 'watching', 'routing', 'languages', 'recipes', 'server', 'hosts'],
  Tools: ['gallery', 'testing', 'conformance', 'debugging', 'building', 'command-line', 'editors', 'typescript'],
  More: ['security', 'performance', 'performance-details', 'upgrading', 'from-hand-written'],
  Reference: ['api', 'commands', 'messages', 'changelog', 'architecture', 'contributing'],
};
const names = Object.values(groups).flat();

const escaped = text =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');
/** As code hosts make it of a heading. */
const anchorOf = text =>
  text
    .toLowerCase()
    .replace(/[^\p{L}\p{N}\s_-]/gu, '')
    .trim()
    .replace(/\s/g, '-');

const policy =
  "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; connect-src 'self'; frame-src 'self'; base-uri 'none'; form-action 'none'; require-trusted-types-for 'script'; trusted-types eltrix";

/** Whether a block is an element that can run on its own. */
const isExample = code =>
  /\bextends contract\('[a-z-]+'/.test(code) &&
  /\bview\(\)/.test(code) &&
  [...code.matchAll(/from '([^']+)'/g)].every(([, name]) => /^eltrix(?:\/|$)/.test(name)) &&
  !/with \{ type: 'css' \}|fetch\(|declare const/.test(code);

/** The blocks of a page that can run, each with the HTML behind it. */
function examplesOf(tokens) {
  const found = [];
  for (const [at, token] of tokens.entries()) {
    if (token.type !== 'fence' || token.info !== 'ts' || !isExample(token.content)) continue;
    const next = tokens.slice(at + 1).find(({ type }) => type === 'fence' || type === 'heading_open');
    const [, tag] = /\bextends contract\('([a-z-]+)'/.exec(token.content);
    const isUse = one => one?.type === 'fence' && one.info === 'html' && one.content.includes(`<${tag}`);
    // The use that stands behind the code, else another one of the page.
    const use = isUse(next) ? next : tokens.find(isUse);
    found.push({ token, html: use?.content ?? `<${tag}></${tag}>`, htmlToken: isUse(next) ? next : undefined });
  }
  return found;
}

/** Bytes of a compiled example with all that it loads, by brotli. */
async function compiledSize(code, name) {
  mkdirSync(examplesFolder, { recursive: true });
  const file = join(examplesFolder, `${name}.ts`);
  writeFileSync(file, code);
  const { output } = await build({
    root: examplesFolder,
    configFile: false,
    logLevel: 'silent',
    publicDir: false,
    resolve: { conditions: ['production', 'browser', 'module'] },
    plugins: [eltrix()],
    build: {
      write: false,
      target: 'es2022',
      modulePreload: false,
      rolldownOptions: { input: file, preserveEntrySignatures: 'exports-only' },
    },
  });
  const bytes = output.reduce((sum, { code = '' }) => sum + brotliCompressSync(code).length, 0);
  return `${(bytes / 1000).toFixed(1)} kB`;
}

const titleOf = source => /^# (.+)$/m.exec(source)?.[1] ?? '';

async function main() {
  spawnSync(process.execPath, [join(root, 'packages/eltrix-tool/dist/tool/cli/main.js'), 'build', '--no-look'], {
    cwd: here,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  rmSync(out, { recursive: true, force: true });
  mkdirSync(out, { recursive: true });
  cpSync(join(here, 'widgets'), join(out, 'widgets'), { recursive: true });
  cpSync(join(root, 'docs/screenshots'), join(out, 'screenshots'), { recursive: true });
  cpSync(join(here, 'src/site.css'), join(out, 'site.css'));
  cpSync(join(here, 'src/live.html'), join(out, 'live.html'));
  await scripts();
  const { renderPage } = await import(pathToFileURL(join(here, 'widgets/server.js')).href);

  const pages = [
    { name: 'index', source: readFileSync(join(root, 'README.md'), 'utf8') },
    ...names.map(name => ({ name, source: readFileSync(fileOf(name), 'utf8') })),
  ];
  const sections = [];
  let count = 0;
  for (const [at, { name, source }] of pages.entries()) {
    const { html, found } = await pageHtml(name, source);
    sections.push(...found.sections);
    count += found.examples;
    const text = template(name, titleOf(source), html, pages[at - 1], pages[at + 1]);
    writeFileSync(join(out, `${name}.html`), await renderPage(text, { styles: 'linked' }));
  }
  writeFileSync(join(out, 'search.json'), JSON.stringify(sections));
  rmSync(examplesFolder, { recursive: true, force: true });
  console.log(
    `${pages.length} pages, ${count} live examples, ${sections.length} sections in the search: examples/site/dist`,
  );
}

/** What pages and frames load beside the elements. */
async function scripts() {
  const bundle = (input, name, format) =>
    build({
      root: here,
      configFile: false,
      logLevel: 'warn',
      publicDir: false,
      resolve: { conditions: ['development', 'browser', 'module'] },
      define: { 'process.env.NODE_ENV': '"production"' },
      build: {
        outDir: out,
        emptyOutDir: false,
        target: 'es2022',
        modulePreload: false,
        lib: { entry: join(here, input), formats: [format], name: 'live', fileName: () => name },
      },
    });
  await bundle('src/frame.ts', 'live.js', 'iife');
  await bundle('src/library.ts', 'live-library.js', 'es');
}

async function pageHtml(name, source) {
  const markdown = new MarkdownIt({ html: false, linkify: false });
  const tokens = markdown.parse(source, {});
  const examples = examplesOf(tokens);
  const byToken = new Map();
  for (const [at, example] of examples.entries()) {
    byToken.set(example.token, {
      ...example,
      number: at + 1,
      size: await compiledSize(example.token.content, `${name}-${at}`),
    });
    if (example.htmlToken) byToken.set(example.htmlToken, null);
  }
  const title = titleOf(source);
  const sections = [];
  const anchors = new Map();
  for (const [at, token] of tokens.entries()) {
    if (token.type === 'heading_open') {
      const text = tokens[at + 1].content.replace(/`/g, '');
      const anchor = anchorOf(text);
      const times = anchors.get(anchor) ?? 0;
      anchors.set(anchor, times + 1);
      token.attrSet('id', times > 0 ? `${anchor}-${times}` : anchor);
      sections.push({ address: `${name}.html#${token.attrGet('id')}`, page: title, title: text, text: '' });
    } else if (sections.length > 0 && (token.type === 'inline' || token.type === 'fence'))
      sections.at(-1).text += ` ${token.content}`;
    let isDropped = false;
    for (const child of token.children ?? []) {
      if (child.type === 'image') child.attrSet('src', child.attrGet('src').replace(/^docs\//, ''));
      if (child.type === 'link_open') {
        const href = linked(child.attrGet('href'));
        isDropped = href === undefined;
        if (!isDropped) child.attrSet('href', href);
      }
      // What it links to is named all the same.
      if (isDropped && /^link_/.test(child.type)) {
        child.type = 'text';
        child.content = '';
      }
    }
  }
  const code = (text, language) => `<pre data-language="${language}" tabindex="0"><code>${escaped(text)}</code></pre>`;
  let tables = 0;
  markdown.renderer.rules.table_open = () =>
    `<div class="scroll" tabindex="0" role="region" aria-label="Table ${++tables}"><table>`;
  markdown.renderer.rules.table_close = () => '</table></div>';
  markdown.renderer.rules.fence = (list, at) => {
    const example = byToken.get(list[at]);
    // The HTML of an example stands with its code.
    if (example === null) return '';
    if (!example) return code(list[at].content, list[at].info || 'text');
    return `<live-example example="${example.number}" size="${example.size}">${code(list[at].content, 'ts')}${code(example.html, 'html')}</live-example>`;
  };
  const html = markdown.renderer.render(tokens, markdown.options, {});
  return { html, found: { sections, examples: examples.length } };
}

/** Three pages stand at the top of the repository. */
const fileOf = name =>
  join(root, /^(?:changelog|architecture|contributing)$/.test(name) ? `${name.toUpperCase()}.md` : `docs/${name}.md`);

/** The address in the site; undefined for a file of the repository, which the site does not have. */
function linked(href) {
  if (/^(?:[a-z]+:|#)/.test(href)) return href;
  const [path, hash = ''] = href.split('#');
  const page = basename(path, '.md').toLowerCase();
  const fragment = hash ? `#${hash}` : '';
  if (path.endsWith('.md') && names.includes(page)) return `${page}.html${fragment}`;
  if (/(?:^|\/)screenshots\//.test(path)) return path.replace(/^.*screenshots\//, 'screenshots/');
  if (basename(path) === 'README.md' && !path.includes('packages')) return `index.html${fragment}`;
  return undefined;
}

function template(name, title, html, before, after) {
  const nav = Object.entries(groups)
    .map(
      ([group, list]) =>
        `<h2>${group}</h2><ul>${list
          .map(
            one =>
              `<li><a href="${one}.html"${one === name ? ' aria-current="page"' : ''}>${escaped(shortTitle(one))}</a></li>`,
          )
          .join('')}</ul>`,
    )
    .join('');
  const step = (page, rel, word) =>
    page
      ? `<a rel="${rel}" href="${page.name}.html"><small>${word}</small>${escaped(page.name === 'index' ? 'Eltrix' : titleOf(page.source))}</a>`
      : '<span></span>';
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta http-equiv="content-security-policy" content="${escaped(policy)}">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${name === 'index' ? 'Eltrix: custom elements from a contract' : `${escaped(title)} · Eltrix`}</title>
<link rel="icon" href="data:,">
<link rel="stylesheet" href="site.css">
<script type="module" src="widgets/all.js"></script>
</head>
<body>
<a class="skip" href="#content">Go to the text</a>
<header><a class="home" href="index.html">Eltrix</a><a class="to-guides" href="#guides">Guides</a><site-search index="search.json"></site-search></header>
<div class="columns">
<nav id="guides" aria-label="Guides"><details open><summary>Guides</summary>${nav}</details></nav>
<main id="content" tabindex="-1">${html}<footer class="steps">${step(before, 'prev', 'Before')}${step(after, 'next', 'Next')}</footer></main>
</div>
</body>
</html>
`;
}

const titles = new Map();
function shortTitle(name) {
  if (!titles.has(name)) titles.set(name, titleOf(readFileSync(fileOf(name), 'utf8')));
  return titles.get(name);
}

await main();
