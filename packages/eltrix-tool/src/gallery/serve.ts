/** Starts the server behind the gallery: the project's modules through Vite, and the gallery's own page. */

import { existsSync } from 'node:fs';
import { createServer as createHttpServer } from 'node:http';
import { dirname, join, resolve } from 'node:path';
import { createServer } from 'vite';
import { elementModules } from '../compile/element-modules.ts';
import { toolFile } from '../project/library.ts';
import { sheetModules } from '../project/sheet-modules.ts';
import { ToolError } from '../project/tool-error.ts';
import { pages } from './answers.ts';
import type { SourceProblem } from './model.ts';
import { type ServedFolders, ServedProject } from './served-project.ts';

export interface GalleryOptions extends ServedFolders {
  /** The folder that a build writes: what happens there is nobody's change. */
  readonly out: string;
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
  const state = new ServedProject(root, options);
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
      // Vite looks for a free port and binds it later; a server of our own binds port 0 at once.
      middlewareMode: true,
      hmr: false,
      ws: false,
      watch: { ignored: [`${resolve(root, options.out)}/**`, '**/coverage/**'] },
      fs: { strict: true, allow: [root, toolFile('dist'), ...packageFolders(root)] },
    },
    optimizeDeps: { entries: state.elements.map(({ file }) => file), exclude: ['eltrix'] },
    plugins: [
      elementModules(root, () => state.elements),
      sheetModules(),
      { name: 'eltrix-gallery-pages', configureServer: vite => void vite.middlewares.use(pages(vite, state)) },
    ],
  });
  const http = createHttpServer(server.middlewares);
  try {
    await new Promise<void>((done, reject) =>
      http.once('error', reject).listen(options.port, '127.0.0.1', () => done()),
    );
  } catch (error) {
    state.end();
    await server.close();
    if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE') throw error;
    throw new ToolError(
      'port-taken',
      `Port ${options.port} is taken by another program. Take another one: eltrix serve --port ${options.port + 1}.`,
      undefined,
      undefined,
      2,
    );
  }
  state.watch(server);
  const { port } = http.address() as { port: number };
  state.host = `127.0.0.1:${port}`;
  return {
    address: `http://127.0.0.1:${port}/`,
    count: state.elements.length,
    problem: state.problem,
    async close() {
      state.end();
      const closed = new Promise(done => http.close(done));
      http.closeAllConnections();
      await Promise.all([server.close(), closed]);
    },
  };
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
