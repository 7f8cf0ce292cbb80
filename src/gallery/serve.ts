/** The server behind the gallery: the project's modules through Vite, the gallery's own page, and news of changes. */
import { existsSync, readFileSync } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { dirname, extname, join, relative, resolve } from 'node:path';
import { originalPositionFor, TraceMap } from '@jridgewell/trace-mapping';
import { createServer, type EnvironmentModuleNode, type ViteDevServer } from 'vite';
import { addressOf, elementAddress, elementModules, prefix, versionOf } from '../compile/element-modules.ts';
import { describeElement } from '../describe/model.ts';
import { allowed, mimeTypes } from '../engines/run/server.ts';
import { onChanges } from '../project/changes.ts';
import { discover, type FoundElement } from '../project/discover.ts';
import { libraryFolder } from '../project/library.ts';
import { readContracts } from '../project/read-contract.ts';
import { sourceError } from '../project/source-error.ts';
import { readSpecimens } from '../project/specimens.ts';
import { excerptOf, ToolError } from '../project/tool-error.ts';
import { collectData, collectElement } from './collect.ts';
import type { ElementSize, FrameGiven, GalleryElement, ServerMessage, SourceProblem, StandbyGiven } from './model.ts';
import { affected, definitionOf, moduleUrls } from './served-modules.ts';
import { sizeOf } from './size.ts';

export interface GalleryOptions {
  /** The folder of the sources, from the project's. */
  readonly source: string;
  /** The folder that a build writes: what happens there is nobody's change. */
  readonly out: string;
  readonly target: string;
  /** 0 takes any that is free. */
  readonly port: number;
}

export interface Gallery {
  /** `http://127.0.0.1:port/`. */
  readonly address: string;
  readonly count: number;
  /** What does not parse, if anything, as it was told when the gallery began. */
  readonly problem: SourceProblem | null;
  close(): Promise<void>;
}

/** @throws ToolError for a port that is taken. */
export async function startGallery(root: string, options: GalleryOptions): Promise<Gallery> {
  const state = new Project(root, options);
  await state.discoverAll();
  const server = await createServer({
    root,
    configFile: false,
    envFile: false,
    logLevel: 'silent',
    clearScreen: false,
    appType: 'custom',
    publicDir: existsSync(join(root, 'public')) ? 'public' : false,
    cacheDir: join(root, 'node_modules/.eltrix'),
    resolve: { conditions: ['development', 'browser', 'module'] },
    server: {
      host: '127.0.0.1',
      port: options.port,
      strictPort: options.port !== 0,
      hmr: false,
      ws: false,
      watch: { ignored: [`${resolve(root, options.out)}/**`, '**/coverage/**'] },
      fs: { strict: true, allow: [root, join(libraryFolder(), 'dist'), ...packageFolders(root)] },
    },
    optimizeDeps: { entries: state.elements.map(({ file }) => file), exclude: ['eltrix'] },
    plugins: [
      elementModules(root, () => state.elements),
      { name: 'eltrix-gallery-pages', configureServer: vite => void vite.middlewares.use(pages(vite, state)) },
    ],
  });
  try {
    await server.listen(options.port === 0 ? await freePort() : undefined);
  } catch (error) {
    await server.close();
    if (!/already in use|EADDRINUSE/.test(String(error))) throw error;
    throw new ToolError(
      'port-taken',
      `Port ${options.port} is taken by another program. Take another one: eltrix serve --port ${options.port + 1}.`,
      undefined,
      undefined,
      2,
    );
  }
  state.watch(server);
  const { port } = server.httpServer!.address() as { port: number };
  state.host = `127.0.0.1:${port}`;
  return {
    address: `http://127.0.0.1:${port}/`,
    count: state.elements.length,
    problem: state.problem,
    async close() {
      state.end();
      await server.close();
    },
  };
}

/** Vite takes 0 for its own default. */
async function freePort(): Promise<number> {
  const { createServer } = await import('node:net');
  return new Promise(resolve => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });
}

/** Where packages of a workspace are kept: beside the project, or above it. */
function packageFolders(root: string): string[] {
  const found: string[] = [];
  for (let folder = root; ; folder = dirname(folder)) {
    const packages = join(folder, 'node_modules');
    if (existsSync(packages)) found.push(packages);
    if (dirname(folder) === folder) return found;
  }
}

