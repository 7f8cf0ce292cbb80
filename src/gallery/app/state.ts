/** What the page knows: the project's data, where the reader is, and what the server tells. */
import { type Signal, signal } from 'eltrix';
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

/** Where the gallery's own files are. */
export const base = new URL(/* @vite-ignore */ './', import.meta.url);

export const data = signal<GalleryData | undefined>(undefined);
export const route = signal<Route>(parseAddress(typeof location === 'undefined' ? '' : location.hash));
/** What does not parse. */
export const problem = signal<SourceProblem | null>(null);
/** Whether the server has gone. */
export const lost = signal(false);

/** Tells the frames: an event `again` with the tags whose modules have changed as its detail. */
export const frames = new EventTarget();

const elements = new Map<string, Signal<GalleryElement | undefined>>();

async function json<T>(path: string): Promise<T | undefined> {
  const answer = await fetch(new URL(path, base));
  return answer.ok ? ((await answer.json()) as T) : undefined;
}

/** One element's data, which comes when somebody asks. */
export function elementOf(tag: string): Signal<GalleryElement | undefined> {
  let element = elements.get(tag);
  if (!element) {
    elements.set(tag, (element = signal<GalleryElement | undefined>(undefined)));
    void readElement(tag);
  }
  return element;
}

async function readElement(tag: string): Promise<void> {
  const read = await json<GalleryElement>(`element/${tag}.json`);
  elements.get(tag)?.set(read);
  if (!read || read.size || !data.peek()?.live) return;
  const size = await json<ElementSize>(`size/${tag}.json`).catch(() => undefined);
  const now = elements.get(tag)?.peek();
  if (size && now) elements.get(tag)!.set({ ...now, size });
}

async function readData(): Promise<void> {
  data.set(await json<GalleryData>('data.json'));
}

/** Begins to follow the address and the server. */
export async function begin(): Promise<void> {
  addEventListener('hashchange', () => {
    if (location.hash !== printAddress(route.peek())) route.set(parseAddress(location.hash));
  });
  await readData();
  if (data.peek()?.live) follow();
}

function follow(): void {
  const source = new EventSource(new URL('events', base));
  source.addEventListener('open', () => {
    // The server may be another one than before.
    if (lost.peek()) location.reload();
  });
  source.addEventListener('error', () => lost.set(true));
  source.addEventListener('message', ({ data: text }) => {
    const message = JSON.parse(text as string) as ServerMessage;
    if (message.type === 'problem') problem.set(message.problem);
    else if (message.type === 'changed') frames.dispatchEvent(new CustomEvent('again', { detail: message.tags }));
    else {
      void readData();
      for (const tag of message.tags ?? elements.keys()) if (elements.has(tag)) void readElement(tag);
    }
  });
}

let later: ReturnType<typeof setTimeout> | undefined;

/** Changes where the reader is; the address follows, without an entry in the history. */
export function change(part: Partial<Route>): void {
  route.set({ ...route.peek(), ...part });
  clearTimeout(later);
  // Engines refuse to write the address too often.
  later = setTimeout(() => history.replaceState(null, '', printAddress(route.peek())), 250);
}

export function look(part: Partial<Circumstances>): void {
  change({ circumstances: { ...route.peek().circumstances, ...part } });
}

/** Undefined takes the change back. */
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
