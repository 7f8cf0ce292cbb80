/** Starts the server behind the gallery: the project's modules through Vite, and the gallery's own page. */

import { existsSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { createServer } from 'vite';
import { elementModules } from '../compile/element-modules.ts';
import { signalNames } from '../compile/signal-names.ts';
import { bundlerConfig } from '../project/bundler.ts';
import { toolFile } from '../project/library.ts';
import { sheetModules } from '../project/sheet-modules.ts';
import { ToolError } from '../project/tool-error.ts';
import { type LocalServer, startLocalServer } from '../serving/local-server.ts';
import { answer, isOwn } from './answers.ts';
import type { SourceProblem } from './model.ts';
import { mayServe } from './served-files.ts';
import { type ServedFolders, ServedProject } from './served-project.ts';

export interface GalleryOptions extends ServedFolders {
  /** The folder that a build writes: changes there are ignored. */
  readonly out: string;
  /** 0 takes any that is free. */
  readonly port: number;
  /** The address to listen on; 127.0.0.1 unless given. */
  readonly host?: string;
}

export interface Gallery {
  /** `http://127.0.0.1:port/`. */
  readonly address: string;
  readonly count: number;
  /** What does not parse, if anything, as it was reported when the gallery started. */
  readonly problem: SourceProblem | null;
  close(): Promise<void>;
}

/** @throws ToolError for a port that is taken. */
export async function startGallery(root: string, options: GalleryOptions): Promise<Gallery> {
  const state = new ServedProject(root, options);
  await state.discoverAll();
  const folders = [root, toolFile('dist'), ...packageFolders(root)];
  const vite = await createServer(
    await bundlerConfig(
      root,
      {
        envFile: false,
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
          // Who may ask is decided before.
          cors: false,
          fs: { strict: true, allow: folders },
        },
        optimizeDeps: { entries: state.elements.map(({ file }) => file), exclude: ['eltrix'] },
        plugins: [elementModules(root, () => state.elements), sheetModules(), signalNames()],
      },
      'serve',
    ),
  );
  let server: LocalServer;
  try {
    server = await startLocalServer({
      port: options.port,
      ...(options.host !== undefined && { host: options.host }),
      answer(asked) {
        if (isOwn(asked.path)) return answer(vite, state, asked);
        if (
          !mayServe(
            asked.path,
            folders,
            file => (vite.environments.client.moduleGraph.getModulesByFile(file)?.size ?? 0) > 0,
          )
        )
          return asked.refuse(404);
        vite.middlewares(asked.request, asked.response);
      },
    });
  } catch (error) {
    state.end();
    await vite.close();
    if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE') throw error;
    throw new ToolError(
      'port-taken',
      `Port ${options.port} is taken by another program. Take another one: eltrix serve --port ${options.port + 1}.`,
      undefined,
      undefined,
      2,
    );
  }
  state.watch(vite);
  return {
    address: server.address,
    count: state.elements.length,
    problem: state.problem,
    async close() {
      state.end();
      await Promise.all([vite.close(), server.close()]);
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
