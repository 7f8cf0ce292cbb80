/** Programs that a test talks to over a port; what they print is told when they do not come. */
import { type ChildProcess, spawn } from 'node:child_process';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { listeningPort } from '../../packages/eltrix-tool/src/engines/listening-port.ts';
import { type Children, startDisplay } from '../../packages/eltrix-tool/src/engines/webkit.ts';
import { repository } from './project.ts';

const children: ChildProcess[] = [];
const displays: Children = new Map();

export function endServers(): void {
  for (const end of displays.values()) end();
  displays.clear();
  // A driver may have been started by a script: the group ends.
  for (const child of children.splice(0)) {
    try {
      process.kill(-child.pid!, 'SIGTERM');
    } catch {
      child.kill('SIGTERM');
    }
  }
}

interface Server {
  readonly child: ChildProcess;
  /** The end of what it has printed. */
  printed(): string;
  /** It has ended, or will never listen. */
  failed(): boolean;
}

function serve(program: string, args: readonly string[], env = process.env): Server {
  let text = '';
  const child = spawn(program, args, { stdio: ['ignore', 'pipe', 'pipe'], detached: true, env });
  const keep = (data: Buffer) => {
    text = (text + data).slice(-4000);
  };
  child.stdout.on('data', keep);
  child.stderr.on('data', keep);
  children.push(child);
  const ended = () => child.exitCode !== null || child.signalCode !== null;
  return {
    child,
    printed: () => `${program} ${args.join(' ')} (${ended() ? `ended with ${child.exitCode}` : 'runs'})\n${text}`,
    // A Selenium server whose port is taken prints so and does not end.
    failed: () => ended() || /Address already in use|BindException/.test(text),
  };
}

async function json(url: string): Promise<unknown> {
  return fetch(url).then(
    response => response.json(),
    () => undefined,
  );
}

/** Waits until `look` finds something. @throws Error with what the server printed as soon as it ends or cannot listen. */
async function until<T>(server: Server, look: () => Promise<T | undefined>, milliseconds: number): Promise<T> {
  for (const limit = performance.now() + milliseconds; performance.now() < limit; await pause(50)) {
    const found = await look();
    if (found !== undefined) return found;
    if (server.failed()) break;
  }
  throw new Error(`No answer from ${server.printed()}`);
}

/** The address of a WebDriver server, started with `--port=0`, that is ready. */
export async function startDriver(program: string, args: readonly string[] = [], env = process.env): Promise<string> {
  const server = serve(program, ['--port=0', ...args], env);
  const url = `http://127.0.0.1:${await listeningPort(server.child, program, server.printed)}`;
  const ready = async () =>
    ((await json(`${url}/status`)) as { value?: { ready?: boolean } } | undefined)?.value?.ready || undefined;
  await until(server, ready, 60_000);
  return url;
}

/** A port for a program that has to be given one. Another program may take it first: then the start fails and is repeated. */
const portToTry = () => 20_000 + Math.floor(Math.random() * 12_000);

async function tryPorts<T>(start: (port: number) => Promise<T>): Promise<T> {
  const failures: string[] = [];
  while (failures.length < 5) {
    try {
      return await start(portToTry());
    } catch (error) {
      failures.push((error as Error).message);
    }
  }
  throw new Error(failures.join('\n'));
}

/** The number of a virtual display that lasts until `endServers()`. */
export const display = () => startDisplay(displays);

/** The address of a Selenium server for `nodes` browsers of one kind, one session in each. */
export async function startHub(browser: string, driver: string, nodes: number): Promise<string> {
  const folder = join(repository, 'node_modules/selenium-server/lib/runner');
  const jar = readdirSync(folder, { recursive: true }).find(file => String(file).endsWith('.jar')) as string;
  const run = ['-jar', join(folder, jar), '-host', '127.0.0.1', '-port'];
  const slots = async (url: string) =>
    ((await json(`${url}/grid/api/hub`)) as { slotCounts?: { total: number } } | undefined)?.slotCounts?.total;
  const hub = await tryPorts(async port => {
    const url = `http://127.0.0.1:${port}`;
    await until(serve('java', [...run, `${port}`, '-role', 'hub']), () => slots(url), 60_000);
    return url;
  });
  for (let count = 1; count <= nodes; count++)
    await tryPorts(async port => {
      const node = serve('java', [
        `-Dwebdriver.${browser}.driver=${driver}`,
        ...[...run, `${port}`, '-role', 'node', '-hub', `${hub}/grid/register`],
        ...['-browser', `browserName=${browser},maxInstances=1,platform=ANY`],
      ]);
      await until(node, async () => ((await slots(hub)) === count ? true : undefined), 60_000);
    });
  return hub;
}
