/** Runs in a specimen's frame: places the specimen, follows the gallery's page, and reports events. */

import { loadOnDemand } from '../../../../eltrix/src/element/on-demand.ts';
import { emulate, rewriteSheets, watchPage } from '../../check/page/emulate.ts';
import { sheetOf } from '../../check/page/place.ts';
import { elementSelector } from '../../project/element-selector.ts';
import { type Axe, fixOf, pathOf, without } from '../../testing/axe.ts';
import type {
  AuditResult,
  Changes,
  Circumstances,
  FrameGiven,
  FrameNews,
  FrameOrder,
  GalleryElement,
  GallerySpecimen,
  Place,
  SourceProblem,
  StandbyGiven,
} from '../model.ts';
import { keepPlace, keptPlace, placeNow, takePlace } from './keep.ts';
import { outline } from './outline.ts';
import { recordEvents, recordTimeline } from './record.ts';
import { styledNodes } from './styled-nodes.ts';
import { noChanges, Subject } from './subject.ts';

const base = new URL('./', location.href);
const query = new URLSearchParams(location.search);
const tag = query.get('tag')!;
const report = (news: FrameNews) => parent.postMessage(news, location.origin);

const look = sheetOf(`
  html { background: Canvas; color: CanvasText; }
  body { display: flow-root; margin: 0; padding: 20px; font: 16px/1.5 system-ui, sans-serif; }
  .eltrix-outline { position: absolute; z-index: 2147483647; box-sizing: border-box; border: 2px dashed #b4530a; background: #f59e0b26; pointer-events: none; }
  .eltrix-outline::after { content: attr(data-name); position: absolute; inset-inline-start: -2px; bottom: 100%; padding: 1px 6px; background: #b4530a; color: #fff; font: 600 11px/1.5 system-ui, sans-serif; white-space: nowrap; }
`);

let element: GalleryElement;
let subject: Subject | undefined;
/** When something was changed last: modules must not be older, and WebKit caches them for the frame's lifetime. */
let time = 0;
/** Lets a standby start. */
let go: ((order: FrameOrder & { type: 'go' }) => void) | undefined;
const box = document.createElement('div');
/** The elements whose modules this page runs. */
const loaded = new Set<string>([tag]);

watchPage();
document.adoptedStyleSheets = [look];
recordTimeline(entries => report({ type: 'happened', entries }));
recordEvents(report, (target, type) => {
  if (!box.contains(target) && target.getRootNode() instanceof Document) return undefined;
  if (target === subject?.element) return element.description.events.some(event => event.type === type);
  // Events of other elements and of the platform are not recorded.
  return loaded.has(target.localName) && type.includes('-') ? true : undefined;
});
addEventListener('error', event => void reportProblem(event.error ?? event.message, event));
addEventListener('unhandledrejection', event => void reportProblem(event.reason));
addEventListener('message', ({ data, source, origin }) => {
  if (source === parent && origin === location.origin) obey(data as FrameOrder);
});
void (query.has('standby') ? standBy() : start(keptPlace()));

/** Imports modules that do not change, so that only the project's modules remain to be loaded. */
async function standBy(): Promise<void> {
  const { lasting, definition } = readBlock<StandbyGiven>('eltrix-standby')!;
  // Errors are reported when the module is needed.
  for (const url of lasting) await import(/* @vite-ignore */ url).catch(() => {});
  const going = new Promise<FrameOrder & { type: 'go' }>(resolve => {
    go = resolve;
  });
  report({ type: 'standby' });
  const { place, given, url } = await going;
  query.delete('standby');
  history.replaceState(null, '', `?${query}`);
  const define =
    definition &&
    (async () => {
      const { [definition.exportName]: Element } = await import(/* @vite-ignore */ url ?? definition.url);
      (Element as { define(): void }).define();
    });
  await start(place, given, define);
}

function readBlock<T>(id: string): T | undefined {
  const block = document.getElementById(id);
  return block ? (JSON.parse(block.textContent!) as T) : undefined;
}

async function start(
  place: Place | undefined,
  given = readBlock<FrameGiven>('eltrix-given'),
  define = () => load(tag),
): Promise<void> {
  const read = async <T>(path: string) => (await (await fetch(new URL(path, base))).json()) as T;
  const reading = given ?? Promise.all([read<GalleryElement>(`element/${tag}.json`), read<string[]>('tags.json')]);
  time = given?.time ?? 0;
  await define().catch(reportProblem);
  const found = await reading;
  let tags: readonly string[];
  if ('tags' in found) ({ element, tags } = found);
  else [element, tags] = found;
  const specimen = chosen();
  const link = document.createElement('base');
  link.href = new URL(specimen.base, base).href;
  document.head.append(link);
  document.title = `${tag}: ${specimen.title}`;
  document.adoptedStyleSheets = [look, ...specimen.styles.map(sheetOf)];
  document.body.append(box);
  loadOnDemand(Object.fromEntries(tags.filter(other => other !== tag).map(other => [other, () => load(other)])));
  fill(specimen.html);
  for (const script of specimen.scripts) await import(/* @vite-ignore */ addressOf(script)).catch(reportProblem);
  takeSubject();
  if (place) {
    // Restores the state before the reload at once.
    if (place.circumstances) emulate(place.circumstances);
    subject?.apply(place.changes);
    ({ changes, circumstances } = place);
    takePlace(place);
  }
  report({ type: 'ready', time });
  new ResizeObserver(noteHeight).observe(document.body);
  noteHeight();
  addEventListener('load', noteHeight, true);
}

