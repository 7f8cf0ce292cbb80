/** Runs in a test page: loads the tests, runs them, and reports to the tool. */
import { policy } from '../../../eltrix/src/view/trusted.ts';
import { hearErrors } from './errors.ts';
import { type Environment, setHost } from './host.ts';
import { keepPage } from './keep-page.ts';
import { unwatched } from './leftovers.ts';
import type { RegisteredTest, RunEvent, RunPlan, SnapshotMessage, StoredSnapshots } from './plan.ts';
import { registered, run } from './runner.ts';
import { runningTest } from './running.ts';
import { type ReportedError, serialize } from './serialize.ts';

/** The tool's options for a page, as JSON in a data block. */
export interface PageSettings {
  /** The path of requests to the tool, with a final slash. */
  readonly base: string;
  readonly run: string;
  readonly environment: Environment;
  readonly plan: RunPlan;
  /** Only lists the tests. */
  readonly list: boolean;
  readonly stored: StoredSnapshots;
  /** Whether a driver sends trusted input and takes pictures. */
  readonly driven: boolean;
  /** For a visible page: the elements of the last test are added again after it, and the console shows all output. */
  readonly watched: boolean;
  /**
   * Whether a test waits until the tool knows that it runs: in WebKit a busy page also blocks its workers' requests.
   */
  readonly careful: boolean;
  /** Whether the first test waits for the tool. */
  readonly waits: boolean;
  /** Whether the tool takes a picture of the page when a test fails. */
  readonly failurePictures: boolean;
}

/** The messages of a page to the tool. */
export type PageMessage =
  | RunEvent
  | SnapshotMessage
  | { readonly type: 'opened' }
  | { readonly type: 'registered'; readonly tests: readonly RegisteredTest[] }
  | { readonly type: 'load-failed'; readonly error: ReportedError }
  /** The page is being left for another URL; with the running test. */
  | { readonly type: 'left'; readonly test?: Extract<RunEvent, { type: 'start' }> | undefined }
  | {
      readonly type: 'finished';
      /** Whether its tab is like a new one: session history and name. */
      readonly unchanged: boolean;
    };

/** Callbacks besides the tests of a page. */
interface Attendance {
  /** Called when a test has failed, before anything is cleaned up. */
  readonly onFailure?: (() => Promise<unknown>) | undefined;
  begin?(): Promise<unknown>;
  end?(): Promise<unknown>;
}

/** Runs the tests of a file and reports each event. */
export async function carryOut(
  load: () => Promise<unknown>,
  { plan, list, watched }: Pick<PageSettings, 'plan' | 'list' | 'watched'>,
  report: (message: PageMessage) => void | Promise<void>,
  { onFailure, begin, end }: Attendance = {},
): Promise<void> {
  report({ type: 'opened' });
  const entries = globalThis.history?.length;
  const heard = hearErrors(watched);
  try {
    await load();
    report({ type: 'registered', tests: registered() });
    if (!list) await begin?.();
    if (!list) await run(report, plan, heard, onFailure);
  } catch (error) {
    const { printed } = heard.take();
    if (printed.length > 0) report({ type: 'said', printed });
    report({ type: 'load-failed', error: serialize(error) });
    return;
  } finally {
    heard.stop();
  }
  await end?.();
  report({ type: 'finished', unchanged: globalThis.history?.length === entries && window.name === '' });
}

/** Replaces the page's environment in the simulated DOM. */
export interface Surroundings {
  readonly settings: PageSettings;
  report(message: PageMessage): void;
  loadAxe(): Promise<unknown>;
}

export const surroundingsKey: unique symbol = Symbol.for('eltrix.surroundings.1') as never;

