/**
 * The process in which Node's own runner reports what happens in pages: each test of a page is a test here, which
 * ends as that one did. The tree comes by messages.
 */
import { type TestContext, test } from 'node:test';
import { compileFunction } from 'node:vm';
import type { TreeError, TreeEvent } from './tree.ts';

interface Waiting {
  readonly context: Promise<TestContext>;
  end(event: Extract<TreeEvent, { type: 'end' }>): void;
}

const waiting = new Map<string, Waiting>();

type Begin = (name: string, options: object, body: (t: TestContext) => Promise<void>) => Promise<void>;
const sites = new Map<string, (begin: Begin, ...args: Parameters<Begin>) => Promise<void>>();

/** Node tells where a test was begun: it is begun from the author's own line. */
function beginAt(
  at: Extract<TreeEvent, { type: 'start' }>['at'],
  begin: Begin,
  ...args: Parameters<Begin>
): Promise<void> {
  if (!at) return begin(...args);
  const key = `${at.path}:${at.line}:${at.column}`;
  let from = sites.get(key);
  if (!from) {
    from = compileFunction('return begin(name, options, body)', ['begin', 'name', 'options', 'body'], {
      filename: at.path,
      lineOffset: at.line - 1,
      columnOffset: at.column - 8,
    }) as never;
    sites.set(key, from!);
  }
  return from!(begin, ...args);
}

function start({ id, parent, name, at }: Extract<TreeEvent, { type: 'start' }>): void {
  let begin!: (context: TestContext) => void;
  let end!: Waiting['end'];
  const context = new Promise<TestContext>(resolve => {
    begin = resolve;
  });
  const ended = new Promise<Extract<TreeEvent, { type: 'end' }>>(resolve => {
    end = resolve;
  });
  waiting.set(id, { context, end });
  const body = async (t: TestContext) => {
    begin(t);
    const { outcome, reason, error, diagnostics } = await ended;
    for (const line of diagnostics) t.diagnostic(line);
    if (outcome === 'skipped') t.skip(reason || undefined);
    else if (outcome === 'todo') t.todo(reason || undefined);
    await Promise.all(inner.get(id) ?? []);
    // A suite fails by what is inside it, as Node counts it.
    if (error && error.code !== 'ERR_TEST_FAILURE') throw revive(error);
  };
  const above = parent === null ? undefined : waiting.get(parent);
  const options = { concurrency: 1_000_000 };
  if (!above) void beginAt(at, test as Begin, name, options, body);
  else {
    const made = above.context.then(t => beginAt(at, t.test.bind(t) as Begin, name, options, body));
    inner.set(parent!, [...(inner.get(parent!) ?? []), made]);
  }
}

/** What has been begun inside a test. */
const inner = new Map<string, Promise<unknown>[]>();

function revive({ name, message, stack, code }: TreeError): Error {
  const error = new Error(message);
  error.name = name;
  error.stack = stack || `${name}: ${message}`;
  if (code) Object.assign(error, { code });
  return error;
}

process.on('message', (events: readonly TreeEvent[] | 'finished') => {
  if (events === 'finished') {
    process.disconnect();
    return;
  }
  for (const event of events) {
    if (event.type === 'start') start(event);
    else if (event.type === 'end') waiting.get(event.id)?.end(event);
    else console.log(event.text);
  }
});
// The one who sends them has gone: what waits is over.
process.on('disconnect', () => {
  for (const { end } of waiting.values())
    end({
      type: 'end',
      id: '',
      outcome: 'failed',
      diagnostics: [],
      error: { name: 'Error', message: 'The run was stopped.', stack: '' },
    });
});
process.send?.('ready');
