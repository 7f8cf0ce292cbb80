/** Serves the tests as a page: their tree, and a frame in which they run. */
import { readFileSync } from 'node:fs';
import type { ServerResponse } from 'node:http';
import { basename } from 'node:path';
import { type RunOptions, TestRuns } from '../engines/run/run.ts';
import { toolFile } from '../project/library.ts';
import { type Asked, json, startLocalServer } from '../serving/local-server.ts';
import type { RunPlan } from '../testing/plan.ts';
import type { RunnerMessage, RunRequest } from './model.ts';
import { RunQueue } from './queue.ts';
import { engineOf, readerOpener } from './reader.ts';

export interface RunnerOptions {
  readonly run: Omit<RunOptions, 'places' | 'atOnce' | 'coverage' | 'endless'>;
  readonly plan: RunPlan;
  /** The current test files. */
  readonly files: () => Promise<readonly string[]>;
  /** 0 chooses a free port. */
  readonly port: number;
}

export interface Runner {
  /** `http://127.0.0.1:port/`. */
  readonly address: string;
  /** A source was saved: the affected tests run again. */
  changed(paths: ReadonlyMap<string, boolean>): Promise<void>;
  close(): Promise<void>;
}

const own = new Set(['app.js', 'app.css']);

export async function startRunner({ run, plan, files: findFiles, port }: RunnerOptions): Promise<Runner> {
  let files = await findFiles();
  let engine = 'reader';
  const readers = new Set<ServerResponse>();
  /** The results of each file since its last complete run. */
  const known = new Map<string, RunnerMessage[]>();
  let frame: RunnerMessage | undefined;

  const write = (reader: ServerResponse, message: RunnerMessage) =>
    void reader.write(`data: ${JSON.stringify(message)}\n\n`);
  const report = (message: RunnerMessage) => {
    if (message.type === 'frame') frame = message;
    if (message.type === 'again') known.set(message.file, []);
    if (message.type === 'registered' || message.type === 'event') known.get(message.file)?.push(message);
    for (const reader of readers) write(reader, message);
  };
  const project = (): RunnerMessage => ({ type: 'project', project: basename(run.root), files });

  const runs = new TestRuns({
    ...run,
    coverage: false,
    atOnce: 1,
    endless: true,
    places: [
      {
        kind: 'reader',
        name: 'this browser',
        opener: server =>
          readerOpener(
            server,
            () => engine,
            address => report({ type: 'frame', address }),
          ),
      },
    ],
  });
  await runs.begin();
  const queue = new RunQueue(runs, files, plan, report);

  async function answer({ request, response, path, send, refuse }: Asked): Promise<unknown> {
    response.setHeader('cache-control', 'no-cache');
    if (path === '') return send(readFileSync(pageFile('index.html')), 'index.html');
    if (own.has(path)) return send(readFileSync(pageFile(path)), path);
    if (path === 'events') {
      response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store' });
      engine = engineOf(request.headers['user-agent']);
      const isFirst = known.size === 0 && readers.size === 0;
      readers.add(response);
      request.once('close', () => readers.delete(response));
      for (const message of [project(), ...[...known.values()].flat(), ...(frame ? [frame] : [])])
        write(response, message);
      // Tests need the frame.
      if (isFirst) queue.ask(files.map(file => ({ file })));
      return;
    }
    if (path !== 'run') return refuse(404);
    const wanted: unknown = await json(request).catch(() => undefined);
    if (!isRequest(wanted, files)) return refuse(400);
    queue.ask(wanted);
    return response.end();
  }

  const server = await startLocalServer({ port, posts: path => path === 'run', answer });
  return {
    address: server.address,
    async changed(paths) {
      const now = await findFiles();
      const concerned = runs.concernedBy(paths, now);
      if (concerned.length === 0 && now.length === files.length) return;
      files = now;
      report(project());
      queue.bundle(files);
      queue.ask(concerned.map(file => ({ file })));
    },
    async close() {
      for (const reader of readers) reader.end();
      await Promise.all([server.close(), runs.end()]);
    },
  };
}

const pageFile = (name: string) => toolFile(`dist/runner/${name}`);

function isRequest(value: unknown, files: readonly string[]): value is RunRequest {
  return (
    Array.isArray(value) &&
    value.every(
      (one: { file?: unknown; tests?: unknown } | null) =>
        typeof one?.file === 'string' &&
        files.includes(one.file) &&
        (one.tests === undefined || (Array.isArray(one.tests) && one.tests.every(Number.isInteger))),
    )
  );
}