export async function startPage(load: () => Promise<unknown>): Promise<void> {
  const given = (globalThis as { [surroundingsKey]?: Surroundings })[surroundingsKey];
  if (given) {
    const { settings, report, loadAxe } = given;
    setHost({
      environment: settings.environment,
      trusted: false,
      command: () => Promise.resolve(null),
      loadAxe,
      stored: storedFor(settings, report),
    });
    return carryOut(load, settings, report);
  }
  const block = document.getElementById('eltrix-run')!;
  const settings = JSON.parse(block.textContent!) as PageSettings;
  block.remove();
  for (const link of document.querySelectorAll('link[rel=modulepreload]')) link.remove();
  const { base, run: id, environment } = settings;
  // A worker sends the events, so that a page that hangs has reported its running test.
  const worker = new Worker(policy().createScriptURL(`${base}worker.js`));
  await new Promise<void>(resolve => {
    worker.onmessage = () => resolve();
    worker.postMessage({ address: new URL(`${base}run/${id}/events`, location.href).href });
  });
  // The driver waits for the load event, which a test that hangs must not delay.
  if (document.readyState !== 'complete')
    await new Promise(resolve => addEventListener('load', resolve, { once: true }));
  const request = fetch.bind(globalThis);
  let axe: Promise<unknown> | undefined;
  const staged: { readonly test: unknown; readonly box: Element }[] = [];
  const delivery = new Delivery(worker);
  /** The running test, as reported. */
  let test: Extract<RunEvent, { type: 'start' }> | undefined;
  const report = (message: PageMessage) => {
    if (message.type === 'start' && !message.suite) test = message;
    if (message.type === 'end' && message.id === test?.id) test = undefined;
    const sent = delivery.send(message);
    return settings.careful && message.type === 'start' ? sent : undefined;
  };
  addEventListener('pagehide', event => {
    // Tests may dispatch one themselves.
    if (!event.isTrusted) return;
    const left: PageMessage = { type: 'left', test };
    const address = `${base}run/${id}/events`;
    // The worker ends with the page. A beacon has a size limit (64 KiB), which long output may exceed.
    if (!navigator.sendBeacon(address, JSON.stringify(delivery.unsent(left))))
      navigator.sendBeacon(address, JSON.stringify(delivery.last(left)));
  });
  const command = async (name: string, argument: unknown) => {
    const response = await request(`${base}run/${id}/command`, {
      method: 'POST',
      body: JSON.stringify({ name, argument }),
    });
    const { value, problem } = (await response.json()) as { value?: unknown; problem?: string };
    if (problem !== undefined) throw new Error(problem);
    return value;
  };
  setHost({
    environment,
    trusted: settings.driven,
    command,
    loadAxe: () => (axe ??= loadAxe(`${base}axe.js`)),
    stored: storedFor(settings, report),
    ...(settings.watched && { staged: box => void staged.push({ test: runningTest(), box }) }),
  });
  keepPage();
  const onFailure = settings.failurePictures
    ? () => unwatched(() => command('failure-picture', null), false)
    : undefined;
  await carryOut(load, settings, report, {
    onFailure,
    async begin() {
      if (settings.waits) await command('wait', 'begin');
    },
    async end() {
      const last = staged.at(-1)?.test;
      for (const { test, box } of staged) if (test === last) document.body.append(box);
      if (settings.waits) await command('wait', 'end');
    },
  });
}

/** Consecutive messages; the number of the first one identifies those that have arrived before. */
export interface MessageBatch {
  readonly first: number;
  readonly messages: readonly PageMessage[];
}

/** Sends messages through the worker, in order. */
class Delivery {
  readonly #worker: Worker;
  #count = 0;
  #waiting: { readonly number: number; readonly message: PageMessage; resolve(): void }[] = [];

  constructor(worker: Worker) {
    this.#worker = worker;
    worker.onmessage = ({ data: sent }: MessageEvent<number>) => {
      for (const { number, resolve } of this.#waiting) if (number <= sent) resolve();
      this.#waiting = this.#waiting.filter(({ number }) => number > sent);
    };
  }

  /** Resolves when the tool has received the message. */
  send(message: PageMessage): Promise<void> {
    this.#worker.postMessage(message);
    const number = ++this.#count;
    return new Promise(resolve => this.#waiting.push({ number, message, resolve }));
  }

  /** The messages that may not have arrived, and one more. */
  unsent(more: PageMessage): MessageBatch {
    const messages = [...this.#waiting.map(({ message }) => message), more];
    return { first: this.#count + 1 - messages.length, messages };
  }

  /** One message after all others. */
  last(message: PageMessage): MessageBatch {
    return { first: this.#count, messages: [message] };
  }
}

const storedFor = ({ stored }: PageSettings, report: (message: PageMessage) => unknown) => ({
  ...stored,
  nextKey: () => runningTest()?.nextSnapshot(),
  report,
});

function loadAxe(address: string): Promise<unknown> {
  const page = globalThis as { axe?: unknown };
  return new Promise((resolve, reject) => {
    const script = document.createElement('script');
    script.src = policy().createScriptURL(address);
    script.onload = () => {
      const { axe } = page;
      script.remove();
      delete page.axe;
      resolve(axe);
    };
    script.onerror = () => reject(new Error('axe-core could not be loaded into the page.'));
    document.head.append(script);
  });
}
