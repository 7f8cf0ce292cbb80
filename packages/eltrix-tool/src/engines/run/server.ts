/** Serves test pages: to this machine only, to who knows the run's token, and nothing outside the project. Each has an origin of its own. */
import { randomBytes } from 'node:crypto';
import { createReadStream, realpathSync, statSync } from 'node:fs';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { extname, join, normalize, sep } from 'node:path';
import { axeFile } from '../../project/library.ts';
import type { PageMessage, PageSettings } from '../../testing/page.ts';
import { workerScript } from '../../testing/worker.ts';

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
  /** Exchanges the bundled files. */
  setFiles(files: ReadonlyMap<string, string | Uint8Array>): void;
  /**
   * Makes a page for a visit, `http://127.0.0.1:port/token/page/id`. The port is its own, so that pages side by side and
   * one after the other have no storage, database or channel in common.
   */
  open(visit: Visit): Promise<{ readonly address: string; close(): void }>;
  close(): void;
}

export const mimeTypes: Readonly<Record<string, string>> = {
  '.html': 'text/html; charset=utf-8',
  '.cjs': 'text/javascript',
  '.js': 'text/javascript; charset=utf-8',
  '.mjs': 'text/javascript; charset=utf-8',
  '.css': 'text/css; charset=utf-8',
  '.json': 'application/json',
  '.svg': 'image/svg+xml',
  '.png': 'image/png',
  '.jpg': 'image/jpeg',
  '.webp': 'image/webp',
  '.woff2': 'font/woff2',
};

export function startTestServer(root: string, policy: string | undefined): TestServer {
  const token = randomBytes(16).toString('hex');
  const visits = new Map<string, Visit>();
  let files: ReadonlyMap<string, string | Uint8Array> = new Map();
  const listening = new Set<Server>();
  let next = 0;

  function hear(request: IncomingMessage, response: ServerResponse): void {
    response.setHeader('cache-control', 'no-store').setHeader('x-content-type-options', 'nosniff');
    answer(request, response).catch(error => {
      if (!response.headersSent) response.writeHead(500);
      response.end(String(error));
    });
  }

  async function answer(request: IncomingMessage, response: ServerResponse): Promise<unknown> {
    const refuse = (status: number) => response.writeHead(status, { 'content-type': 'text/plain' }).end();
    // A page of another site can make a browser ask here, under a name of its own (DNS rebinding).
    if (request.headers.host !== `127.0.0.1:${request.socket.localPort}`) return refuse(421);
    const [, given, kind = '', ...rest] = new URL(request.url!, 'http://localhost').pathname.split('/');
    if (given !== token) return refuse(403);
    const base = `/${token}/`;
    if (kind === 'worker.js') return script(response, workerScript);
    if (kind === 'axe.js') return send(response, axeFile());
    if (kind === 'blank') return response.setHeader('content-type', mimeTypes['.html']!).end('<!doctype html>');
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
      if (policy) response.setHeader('content-security-policy', policy);
      return response
        .setHeader('content-type', mimeTypes['.html']!)
        .end(
          `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Tests</title><link rel="icon" href="data:,"></head><body><script type="application/json" id="eltrix-run">${data}</script><script type="module" src="${base}files/${module}"></script></body></html>`,
        );
    }
    if (kind === 'run' && request.method === 'POST') {
      const visit = visits.get(rest[0]!);
      if (!visit) return refuse(410);
      const body: unknown = JSON.parse(await text(request));
      if (rest[1] === 'events') {
        for (const message of body as PageMessage[]) visit.hear(message);
        return response.end();
      }
      const { name, argument } = body as { name: string; argument: unknown };
      const outcome = await visit.command(name, argument).then(
        value => ({ value }),
        (error: unknown) => ({ problem: error instanceof Error ? error.message : String(error) }),
      );
      return response.setHeader('content-type', mimeTypes['.json']!).end(JSON.stringify(outcome));
    }
    if (kind === 'files') {
      const name = rest.join('/');
      const code = files.get(name);
      return code === undefined
        ? refuse(404)
        : response.setHeader('content-type', mimeTypes[extname(name)] ?? 'text/plain').end(code);
    }
    // The project's own files, under as many names as wanted: `project~b/` is another copy of its modules.
    if (/^project(?:~\w+)?$/.test(kind)) {
      const path = allowed(root, rest.map(decodeURIComponent).join('/'));
      return path === undefined ? refuse(404) : send(response, path);
    }
    return refuse(404);
  }

  function stop(server: Server): void {
    listening.delete(server);
    server.close();
    server.closeAllConnections();
  }

  return {
    setFiles(given) {
      files = given;
    },
    async open(visit) {
      const id = String(next++);
      visits.set(id, visit);
      const server = createServer(hear);
      listening.add(server);
      await new Promise<void>((resolve, reject) => server.once('error', reject).listen(0, '127.0.0.1', resolve));
      const { port } = server.address() as AddressInfo;
      return {
        address: `http://127.0.0.1:${port}/${token}/page/${id}`,
        close() {
          visits.delete(id);
          stop(server);
        },
      };
    },
    close() {
      for (const server of [...listening]) stop(server);
    },
  };
}

/** The file of a path inside the project; undefined for what is not there, hidden, or leads outside. */
export function allowed(root: string, path: string): string | undefined {
  if (path.includes('\0') || path.startsWith('/') || path.includes('\\')) return undefined;
  const parts = normalize(path).split(sep);
  if (parts.some(part => part.startsWith('.'))) return undefined;
  try {
    // A link that leads out of the project is not followed.
    const [base, file] = [realpathSync(root), realpathSync(join(root, ...parts))];
    return file.startsWith(base + sep) && statSync(file).isFile() ? file : undefined;
  } catch {
    return undefined;
  }
}

function script(response: ServerResponse, code: string): void {
  response.setHeader('content-type', mimeTypes['.js']!).end(code);
}

function send(response: ServerResponse, path: string): void {
  response.setHeader('content-type', mimeTypes[extname(path)] ?? 'application/octet-stream');
  createReadStream(path).pipe(response);
}

async function text(request: IncomingMessage): Promise<string> {
  const chunks: Buffer[] = [];
  for await (const chunk of request) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks).toString('utf8');
}
