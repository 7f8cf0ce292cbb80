/** Programs that a test talks to over a port; what they print is told when they do not come. */
import { type ChildProcess, spawn } from 'node:child_process';
import { readdirSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { repository } from './project.ts';

const children: ChildProcess[] = [];

export function endServers(): void {
  // A driver may have been started by a script: the group ends.
  for (const child of children.splice(0)) {
    try {
      process.kill(-child.pid!, 'SIGTERM');
    } catch {
      child.kill('SIGTERM');
    }
  }
}

export const freePort = () =>
  new Promise<number>(resolve => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => resolve(port));
    });
  });

interface Server {
  readonly child: ChildProcess;
  /** The end of what it has printed. */
  printed(): string;
}

function serve(program: string, args: readonly string[]): Server {
  let text = '';
  const child = spawn(program, args, { stdio: ['ignore', 'pipe', 'pipe'], detached: true });
  const keep = (data: Buffer) => {
    text = (text + data).slice(-4000);
  };
  child.stdout.on('data', keep);
  child.stderr.on('data', keep);
  children.push(child);
  const how = () => (child.exitCode === null ? 'runs' : `ended with ${child.exitCode}`);
  return { child, printed: () => `${program} ${args.join(' ')} (${how()})\n${text}` };
}

async function json(url: string): Promise<unknown> {
  return fetch(url).then(
    response => response.json(),
    () => undefined,
  );
}

/** The address of a program that answers at `path` there, and says nothing else than that it is ready. */
export async function start(program: string, args: readonly string[], port: number, path = '/status'): Promise<string> {
  const server = serve(program, args);
  const url = `http://127.0.0.1:${port}`;
  for (const limit = Date.now() + 60_000; Date.now() < limit; await pause(100)) {
    const answer = (await json(url + path)) as { value?: { ready?: boolean } } | undefined;
    if (answer && answer.value?.ready !== false) return url;
  }
  throw new Error(`No answer from ${server.printed()}`);
}

/** The address of a Selenium server for `nodes` browsers of one kind, one session in each. */
export async function startHub(browser: string, driver: string, nodes: number): Promise<string> {
  const folder = join(repository, 'node_modules/selenium-server/lib/runner');
  const jar = readdirSync(folder, { recursive: true }).find(file => String(file).endsWith('.jar')) as string;
  const run = ['-jar', join(folder, jar), '-host', '127.0.0.1', '-port'];
  const port = await freePort();
  const url = await start('java', [...run, `${port}`, '-role', 'hub'], port, '/grid/api/hub');
  const startNode = async () =>
    serve('java', [
      `-Dwebdriver.${browser}.driver=${driver}`,
      ...run,
      `${await freePort()}`,
      ...['-role', 'node', '-hub', `${url}/grid/register`],
      ...['-browser', `browserName=${browser},maxInstances=1,platform=ANY`],
    ]);
  const running: Server[] = [];
  const ended: Server[] = [];
  for (const limit = Date.now() + 120_000; Date.now() < limit; await pause(100)) {
    while (running.length < nodes) running.push(await startNode());
    const hub = (await json(`${url}/grid/api/hub`)) as { slotCounts?: { total: number } } | undefined;
    if (hub?.slotCounts?.total === nodes) return url;
    // Somebody else may have taken the port in the meantime.
    const gone = running.findIndex(({ child }) => child.exitCode !== null);
    if (gone >= 0) ended.push(...running.splice(gone, 1));
    if (ended.length > 5) break;
  }
  throw new Error(
    `The hub does not have ${nodes} nodes.\n${[...ended, ...running].map(node => node.printed()).join('\n')}`,
  );
}
