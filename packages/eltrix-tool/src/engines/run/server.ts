/**
 * Serves test pages on 127.0.0.1, to requests with the run's token, and only files inside the project. Each page has a
 * separate origin.
 */
import { readFileSync } from 'node:fs';
import { axeFile } from '../../project/library.ts';
import { type Asked, json, type LocalServer, startLocalServer } from '../../serving/local-server.ts';
import type { MessageBatch, PageMessage, PageSettings } from '../../testing/page.ts';
import { workerScript } from '../../testing/worker.ts';
import type { TestBundle } from './bundle.ts';
import { reachable } from './library-bundle.ts';

/** One opening of one test file in one engine. */
export interface Visit {
  readonly settings: Omit<PageSettings, 'base' | 'run' | 'environment'> & {
    readonly environment: Omit<PageSettings['environment'], 'project'>;
  };
  /** The path of the page's module among the bundled files. */
  readonly module: string;
  hear(message: PageMessage): void;
  command(name: string, argument: unknown): Promise<unknown>;
}

export interface TestServer {
  /** Replaces the bundled files. */
  setFiles(bundle: Pick<TestBundle, 'files' | 'imports'>): void;
  /**
   * Creates a page for a visit, `http://127.0.0.1:port/token/page/id`. Each page has a separate port, so that pages
   * share no storage, database or channel.
   */
  open(visit: Visit): Promise<{ readonly address: string; close(): void }>;
  close(): void;
}

export function startTestServer(root: string, policy: string | undefined): TestServer {
  const visits = new Map<string, Visit & { /** The number of messages that have arrived. */ heard: number }>();
  let { files, imports }: Pick<TestBundle, 'files' | 'imports'> = { files: new Map(), imports: new Map() };
  const listening = new Set<LocalServer>();
  let next = 0;

  async function answer({ request, response, path, send, file, refuse }: Asked, base: string): Promise<unknown> {
    const [kind = '', ...rest] = path.split('/');
    response.setHeader('cache-control', 'no-store');
    if (kind === 'worker.js') return send(workerScript, 'worker.js');
    if (kind === 'axe.js') return send(readFileSync(axeFile()), 'axe.js');
    if (kind === 'blank') return send('<!doctype html>', 'blank.html');
    if (kind === 'page') {
      const visit = visits.get(rest[0]!);
      if (!visit) return refuse(404);
      const { settings, module } = visit;
      const full: PageSettings = {
        ...settings,
        base,
        run: rest[0]!,
        environment: { ...settings.environment, project: `${base}project/` },
      };
      const data = JSON.stringify(full).replaceAll('<', '\\u003c');
      // Without these, the page would request each module after it has read the one that imports it.
      const ahead = [...reachable(imports, module)].map(
        name => `<link rel="modulepreload" href="${base}files/${name}">`,
      );
      if (policy) response.setHeader('content-security-policy', policy);
      return send(
        `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Tests</title><link rel="icon" href="data:,">${ahead.join('')}</head><body><script type="application/json" id="eltrix-run">${data}</script><script type="module" src="${base}files/${module}"></script></body></html>`,
        'page.html',
      );
    }
    if (isRun(path)) {
      const visit = visits.get(rest[0]!);
      if (!visit) return refuse(410);
      if (request.method !== 'POST') return refuse(405);
      const body: unknown = await json(request).catch(() => refuse(400));
      if (body === undefined) return;
      if (rest[1] === 'events') {
        const { first, messages } = body as MessageBatch;
        // A page that is left repeats what its worker may not have sent.
        for (const message of messages.slice(Math.max(0, visit.heard - first))) visit.hear(message);
        visit.heard = Math.max(visit.heard, first + messages.length);
        return response.end();
      }
      const { name, argument } = body as { name: string; argument: unknown };
      const outcome = await visit.command(name, argument).then(
        value => ({ value }),
        (error: unknown) => ({ problem: error instanceof Error ? error.message : String(error) }),
      );
      return send(JSON.stringify(outcome), 'outcome.json');
    }
    if (kind === 'files') {
      const name = rest.join('/');
      const code = files.get(name);
      return code === undefined ? refuse(404) : send(code, name);
    }
    // The project's files, under several names: `project~b/` is another copy of its modules.
    if (/^project(?:~\w+)?$/.test(kind)) return file(root, rest.join('/'));
    return refuse(404);
  }

  return {
    setFiles(bundle) {
      ({ files, imports } = bundle);
    },
    async open(visit) {
      const id = String(next++);
      visits.set(id, { ...visit, heard: 0 });
      const server: LocalServer = await startLocalServer({
        secret: true,
        posts: isRun,
        answer: asked => answer(asked, new URL(server.address).pathname),
      });
      listening.add(server);
      return {
        address: `${server.address}page/${id}`,
        close() {
          visits.delete(id);
          listening.delete(server);
          void server.close();
        },
      };
    },
    close() {
      for (const server of listening) void server.close();
      listening.clear();
    },
  };
}

const isRun = (path: string) => path.startsWith('run/');
