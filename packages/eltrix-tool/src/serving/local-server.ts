/**
 * The tool's only HTTP server. It listens on 127.0.0.1, checks the Host header and the origin of requests, and only
 * reads. Other requests are rejected before they are handled, and no request can end the process.
 */
import { randomBytes } from 'node:crypto';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { type AddressInfo, isIP } from 'node:net';
import { basename } from 'node:path';
import { contentType } from 'mime-types';
import { sendFile } from './project-files.ts';

/** A checked request. */
export interface Asked {
  readonly request: IncomingMessage;
  readonly response: ServerResponse;
  readonly method: 'GET' | 'HEAD' | 'POST';
  /** Decoded once, after the token and without the first slash. No segment is empty, `.` or `..`. */
  readonly path: string;
  readonly query: URLSearchParams;
  /** Responds with a text or bytes, like a file of this name. */
  send(body: string | Uint8Array, name: string): void;
  /** Responds with a file of a folder, or 404 for a missing or hidden file, or one outside the folder. */
  file(folder: string, path: string): void;
  /** Responds with a status (RFC 9110 §15) without a body. */
  refuse(status: number): void;
}

export interface LocalServerOptions {
  /** 0, the default, chooses a free port. */
  readonly port?: number;
  /**
   * The address to listen on; 127.0.0.1 unless given. With another address every IP address is accepted as a host
   * name.
   */
  readonly host?: string;
  /** Whether requests need a secret part of the URL; requests with it need no origin. */
  readonly secret?: boolean;
  /** The paths that accept POST; none unless given. */
  readonly posts?: (path: string) => boolean;
  answer(asked: Asked): unknown;
}

export interface LocalServer {
  readonly port: number;
  /** `http://127.0.0.1:port/`, with the secret if there is one. */
  readonly address: string;
  close(): Promise<void>;
}

/** @throws errors of `listen`, for example EADDRINUSE. */
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

/** The checked request, or the status with which it is rejected. */
function look(
  request: IncomingMessage,
  { port, secret, posts, isOpen }: Rules,
): Pick<Asked, 'method' | 'path' | 'query'> | number {
  const { host, origin } = request.headers;
  // Another site's page can make a browser send requests under that site's name (DNS rebinding).
  const isName = host === `127.0.0.1:${port}` || (secret === undefined && host === `localhost:${port}`);
  // An IP address is not a name that another site could own.
  const isAddress = isOpen && isIP((host ?? '').replace(/:\d+$/, '').replace(/^\[|\]$/g, '')) !== 0;
  if (!isName && !isAddress) return 421;
  const isOwn = origin === undefined || origin === `http://${host}` || (secret !== undefined && origin === 'null');
  if (!isOwn || (secret === undefined && comesFromElsewhere(request))) return 403;
  const { method = '', url = '' } = request;
  if (!/^(?:GET|HEAD|POST)$/.test(method)) return 405;
  // RFC 9112 §3.2.1: the target is a path. Two slashes would start the name of another host.
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

/** Whether all parsers agree on a path: no control characters, no empty segments but the last, no `.` and `..`. */
function isPlain(path: string): boolean {
  const parts = path.split('/');
  const isOdd = (part: string, at: number) =>
    (part === '' && at < parts.length - 1) || part === '.' || part === '..' || part.includes('\\');
  return !parts.some(isOdd) && [...path].every(letter => letter >= ' ' && letter !== '\x7f');
}

/** Whether a page of another origin sends the request (Fetch Metadata §2); following a link is allowed. */
function comesFromElsewhere({ headers }: IncomingMessage): boolean {
  const site = headers['sec-fetch-site'];
  if (site === undefined || site === 'same-origin' || site === 'none') return false;
  return headers['sec-fetch-mode'] !== 'navigate' || headers['sec-fetch-dest'] !== 'document';
}

/** The body of a POST request. @throws SyntaxError if it is not JSON. */
export async function json(request: IncomingMessage): Promise<unknown> {
  const chunks: Buffer[] = [];
  for await (const chunk of request) chunks.push(chunk as Buffer);
  return JSON.parse(Buffer.concat(chunks).toString('utf8'));
}
