/** The state of the page: the project's data, the selected element, and the server's messages. */
import { type Scope, type Signal, signal } from 'eltrix';
import type { Finding } from '../../project/finding.ts';
import type {
  Changes,
  Circumstances,
  ElementSize,
  GalleryData,
  GalleryElement,
  ServerMessage,
  SourceProblem,
} from '../model.ts';
import { noChanges, parseAddress, printAddress, type Route } from './address.ts';

/** The folder of the gallery's files. */
export const base = new URL(/* @vite-ignore */ './', import.meta.url);

export const data = signal<GalleryData | undefined>(undefined);
export const route = signal<Route>(parseAddress(typeof location === 'undefined' ? '' : location.hash));
/** A source with a syntax error. */
export const problem = signal<SourceProblem | null>(null);
/** Whether the server has ended. */
export const lost = signal(false);

/** The changes for frames, with the current elements if they are known. */
export type Again = Omit<ServerMessage & { type: 'changed' }, 'type'>;

/** Notifies the frames: an event `again` whose detail is the elements with changed modules. */
export const frames = new EventTarget();

const elements = new Map<string, Signal<GalleryElement | undefined>>();

/** Undefined if it does not exist, or is no longer requested. */
async function json<T>(path: string, signal?: AbortSignal): Promise<T | undefined> {
  try {
    const answer = await fetch(new URL(path, base), signal ? { signal } : {});
    return answer.ok ? ((await answer.json()) as T) : undefined;
  } catch {
    return undefined;
  }
}

/** The data of one element, loaded on request. */
export function elementOf(tag: string): Signal<GalleryElement | undefined> {
  let element = elements.get(tag);
  if (!element) {
    elements.set(tag, (element = signal<GalleryElement | undefined>(undefined)));
    void readElement(tag);
  }
  return element;
}

/** The requests for an element, or for the project under '', that newer ones replace. */
const reading = new Map<string, AbortController>();

/** Answers may come in another order than they were requested: earlier requests end. */
function replaceReading(of: string): AbortSignal {
  reading.get(of)?.abort();
  const controller = new AbortController();
  reading.set(of, controller);
  return controller.signal;
}

async function readElement(tag: string): Promise<void> {
  const stop = replaceReading(tag);
  const shown = elements.get(tag)!;
  const add = (more: Partial<GalleryElement>) => {
    const now = shown.peek();
    if (now && !stop.aborted) shown.set({ ...now, ...more });
  };
  const read = await json<GalleryElement>(`element/${tag}.json`, stop);
  if (stop.aborted) return;
  const { findings, size } = shown.peek() ?? {};
  // What was known is shown until the new is known.
  shown.set(read && { ...read, findings: read.findings ?? findings, size: read.size ?? size });
  if (!read || read.size || !data.peek()?.live) return;
  add({ findings: await json<readonly Finding[]>(`findings/${tag}.json`, stop) });
  add({ size: await json<ElementSize>(`size/${tag}.json`, stop) });
}

async function readData(stop = replaceReading('')): Promise<void> {
  const read = await json<GalleryData>('data.json', stop);
  if (!stop.aborted) data.set(read);
}

/** Observes the URL and the server while the page's element is connected. */
export async function begin(scope: Scope): Promise<void> {
  scope.on(window, 'hashchange', () => {
    if (location.hash !== printAddress(route.peek())) route.set(parseAddress(location.hash));
  });
  scope.use(flush);
  await readData(scope.signal);
  if (data.peek()?.live && !scope.signal.aborted) follow(scope);
}

function follow(scope: Scope): void {
  const source = new EventSource(new URL('events', base));
  scope.use(() => source.close());
  source.addEventListener('open', () => {
    // The server may have been restarted.
    if (lost.peek()) location.reload();
  });
  source.addEventListener('error', () => lost.set(true));
  source.addEventListener('message', ({ data: text }) => {
    const message = JSON.parse(text as string) as ServerMessage;
    if (message.type === 'problem') problem.set(message.problem);
    else if (message.type === 'changed') frames.dispatchEvent(new CustomEvent<Again>('again', { detail: message }));
    else {
      void readData();
      for (const tag of message.tags ?? elements.keys()) if (elements.has(tag)) void readElement(tag);
    }
  });
}

let later: ReturnType<typeof setTimeout> | undefined;

/** Changes the state; the URL is updated without an entry in the history. */
export function change(part: Partial<Route>): void {
  route.set({ ...route.peek(), ...part });
  clearTimeout(later);
  // Engines limit how often the URL may be set.
  later = setTimeout(flush, 250);
}

/** Sets the URL now. */
export function flush(): void {
  if (later === undefined) return;
  clearTimeout(later);
  later = undefined;
  history.replaceState(null, '', `${location.pathname}${location.search}${printAddress(route.peek())}`);
}

export function look(part: Partial<Circumstances>): void {
  change({ circumstances: { ...route.peek().circumstances, ...part } });
}

/** Undefined removes the change. */
export function setChange<G extends keyof Changes>(
  group: G,
  name: string,
  value: Changes[G][string] | undefined,
): void {
  const { changes } = route.peek();
  const { [name]: _, ...rest } = changes[group] as Record<string, unknown>;
  change({ changes: { ...changes, [group]: value === undefined ? rest : { ...rest, [name]: value } } });
}

export function choose(specimen: string): void {
  change({ specimen, changes: noChanges });
}
