/**
 * A server that knows only HTML, as a content system does: blocks of text, some of which are elements with their
 * configuration in attributes and JSON. The page's policy is strict; elements are loaded when their tag appears.
 *
 * `node server.js`, then http://127.0.0.1:5230/.
 */
import { readFile } from 'node:fs/promises';
import { createServer } from 'node:http';

const widgets = new URL('../apiary/public/widgets/', import.meta.url);
const policy =
  "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; connect-src 'self'; base-uri 'none'; form-action 'self'; require-trusted-types-for 'script'; trusted-types eltrix";

const escaped = text =>
  String(text).replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');

/** What an editor put together. */
const blocks = [
  { kind: 'text', text: 'The week at the apiary.' },
  {
    kind: 'element',
    tag: 'hive-card',
    attributes: { name: 'Bramble', boxes: 3, mood: 'busy' },
    text: 'Lime trees in flower.',
  },
  {
    kind: 'element',
    tag: 'keeper-note',
    attributes: { keeper: 'Osric & Wilma', written: 'on Sunday' },
    text: 'Another box was given.',
  },
  { kind: 'element', tag: 'season-calendar', attributes: { month: 6 } },
  {
    kind: 'element',
    tag: 'frame-box',
    attributes: { label: 'Upper box' },
    configuration: {
      frames: [
        { id: 1, honey: 2.4, capped: false },
        { id: 2, honey: 2.9, capped: true },
      ],
    },
  },
];

function html(block) {
  if (block.kind === 'text') return `<p>${escaped(block.text)}</p>`;
  const attributes = Object.entries(block.attributes).map(([name, value]) => ` ${name}="${escaped(value)}"`);
  // JSON among the children; the script of the page gives it to the element's properties.
  const json = block.configuration
    ? `<script type="application/json">${JSON.stringify(block.configuration).replaceAll('<', '\\u003c')}</script>`
    : '';
  return `<${block.tag}${attributes.join('')}>${json}${block.text ? `<p>${escaped(block.text)}</p>` : ''}</${block.tag}>`;
}

const page = () => `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<link rel="icon" href="data:,">
<title>The week at the apiary</title>
<link rel="stylesheet" href="/widgets/undefined.css">
<link rel="stylesheet" href="/page.css">
<script type="module" src="/widgets/on-demand.js"></script>
<script type="module" src="/blocks.js"></script>
</head>
<body><main><h1>The week</h1><h2>Blocks</h2>
${blocks.map(html).join('\n')}
</main></body>
</html>`;

const types = { js: 'text/javascript', css: 'text/css' };

export const server = createServer(async (request, response) => {
  const { pathname } = new URL(request.url, 'http://localhost');
  response.setHeader('content-security-policy', policy).setHeader('x-content-type-options', 'nosniff');
  const name = pathname.split('/').at(-1);
  const file = /^\/widgets\/[\w.-]+\.(?:js|css)$/.test(pathname)
    ? new URL(name, widgets)
    : /^\/(?:page\.css|blocks\.js)$/.test(pathname)
      ? new URL(name, import.meta.url)
      : undefined;
  if (pathname === '/') return response.setHeader('content-type', 'text/html; charset=utf-8').end(page());
  if (!file) return response.writeHead(404).end();
  try {
    response.setHeader('content-type', types[name.split('.').at(-1)]).end(await readFile(file));
  } catch {
    response.writeHead(404).end();
  }
});

if (process.argv[1] === new URL(import.meta.url).pathname)
  server.listen(5230, '127.0.0.1', () => console.log('http://127.0.0.1:5230/'));