async function load(name: string): Promise<void> {
  loaded.add(name);
  await import(/* @vite-ignore */ addressOf(`elements/${name}.js`));
}

/** The URL of a generated module. */
function addressOf(path: string): string {
  return new URL(time > 0 ? `${path}?t=${time}` : path, base).href;
}

function chosen(): GallerySpecimen {
  return element.specimens.find(({ slug }) => slug === query.get('specimen')) ?? element.specimens[0]!;
}

function fill(html: string): void {
  box.replaceChildren(styledNodes(html));
}

function takeSubject(): void {
  const found = box.querySelector<HTMLElement>(elementSelector(tag));
  subject = found ? new Subject(found, element.description) : undefined;
  new MutationObserver(stateSoon).observe(box, {
    attributes: true,
    childList: true,
    characterData: true,
    subtree: true,
  });
  stateSoon();
}

function noteHeight(): void {
  report({ type: 'height', height: Math.ceil(document.body.getBoundingClientRect().height) });
}

let soon = false;

/** After pending updates have been shown. */
function stateSoon(): void {
  if (soon) return;
  soon = true;
  setTimeout(() => {
    soon = false;
    rewriteSheets();
    if (subject) report({ type: 'state', state: subject.read(box.innerHTML.trim()) });
  }, 16);
}

/** The last command of the page. */
let changes: Changes = noChanges;
let circumstances: Circumstances | undefined;

function obey(order: FrameOrder): void {
  switch (order.type) {
    case 'apply':
      changes = order.changes;
      if (order.fresh) {
        fill(chosen().html);
        takeSubject();
      }
      subject?.apply(changes);
      stateSoon();
      break;
    case 'circumstances':
      circumstances = order.circumstances;
      if (emulate(circumstances)) reload();
      break;
    case 'outline':
      if (subject) outline(subject.element, order.of);
      break;
    case 'audit':
      void audit();
      break;
    case 'go':
      go?.(order);
      break;
    case 'again':
      if (order.tags !== null && !order.tags.some(name => loaded.has(name))) return;
      if (order.standby) report({ type: 'leaving', place: placeNow({ changes, circumstances }) });
      else reload();
  }
}

function reload(): void {
  keepPlace(placeNow({ changes, circumstances }));
  location.reload();
}

async function audit(): Promise<void> {
  await import(/* @vite-ignore */ new URL('axe.js', base).href);
  const { axe } = globalThis as unknown as { axe: Axe };
  const off = ['region', 'page-has-heading-one', 'landmark-one-main', 'document-title', 'html-has-lang', 'bypass'];
  const { violations } = await axe.run(box, without(off));
  const findings = violations.flatMap(violation =>
    violation.nodes.map(
      (node): AuditResult => ({
        rule: violation.id,
        impact: violation.impact ?? 'minor',
        element: pathOf(node).replace(/^#[\w-]+ > |^div > /, ''),
        fix: fixOf(node, violation),
      }),
    ),
  );
  report({ type: 'audited', findings });
}

/** Reports an error, with the author's line if the server knows it. */
async function reportProblem(
  error: unknown,
  event?: { filename: string; lineno: number; colno: number },
): Promise<void> {
  const { message = String(error), stack = '' } = (error ?? {}) as Partial<Error>;
  // The server reports a module with a syntax error, with its position.
  if (
    /Failed to fetch dynamically imported module|error loading dynamically imported|Importing a module script failed/i.test(
      message,
    )
  )
    return;
  const [, url, line, column] = /(http[^\s()]+?):(\d+):(\d+)/.exec(stack) ?? [
    '',
    event?.filename ?? '',
    String(event?.lineno ?? 1),
    String(event?.colno ?? 1),
  ];
  const problem: SourceProblem = { message, file: '', line: Number(line), column: Number(column), excerpt: '' };
  // Only a server knows; a static site has no such URL.
  const found = !query.has('live')
    ? null
    : await fetch(new URL(`locate?${new URLSearchParams({ url: url!, line: line!, column: column! })}`, base))
        .then(answer => (answer.ok ? (answer.json() as Promise<Partial<SourceProblem> | null>) : null))
        .catch(() => null);
  report({ type: 'problem', problem: { ...problem, ...found } });
}
