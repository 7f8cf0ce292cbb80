/**
 * A server that renders: blocks of text, some of which are elements with their configuration in attributes and data. The
 * page is complete without scripts. Its policy is strict, so styles are linked; elements are loaded when their tag appears,
 * and take over the nodes that are there.
 *
 * `npm start` in this folder, then http://127.0.0.1:5230/.
 */
import { readFile } from 'node:fs/promises';
import { createServer } from 'node:http';

// What `eltrix build` wrote, with "render" in package.json.
const widgets = new URL('widgets/', import.meta.url);
const { renderElement, renderPageStream, ...elements } = await import(new URL('server.js', widgets).href);

const policy =
  "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; connect-src 'self'; base-uri 'none'; form-action 'self'; require-trusted-types-for 'script'; trusted-types eltrix";

const escaped = text =>
  String(text).replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');

/** Content by an editor. */
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
    kind: 'data',
    element: 'FrameBox',
    attributes: { label: 'Upper box' },
    properties: {
      frames: [
        { id: 1, honey: 2.4, capped: false },
        { id: 2, honey: 2.9, capped: true },
      ],
    },
  },
];

function html(block) {
  if (block.kind === 'text') return `<p>${escaped(block.text)}</p>`;
  // Data that is no attribute is sent along with the element.
  if (block.kind === 'data') return renderElement(elements[block.element], { ...block, styles: 'linked' });
  const attributes = Object.entries(block.attributes).map(([name, value]) => ` ${name}="${escaped(value)}"`);
  return `<${block.tag}${attributes.join('')}>${block.text ? `<p>${escaped(block.text)}</p>` : ''}</${block.tag}>`;
}

const page = () => `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<link rel="icon" href="data:,">
<title>The week at the apiary</title>
<link rel="stylesheet" href="/page.css">
<script type="module" src="/widgets/on-demand.js"></script>
</head>
<body><main><h1>The week</h1><h2>Blocks</h2>
${blocks.map(html).join('\n')}
</main></body>
</html>`;

const types = { js: 'text/javascript', css: 'text/css' };

export const server = createServer(async (request, response) => {
  const { pathname } = new URL(request.url, 'http://localhost');
  response.setHeader('content-security-policy', policy).setHeader('x-content-type-options', 'nosniff');
  if (pathname === '/') {
    response.setHeader('content-type', 'text/html; charset=utf-8');
    for await (const part of renderPageStream(page(), { styles: 'linked' })) response.write(part);
    return response.end();
  }
  const name = pathname.split('/').at(-1);
  const file = /^\/widgets\/[\w.-]+\.(?:js|css)$/.test(pathname)
    ? new URL(name, widgets)
    : pathname === '/page.css'
      ? new URL(name, import.meta.url)
      : undefined;
  if (!file || name === 'server.js') return response.writeHead(404).end();
  try {
    response.setHeader('content-type', types[name.split('.').at(-1)]).end(await readFile(file));
  } catch {
    response.writeHead(404).end();
  }
});

if (process.argv[1] === new URL(import.meta.url).pathname)
  server.listen(5230, '127.0.0.1', () => console.log('http://127.0.0.1:5230/'));
