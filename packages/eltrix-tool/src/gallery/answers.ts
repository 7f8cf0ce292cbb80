/** The responses of the gallery's server: its page, its frames, and data about the project. */
import { existsSync, readFileSync } from 'node:fs';
import { relative } from 'node:path';
import { originalPositionFor, TraceMap } from '@jridgewell/trace-mapping';
import type { ViteDevServer } from 'vite';
import { elementAddress, prefix } from '../compile/element-modules.ts';
import { excerptOf } from '../project/tool-error.ts';
import type { Asked } from '../serving/local-server.ts';
import { collectData } from './collect.ts';
import type { FrameGiven, SourceProblem, StandbyGiven } from './model.ts';
import { pageFile } from './page-file.ts';
import { definitionOf, moduleUrls } from './served-modules.ts';
import type { ServedProject } from './served-project.ts';

const own = new Set(['app.js', 'app.css', 'frame.js', 'frame.html', 'axe.js']);

/** Whether the gallery responds to a path; Vite serves the modules. */
export function isOwn(path: string): boolean {
  if (path === '' || path === 'index.html') return true;
  return `/${path}`.startsWith(prefix) && !/^(?:elements|specimens)\//.test(path.slice(prefix.length - 1));
}

export async function answer(vite: ViteDevServer, state: ServedProject, asked: Asked): Promise<void> {
  const { path, query, response, send, file, refuse } = asked;
  response.setHeader('cache-control', 'no-cache');
  const json = (value: unknown) => send(JSON.stringify(value), 'answer.json');
  if (!`/${path}`.startsWith(prefix)) {
    const page = readFileSync(pageFile('index.html'), 'utf8');
    return send(page.replaceAll('"./', `"${prefix}`), 'index.html');
  }
  const rest = path.slice(prefix.length - 1);
  if (rest === 'frame.html') return send(framePage(vite, state, query), rest);
  if (own.has(rest)) {
    if (query.has('v')) response.setHeader('cache-control', 'max-age=31536000, immutable');
    return send(readFileSync(pageFile(rest)), rest);
  }
  if (rest === 'data.json') return json(await collectData(state.root, state.options.source, state.elements, true));
  if (rest === 'tags.json') return json(state.elements.map(({ tag }) => tag));
  if (rest === 'events') return state.listen(response);
  if (rest === 'locate') return json(locate(vite, state.root, query));
  if (rest.startsWith('project/')) return file(state.root, rest.slice('project/'.length));
  const [kind, tag] = /^(element|findings|size)\/(.+?)(?:\.json)?$/.exec(rest)?.slice(1) ?? [];
  const element = kind && state.find(tag!);
  if (!element) return refuse(404);
  if (kind === 'size') return json(await state.size(element));
  return json(kind === 'findings' ? state.findings(element) : state.collect(element));
}

/** The page of a frame, with the data that it would request first. */
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

/** Maps a position in a served module to the author's line. */
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
