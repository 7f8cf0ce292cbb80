/** Projects made for the occasion, and the tool as its users call it. */
import { spawn, spawnSync } from 'node:child_process';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { createServer } from 'node:http';
import { tmpdir } from 'node:os';
import { dirname, join, sep } from 'node:path';
import { fileURLToPath } from 'node:url';
import { type EngineName, engines, type Page, type Session } from '../../packages/eltrix-tool/src/engines/index.ts';

export const repository = fileURLToPath(new URL('../..', import.meta.url));
/** What this repository publishes. */
export const packages = ['eltrix', 'eltrix-tool'] as const;
const made: string[] = [];
process.once('exit', () => {
  for (const folder of made) rmSync(folder, { recursive: true, force: true });
});

export function temporary(): string {
  const folder = mkdtempSync(join(tmpdir(), 'eltrix-test-'));
  made.push(folder);
  return folder;
}

/** A project that has the library, and the packages named, installed. */
export function project(files: Record<string, string>, others: readonly string[] = []): string {
  const root = temporary();
  mkdirSync(join(root, 'node_modules/@types'), { recursive: true });
  for (const name of packages) symlinkSync(join(repository, 'packages', name), join(root, 'node_modules', name));
  for (const name of others) symlinkSync(join(repository, 'node_modules', name), join(root, 'node_modules', name));
  for (const [name, text] of Object.entries({ 'package.json': '{ "type": "module" }', ...files })) {
    mkdirSync(dirname(join(root, name)), { recursive: true });
    writeFileSync(join(root, name), text);
  }
  return root;
}

export const tool = join(repository, 'packages/eltrix-tool/dist/tool/cli/main.js');

export function eltrix(root: string, ...args: string[]) {
  const limits = { timeout: 400_000, killSignal: 'SIGKILL' } as const;
  const options = { cwd: root, encoding: 'utf8', ...limits } as const;
  const { status, stdout, stderr } = spawnSync(process.execPath, [tool, ...args], options);
  return { status, stdout, stderr };
}

/** The tool in the background; `until` waits for what it prints. */
export function running(root: string, ...args: string[]) {
  const child = spawn(process.execPath, [tool, ...args], { cwd: root });
  let text = '';
  child.stdout.on('data', data => (text += data));
  child.stderr.on('data', data => (text += data));
  return {
    child,
    async until(pattern: RegExp, milliseconds = 60_000): Promise<string> {
      const end = performance.now() + milliseconds;
      while (!pattern.test(text)) {
        if (performance.now() > end || child.exitCode !== null)
          throw new Error(`${pattern} did not come. There was: ${text}`);
        await new Promise(resolve => setTimeout(resolve, 10));
      }
      const seen = text;
      text = '';
      return seen;
    },
    async end(): Promise<void> {
      if (child.exitCode !== null || child.signalCode !== null) return;
      const late = setTimeout(() => child.kill('SIGKILL'), 20_000);
      child.kill('SIGTERM');
      await new Promise(resolve => child.once('exit', resolve));
      clearTimeout(late);
    },
  };
}

const types: Record<string, string> = {
  html: 'text/html',
  js: 'text/javascript',
  css: 'text/css',
  json: 'application/json',
  svg: 'image/svg+xml',
};

/** Serves folders, each under a path of its own, and pages given as text. */
export async function serve(
  folders: Record<string, string>,
  pages: Record<string, string> = {},
  headers: Record<string, string> = {},
) {
  const asked: string[] = [];
  /** Paths that answer with an error, as many times as they say. */
  const failing = new Map<string, number>();
  const server = createServer((request, response) => {
    const { pathname } = new URL(request.url!, 'http://localhost');
    asked.push(pathname);
    for (const [name, value] of Object.entries(headers)) response.setHeader(name, value);
    const left = failing.get(pathname) ?? 0;
    failing.set(pathname, left - 1);
    if (left > 0) return response.writeHead(503).end();
    const page = pages[pathname];
    if (page !== undefined) return response.setHeader('content-type', 'text/html; charset=utf-8').end(page);
    for (const [prefix, folder] of Object.entries(folders)) {
      if (!pathname.startsWith(prefix)) continue;
      const file = join(folder, pathname.slice(prefix.length));
      if (!file.startsWith(folder + sep) || !existsSync(file) || !statSync(file).isFile()) continue;
      return response.setHeader('content-type', types[file.split('.').at(-1)!] ?? 'text/plain').end(readFileSync(file));
    }
    return response.writeHead(404).end();
  });
  await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as { port: number };
  return { address: `http://127.0.0.1:${port}`, asked, failing, close: () => void server.close() };
}

const started = new Map<EngineName, Promise<Session>>();

/** A page in an engine that is started once a file; null where the engine is not installed. */
export async function open(
  url: string,
  name: EngineName = 'chromium',
  options?: Parameters<Session['open']>[1],
): Promise<Page | null> {
  if (!engines[name].find()) return null;
  if (!started.has(name)) started.set(name, engines[name].start());
  return (await started.get(name)!).open(url, options);
}

/** For `after()`: ends the engines that were started. */
export async function closeEngines(): Promise<void> {
  for (const session of started.values()) await (await session).close();
  started.clear();
}
