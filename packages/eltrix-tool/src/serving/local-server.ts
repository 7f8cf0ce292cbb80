/**
 * The only way in which the tool serves anything: to this machine, under the server's own name, to its own pages, and
 * reading only. What does not fit is refused before anybody looks at it, and nothing that is sent can end the process.
 */
import { randomBytes } from 'node:crypto';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { type AddressInfo, isIP } from 'node:net';
import { basename } from 'node:path';
import { contentType } from 'mime-types';
import { sendFile } from './project-files.ts';

/** A request that may be answered. */
export interface Asked {
  readonly request: IncomingMessage;
  readonly response: ServerResponse;
  readonly method: 'GET' | 'HEAD' | 'POST';
  /** Decoded once, behind the token and without the first slash; no part of it is empty, `.` or `..`. */
  readonly path: string;
  readonly query: URLSearchParams;
  /** Answers with a text or bytes, as a file of this name. */
  send(body: string | Uint8Array, name: string): void;
  /** Answers with a file of a folder, or 404 for what is not there, hidden, or leads outside. */
  file(folder: string, path: string): void;
  /** Answers with a status (RFC 9110 §15) and nothing else. */
  refuse(status: number): void;
}

export interface LocalServerOptions {
  /** 0, as by default, takes any that is free. */
  readonly port?: number;
  /** Where it listens, 127.0.0.1 unless given. Beyond this machine it answers to any name that is an IP address. */
  readonly host?: string;
  /** Whether only those may ask who know a secret part of the address; who does may come from a page without an origin. */
  readonly secret?: boolean;
  /** What may be posted to; nothing unless given. */
  readonly posts?: (path: string) => boolean;
  answer(asked: Asked): unknown;
}

export interface LocalServer {
  readonly port: number;
  /** `http://127.0.0.1:port/`, with the secret if there is one. */
  readonly address: string;
  close(): Promise<void>;
}

/** @throws what `listen` does, for example EADDRINUSE. */
export async function startLocalServer(options: LocalServerOptions): Promise<LocalServer> {
  const { host = '127.0.0.1' } = options;
  const isOpen = !/^(?:127\.|localhost$|::1$)/.test(host);
  const secret = options.secret === true ? randomBytes(16).toString('hex') : undefined;
  const server = createServer((request, response) => {
    response.setHeader('x-content-type-options', 'nosniff');
    // Errors of a closed connection are ignored.
    response.on('error', () => {});
    const refuse = (status: number) => {
      if (response.headersSent) return void response.destroy();
      if (status === 405) response.setHeader('allow', 'GET, HEAD');
      response.writeHead(status, { 'content-type': 'text/plain; charset=utf-8' }).end();
    };
    const looked = look(request, { ...options, port: request.socket.localPort!, secret, isOpen });
    if (typeof looked === 'number') return refuse(looked);
    if (!secret) {
      response.setHeader('cross-origin-resource-policy', 'same-origin');
      response.setHeader('x-frame-options', 'SAMEORIGIN');
    }
    const failed = (error: unknown) => {
      if (response.headersSent) return void response.destroy();
      response.writeHead(500, { 'content-type': 'text/plain; charset=utf-8' });
      response.end(error instanceof Error ? error.message : String(error));
    };
    const asked: Asked = {
      request,
      response,
      ...looked,
      send: (body, name) =>
        void response.setHeader('content-type', contentType(basename(name)) || 'application/octet-stream').end(body),
      file: (folder, path) => sendFile(request, response, folder, path, refuse),
      refuse,
    };
    try {
      Promise.resolve(options.answer(asked)).catch(failed);
    } catch (error) {
      failed(error);
    }
  });
  await new Promise<void>((resolve, reject) => server.once('error', reject).listen(options.port ?? 0, host, resolve));
  const { port } = server.address() as AddressInfo;
  return {
    port,
    address: `http://${/^(?:0\.0\.0\.0|::|localhost)$/.test(host) ? '127.0.0.1' : host.includes(':') ? `[${host}]` : host}:${port}/${secret ? `${secret}/` : ''}`,
    close: () =>
      new Promise(resolve => {
        server.close(() => resolve());
        server.closeAllConnections();
      }),
  };
}

interface Rules {
  readonly port: number;
  readonly secret: string | undefined;
  readonly isOpen: boolean;
  readonly posts?: (path: string) => boolean;
}

/** What is asked for, or the status that it is refused with. */
function look(
  request: IncomingMessage,
  { port, secret, posts, isOpen }: Rules,
): Pick<Asked, 'method' | 'path' | 'query'> | number {
  const { host, origin } = request.headers;
  // A page of another site can make a browser ask here, under its own name (DNS rebinding).
  const isName = host === `127.0.0.1:${port}` || (secret === undefined && host === `localhost:${port}`);
  // An address is no name that another site could have.
  const isAddress = isOpen && isIP((host ?? '').replace(/:\d+$/, '').replace(/^\[|\]$/g, '')) !== 0;
  if (!isName && !isAddress) return 421;
  const isOwn = origin === undefined || origin === `http://${host}` || (secret !== undefined && origin === 'null');
  if (!isOwn || (secret === undefined && comesFromElsewhere(request))) return 403;
  const { method = '', url = '' } = request;
  if (!/^(?:GET|HEAD|POST)$/.test(method)) return 405;
  // The form of RFC 9112 §3.2.1: a path. Two slashes would begin the name of another host.
  if (!/^\/(?![/\\])/.test(url)) return 400;
  let path: string;
  let query: URLSearchParams;
  try {
    const { pathname, searchParams } = new URL(url, `http://${host}`);
    [path, query] = [decodeURIComponent(pathname).slice(1), searchParams];
  } catch {
    return 400;
  }
  if (!isPlain(path)) return 400;
  if (secret !== undefined) {
    if (!path.startsWith(`${secret}/`)) return 403;
    path = path.slice(secret.length + 1);
  }
  if (method === 'POST' && posts?.(path) !== true) return 405;
  return { method: method as Asked['method'], path, query };
}

/** Whether every reader understands a path in the same way: no control characters, no empty part but the last, no dots for one. */
function isPlain(path: string): boolean {
  const parts = path.split('/');
  const isOdd = (part: string, at: number) =>
    (part === '' && at < parts.length - 1) || part === '.' || part === '..' || part.includes('\\');
  return !parts.some(isOdd) && [...path].every(letter => letter >= ' ' && letter !== '\x7f');
}

/** Whether a page of another origin asks (Fetch Metadata §2); that somebody follows a link to here is nothing bad. */
function comesFromElsewhere({ headers }: IncomingMessage): boolean {
  const site = headers['sec-fetch-site'];
  if (site === undefined || site === 'same-origin' || site === 'none') return false;
  return headers['sec-fetch-mode'] !== 'navigate' || headers['sec-fetch-dest'] !== 'document';
}

/** The body of what was posted. @throws SyntaxError if it is no JSON. */
export async function json(request: IncomingMessage): Promise<unknown> {
  const chunks: Buffer[] = [];
  for await (const chunk of request) chunks.push(chunk as Buffer);
  return JSON.parse(Buffer.concat(chunks).toString('utf8'));
}
