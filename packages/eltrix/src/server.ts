/** Renders elements, markup and pages as HTML without a document: on a server, or in the build of a site. */

import { AwaitedRequests } from './server/awaited-requests.ts';
import { RenderContext, type RenderOptions, type Writing } from './server/context.ts';
import { type ElementOptions, noOwner, writeElement } from './server/element.ts';
import { prepareHosts } from './server/host.ts';
import { writePage } from './server/page.ts';
import { Rendering } from './server/rendering.ts';
import { streamOf } from './server/stream.ts';
import { needGraph } from './signals/least.ts';
import { state } from './signals/state.ts';
import type { Markup } from './view/piece.ts';

export type { RenderOptions } from './server/context.ts';
export type { ElementOptions } from './server/element.ts';
export type { ElementClass } from './server/host.ts';
export { RenderError } from './server/render-error.ts';

export { styleFiles, useBase } from './server/styles.ts';

type Write = (rendering: Rendering) => Writing | undefined;

/** Options with which rendering waits for answers. */
interface Waiting {
  readonly wait: number;
}

/** Options with which it does not. */
interface Instant {
  readonly wait?: undefined;
}

function prepare(): void {
  prepareHosts();
  needGraph();
  state.tell ??= error => console.error(error);
}

function render(context: RenderContext, write: Write): string {
  const rendering = new Rendering(context);
  return [...(write(rendering) ?? []), rendering.take()].join('');
}

/** Renders until no request is pending, or the time is up. */
async function answered(options: RenderOptions & Waiting, write: Write): Promise<RenderContext> {
  const until = performance.now() + options.wait;
  const awaited = new AwaitedRequests();
  for (;;) {
    const context = new RenderContext(options, awaited, true);
    try {
      render(context, write);
      if (awaited.isOpen && (await awaited.wait(until))) continue;
      // Unanswered requests stay pending.
      awaited.isOpen = false;
      return new RenderContext(options, awaited);
    } finally {
      context.end();
    }
  }
}

function asText(options: RenderOptions, write: Write): string | Promise<string> {
  prepare();
  if (options.wait === undefined) return render(new RenderContext(options), write);
  return answered(options as RenderOptions & Waiting, write).then(context => render(context, write));
}

function asStream(options: RenderOptions, write: Write): ReadableStream<Uint8Array> {
  prepare();
  const begin = async () =>
    options.wait === undefined ? new RenderContext(options) : await answered(options as RenderOptions & Waiting, write);
  return streamOf(begin, write);
}

/**
 * Renders one element as HTML: its tag and attributes, its view in a declarative shadow root, its content. Live
 * expressions are evaluated once; hooks, effects, listeners and observers do not run.
 *
 * @param Class created with `contract()`, from source and not compiled.
 * @returns HTML; a promise of it if `wait` is given.
 * @throws RenderError for a view or expression that throws, unless `onError` is given; TypeError for another class.
 * @example renderElement(HiveCard, { attributes: { name: 'Bramble' }, properties: { frames } })
 */
export function renderElement<E extends HTMLElement>(
  Class: new () => E,
  options: ElementOptions<E> & Waiting,
): Promise<string>;
export function renderElement<E extends HTMLElement>(Class: new () => E, options?: ElementOptions<E> & Instant): string;
export function renderElement<E extends HTMLElement>(
  Class: new () => E,
  options: ElementOptions<E>,
): string | Promise<string>;
export function renderElement<E extends HTMLElement>(Class: new () => E, options: ElementOptions<E> = {}): unknown {
  return asText(options, rendering => writeElement(rendering, Class, options));
}

/**
 * Renders a piece of markup as HTML, with the elements in it at any depth.
 *
 * @returns HTML; a promise of it if `wait` is given.
 * @throws as `renderElement`.
 * @example renderMarkup(markup`<ul>${names.map(name => markup`<li>${name}</li>`)}</ul>`)
 */
export function renderMarkup(piece: Markup, options: RenderOptions & Waiting): Promise<string>;
export function renderMarkup(piece: Markup, options?: RenderOptions & Instant): string;
export function renderMarkup(piece: Markup, options: RenderOptions): string | Promise<string>;
export function renderMarkup(piece: Markup, options: RenderOptions = {}): unknown {
  return asText(options, rendering => rendering.markup(piece, noOwner(rendering)));
}

/**
 * Renders the views of all known elements in a page. All other bytes are unchanged, and so are elements with a
 * declarative root.
 *
 * @param html a whole page, or a part of one.
 * @returns HTML; a promise of it if `wait` is given.
 * @throws as `renderElement`.
 * @example response.end(renderPage('<!doctype html><hive-card name="Bramble"></hive-card>'));
 */
export function renderPage(html: string, options: RenderOptions & Waiting): Promise<string>;
export function renderPage(html: string, options?: RenderOptions & Instant): string;
export function renderPage(html: string, options: RenderOptions): string | Promise<string>;
export function renderPage(html: string, options: RenderOptions = {}): unknown {
  return asText(options, rendering => writePage(rendering, html));
}

/**
 * Renders an element as a stream of UTF-8. It renders as it is read: the first bytes leave at once, and memory does
 * not grow with the length. An error ends the stream.
 * @example new Response(renderElementStream(HiveCard, { attributes: { name: 'Bramble' } }));
 */
export function renderElementStream<E extends HTMLElement>(
  Class: new () => E,
  options: ElementOptions<E> = {},
): ReadableStream<Uint8Array> {
  return asStream(options, rendering => writeElement(rendering, Class, options));
}

/**
 * `renderMarkup` as a stream.
 * @example new Response(renderMarkupStream(markup`<hive-card name="Bramble"></hive-card>`));
 */
export function renderMarkupStream(piece: Markup, options: RenderOptions = {}): ReadableStream<Uint8Array> {
  return asStream(options, rendering => rendering.markup(piece, noOwner(rendering)));
}

/**
 * `renderPage` as a stream.
 * @example new Response(renderPageStream(page), { headers: { 'content-type': 'text/html; charset=utf-8' } });
 */
export function renderPageStream(html: string, options: RenderOptions = {}): ReadableStream<Uint8Array> {
  return asStream(options, rendering => writePage(rendering, html));
}