/** What the server knows of the project, and whom it tells. */
class Project {
  elements: readonly FoundElement[] = [];
  host = '';
  /** When frames were told last that something is new, in milliseconds; 0 before. */
  changedAt = 0;
  /** Of the gallery's own files. */
  readonly version = versionOf(join(libraryFolder(), 'dist/gallery'));
  /** Counts what was saved. */
  #edits = 0;
  readonly #listeners = new Set<ServerResponse>();
  readonly #problems = new Map<string, SourceProblem>();
  /** What specimens an element had when it was last told of. */
  readonly #slugs = new Map<string, string>();
  readonly #sizes = new Map<string, Promise<ElementSize>>();
  #later: ReturnType<typeof setTimeout> | undefined;
  #beat: ReturnType<typeof setInterval> | undefined;

  constructor(
    readonly root: string,
    readonly options: GalleryOptions,
  ) {}

  get problem(): SourceProblem | null {
    return [...this.#problems.values()][0] ?? null;
  }

  /** @returns whether it could be done. */
  async discoverAll(): Promise<boolean> {
    const edits = this.#edits;
    try {
      this.elements = await discover(this.root, this.options.source);
      this.#problems.clear();
      return true;
    } catch (error) {
      // What it read may have been mended meanwhile.
      if (edits !== this.#edits) return this.discoverAll();
      const problem = this.#problemOf(error);
      this.#problems.set(problem.file, problem);
      return false;
    }
  }

  find(tag: string): FoundElement | undefined {
    return this.elements.find(element => element.tag === tag);
  }

  collect(element: FoundElement): GalleryElement {
    const collected = collectElement(this.root, element, `${prefix}project/`, undefined);
    this.#slugs.set(element.tag, collected.specimens.map(({ slug, title }) => `${slug} ${title}`).join());
    return collected;
  }

  size(element: FoundElement): Promise<ElementSize> {
    let size = this.#sizes.get(element.tag);
    if (!size) this.#sizes.set(element.tag, (size = sizeOf(this.root, element, this.options.target)));
    return size;
  }

  listen(response: ServerResponse): void {
    response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store' });
    response.write(`data: ${JSON.stringify({ type: 'problem', problem: this.problem } satisfies ServerMessage)}\n\n`);
    this.#listeners.add(response);
    response.on('close', () => this.#listeners.delete(response));
  }

  tell(message: ServerMessage): void {
    for (const response of this.#listeners) response.write(`data: ${JSON.stringify(message)}\n\n`);
  }

  watch(vite: ViteDevServer): void {
    this.#beat = setInterval(() => {
      for (const response of this.#listeners) response.write(':\n\n');
    }, 20_000);
    onChanges(vite.watcher, this.root, (event, path) => {
      if (event === 'addDir' || event === 'unlinkDir') return;
      void this.#changed(vite, path, event === 'change').catch(error => {
        this.tell({ type: 'problem', problem: this.#problemOf(error) });
      });
    });
  }

  end(): void {
    clearTimeout(this.#later);
    clearInterval(this.#beat);
    for (const response of this.#listeners) response.end();
  }

  async #changed(vite: ViteDevServer, path: string, still: boolean): Promise<void> {
    const file = relative(this.root, path).replaceAll('\\', '/');
    this.#edits++;
    const inSource = file.startsWith(`${this.options.source}/`) || this.options.source === '.';
    if (file.endsWith('.specimen.html')) {
      const before = this.elements.filter(element => readSpecimens(this.root, element)?.file === file);
      // A file that is gone belongs to whom its name says.
      const tags = (before.length > 0 ? before : this.elements.filter(({ tag }) => file.includes(tag))).map(
        ({ tag }) => tag,
      );
      for (const module of vite.environments.client.moduleGraph.idToModuleMap.values())
        if (addressOf(module.id ?? '')?.startsWith('specimens/'))
          vite.environments.client.moduleGraph.invalidateModule(module, undefined, Date.now(), true);
      const names = tags.map(tag => this.#slugs.get(tag)).join();
      this.#tellChanged(vite, tags);
      const data: ServerMessage = { type: 'data', tags: still ? tags : undefined };
      // Frames come first, unless there are to be others.
      if (names === tags.map(tag => this.#slugs.get(tag)).join()) setTimeout(() => this.tell(data), 400);
      else this.tell(data);
      return;
    }
    const tags = affected(vite, path);
    // Vite forgets what it has made of the file a moment later, and does not give what imports it another address.
    const { moduleGraph } = vite.environments.client;
    const [seen, time] = [new Set<EnvironmentModuleNode>(), Date.now()];
    for (const module of moduleGraph.getModulesByFile(path) ?? [])
      moduleGraph.invalidateModule(module, seen, time, true);
    const isSource = /\.[cm]?[jt]sx?$/.test(file) && !/\.test\.[cm]?[jt]sx?$|\.d\.ts$/.test(file);
    if (tags.length === 0 && !(inSource && isSource)) return;
    for (const tag of tags) this.#sizes.delete(tag);
    const had = this.problem;
    if (still && isSource) {
      const problem = await this.#look(vite, file);
      if (problem) return this.tell({ type: 'problem', problem: this.problem });
      if (had && !this.problem) this.tell({ type: 'problem', problem: null });
    } else this.#problems.delete(file);
    if (tags.length > 0) this.#tellChanged(vite, tags);
    if (inSource && isSource) this.#readAgain(file, still);
  }

  #tellChanged(vite: ViteDevServer, tags: readonly string[]): void {
    const few = tags.length > 3 ? [] : this.elements.filter(({ tag }) => tags.includes(tag));
    const elements = few.map(element => ({
      element: this.collect(element),
      url: definitionOf(vite, this.root, element),
    }));
    this.changedAt = Date.now();
    this.tell({ type: 'changed', tags, time: this.changedAt, elements });
  }

  /** Whether a source parses, as Vite would serve it. */
  async #look(vite: ViteDevServer, file: string): Promise<SourceProblem | undefined> {
    try {
      await vite.environments.client.transformRequest(`/${file}`);
      this.#problems.delete(file);
      return undefined;
    } catch (error) {
      const problem = this.#problemOf(error, file);
      this.#problems.set(file, problem);
      return problem;
    }
  }

  /** Contracts may be other ones: of this file, or, where that does not do, of all. */
  #readAgain(file: string, still: boolean): void {
    clearTimeout(this.#later);
    this.#later = setTimeout(async () => {
      // What does not parse is read when it does again.
      if (this.#problems.has(file)) return;
      const own = this.elements.filter(element => element.file === file);
      const describe = (elements: readonly FoundElement[]) =>
        JSON.stringify(elements.map(element => describeElement(this.root, element)));
      // While another file has a problem, only reading all of them says whether it has gone.
      if (still && own.length > 0 && !this.problem) {
        const path = join(this.root, file);
        const read = await readContracts(file, path, readFileSync(path, 'utf8')).catch(() => undefined);
        if (read && sameExports(own, read)) {
          this.elements = this.elements.map(element => {
            const found = element.file === file && read.find(({ exportName }) => exportName === element.exportName);
            return found ? { ...element, contract: found.contract } : element;
          });
          this.tell({ type: 'data', tags: own.map(({ tag }) => tag) });
          return;
        }
      }
      const before = describe(this.elements.filter(element => existsSync(join(this.root, element.file))));
      const count = this.elements.length;
      const [had, well] = [this.problem, await this.discoverAll()];
      if (!well || had) this.tell({ type: 'problem', problem: this.problem });
      if (!well) return;
      if (count !== this.elements.length || before !== describe(this.elements))
        this.tell({ type: 'data', tags: undefined });
    }, 250);
  }

  #problemOf(error: unknown, file = ''): SourceProblem {
    const { message, position, excerpt = '' } = sourceError(error, this.root);
    return {
      message,
      file: position?.file ?? file,
      line: position?.line ?? 1,
      column: position?.column ?? 1,
      excerpt,
    };
  }
}

function sameExports(
  a: readonly FoundElement[],
  b: readonly { readonly exportName: string; readonly contract: { readonly tag: string } }[],
): boolean {
  const key = (exportName: string, tag: string) => `${exportName} ${tag}`;
  const first = a.map(({ exportName, tag }) => key(exportName, tag)).sort();
  const second = b.map(({ exportName, contract }) => key(exportName, contract.tag)).sort();
  return first.join() === second.join();
}

/** Files of the gallery's own page. */
function pageFile(name: string): Buffer {
  return readFileSync(join(libraryFolder(), 'dist/gallery', name));
}

type Middleware = (request: IncomingMessage, response: ServerResponse, next: (error?: unknown) => void) => void;

function pages(vite: ViteDevServer, state: Project): Middleware {
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
  state: Project,
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
    return send(pageFile('index.html').toString('utf8').replaceAll('"./', `"${prefix}`), mimeTypes['.html']!);
  if (path.split('/').some(part => part.startsWith('.') && part !== '.eltrix')) return absent();
  if (!path.startsWith(prefix)) return false;
  const rest = path.slice(prefix.length);
  if (rest === 'frame.html') return send(framePage(vite, state, url.searchParams), mimeTypes['.html']!);
  if (own.has(rest)) {
    const body = pageFile(rest);
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
function framePage(vite: ViteDevServer, state: Project, query: URLSearchParams): string {
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
  return pageFile('frame.html')
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
