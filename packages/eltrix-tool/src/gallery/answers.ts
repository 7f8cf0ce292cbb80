/** What the gallery's server answers: its own page, its frames, and what is known of the project. */
import { existsSync, readFileSync } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { extname, relative } from 'node:path';
import { originalPositionFor, TraceMap } from '@jridgewell/trace-mapping';
import type { ViteDevServer } from 'vite';
import { elementAddress, prefix } from '../compile/element-modules.ts';
import { allowed, mimeTypes } from '../engines/run/server.ts';
import { excerptOf } from '../project/tool-error.ts';
import { collectData } from './collect.ts';
import type { FrameGiven, SourceProblem, StandbyGiven } from './model.ts';
import { pageFile } from './page-file.ts';
import { definitionOf, moduleUrls } from './served-modules.ts';
import type { ServedProject } from './served-project.ts';

type Middleware = (request: IncomingMessage, response: ServerResponse, next: (error?: unknown) => void) => void;

export function pages(vite: ViteDevServer, state: ServedProject): Middleware {
  return (request, response, next) => {
    // A page of another site can make a browser ask here, under a name of its own (DNS rebinding).
    const { host } = request.headers;
    if (state.host && host !== state.host && host !== state.host.replace('127.0.0.1', 'localhost')) {
      response.writeHead(421, { 'content-type': 'text/plain' }).end();
      return;
    }
    answer(vite, state, request, response).then(
      answered => answered || next(),
      (error: unknown) => {
        if (!response.headersSent) response.writeHead(500, { 'content-type': 'text/plain' });
        response.end(error instanceof Error ? error.message : String(error));
      },
    );
  };
}

const own = new Set(['app.js', 'app.css', 'frame.js', 'frame.html', 'axe.js']);

/** @returns false for what is Vite's to answer. */
async function answer(
  vite: ViteDevServer,
  state: ServedProject,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<boolean> {
  const url = new URL(request.url!, 'http://localhost');
  const path = decodeURIComponent(url.pathname);
  response.setHeader('x-content-type-options', 'nosniff');
  const send = (body: string | Buffer, type: string) => {
    response.setHeader('cache-control', 'no-cache').setHeader('content-type', type).end(body);
    return true;
  };
  const json = (value: unknown) => send(JSON.stringify(value), mimeTypes['.json']!);
  const absent = () => {
    response.writeHead(404, { 'content-type': 'text/plain' }).end();
    return true;
  };
  if (path === '/' || path === '/index.html')
    return send(
      readFileSync(pageFile('index.html')).toString('utf8').replaceAll('"./', `"${prefix}`),
      mimeTypes['.html']!,
    );
  if (path.split('/').some(part => part.startsWith('.') && part !== '.eltrix')) return absent();
  if (!path.startsWith(prefix)) return false;
  const rest = path.slice(prefix.length);
  if (rest === 'frame.html') return send(framePage(vite, state, url.searchParams), mimeTypes['.html']!);
  if (own.has(rest)) {
    const body = readFileSync(pageFile(rest));
    if (!url.searchParams.has('v')) return send(body, mimeTypes[extname(rest)]!);
    response.setHeader('cache-control', 'max-age=31536000, immutable').setHeader('content-type', mimeTypes['.js']!);
    response.end(body);
    return true;
  }
  if (rest === 'data.json') return json(await collectData(state.root, state.options.source, state.elements, true));
  if (rest === 'tags.json') return json(state.elements.map(({ tag }) => tag));
  if (rest === 'events') {
    state.listen(response);
    return true;
  }
  const [kind, tag] = /^(element|size)\/(.+?)(?:\.json)?$/.exec(rest)?.slice(1) ?? [];
  if (kind) {
    const element = state.find(tag!);
    if (!element) return absent();
    return json(kind === 'size' ? await state.size(element) : state.collect(element));
  }
  if (rest === 'locate') return json(locate(vite, state.root, url.searchParams));
  if (rest.startsWith('project/')) {
    const file = allowed(state.root, rest.slice('project/'.length));
    return file === undefined
      ? absent()
      : send(readFileSync(file), mimeTypes[extname(file)] ?? 'application/octet-stream');
  }
  return rest.startsWith('elements/') || rest.startsWith('specimens/') ? false : absent();
}

/** A frame's page with all that it would ask for first. */
function framePage(vite: ViteDevServer, state: ServedProject, query: URLSearchParams): string {
  const tag = query.get('tag') ?? '';
  const element = state.find(tag);
  const definition = definitionOf(vite, state.root, element);
  const urls = moduleUrls(vite, tag);
  const isLasting = (url: string) => /[?&]v=/.test(url);
  const lasting = urls.filter(isLasting);
  let first = '';
  if (query.has('standby'))
    first = dataBlock('eltrix-standby', {
      lasting,
      definition: element && definition ? { url: definition, exportName: element.exportName } : undefined,
    } satisfies StandbyGiven);
  else if (element)
    first = dataBlock('eltrix-given', {
      element: state.collect(element),
      tags: state.elements.map(({ tag }) => tag),
      time: state.changedAt,
    } satisfies FrameGiven);
  const entry = `${prefix}${elementAddress(tag)}${state.changedAt > 0 ? `?t=${state.changedAt}` : ''}`;
  const preloads = (query.has('standby') ? lasting : [entry, ...urls]).map(
    url => `<link rel="modulepreload" href="${url.replaceAll('&', '&amp;').replaceAll('"', '&quot;')}">`,
  );
  return readFileSync(pageFile('frame.html'))
    .toString('utf8')
    .replace('</title>', () => `</title>${first}${preloads.join('')}`)
    .replace('./frame.js', `./frame.js?v=${state.version}`);
}

const dataBlock = (id: string, value: unknown) =>
  `<script type="application/json" id="${id}">${JSON.stringify(value).replaceAll('<', '\\u003c')}</script>`;

/** Leads a place in a served module back to the author's own line. */
function locate(vite: ViteDevServer, root: string, query: URLSearchParams): Omit<SourceProblem, 'message'> | null {
  const address = new URL(query.get('url') ?? '', 'http://localhost');
  const module = [...vite.environments.client.moduleGraph.urlToModuleMap].find(
    ([url]) => url === address.pathname,
  )?.[1];
  const map = module?.transformResult?.map;
  const [line, column] = [Number(query.get('line')), Number(query.get('column'))];
  if (!module?.file?.startsWith(root)) return null;
  const found =
    map && 'mappings' in map && map.mappings
      ? originalPositionFor(new TraceMap(map as never), { line, column: Math.max(0, column - 1) })
      : undefined;
  const at = { line: found?.line ?? line, column: (found?.column ?? column - 1) + 1 };
  const file = relative(root, module.file).replaceAll('\\', '/');
  if (!existsSync(module.file)) return null;
  return { file, ...at, excerpt: excerptOf(readFileSync(module.file, 'utf8'), at.line, at.column) };
}
