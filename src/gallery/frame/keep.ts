/** What a frame was like, kept over a reload in its own name. */
import type { Changes, Circumstances } from '../model.ts';

/** A step down: into the shadow root, or to the child of an index. */
type Step = 'root' | number;

/** What the page had ordered. */
export interface Kept {
  readonly changes: Changes;
  readonly circumstances: Circumstances | undefined;
}

interface Place extends Kept {
  readonly scroll: readonly [x: number, y: number];
  readonly focus: readonly Step[] | undefined;
  readonly selection: readonly [start: number, end: number] | undefined;
}

export function keepPlace(kept: Kept): void {
  const element = focused();
  const place: Place = {
    ...kept,
    scroll: [scrollX, scrollY],
    focus: element && pathOf(element),
    selection: element && selectionOf(element),
  };
  window.name = `eltrix:${JSON.stringify(place)}`;
}

/** Once the specimen stands: what there was before, if anything; scroll and focus are brought back with the next frame. */
export function takePlace(): Kept | undefined {
  if (!window.name.startsWith('eltrix:')) return undefined;
  const place = JSON.parse(window.name.slice('eltrix:'.length)) as Place;
  window.name = '';
  // Views follow in a microtask, and layout with the next frame.
  requestAnimationFrame(() => goTo(place));
  return place;
}

function goTo({ scroll, focus, selection }: Place): void {
  scrollTo(...(scroll as [number, number]));
  const element = focus && at(focus);
  if (!(element instanceof HTMLElement)) return;
  element.focus({ preventScroll: true });
  if (!selection || !('setSelectionRange' in element)) return;
  try {
    (element as HTMLInputElement).setSelectionRange(...(selection as [number, number]));
  } catch {
    // A field of another type has no selection.
  }
}

function focused(): Element | undefined {
  let element = document.activeElement;
  while (element?.shadowRoot?.activeElement) element = element.shadowRoot.activeElement;
  return element && element !== document.body ? element : undefined;
}

function selectionOf(element: Element): [number, number] | undefined {
  if (!('selectionStart' in element)) return undefined;
  const { selectionStart, selectionEnd } = element as HTMLInputElement;
  return selectionStart === null || selectionEnd === null ? undefined : [selectionStart, selectionEnd];
}

function pathOf(element: Element): Step[] {
  const path: Step[] = [];
  for (let node: Node | null = element; node && node !== document.body; ) {
    const parent: Node | null = node.parentNode;
    if (node instanceof ShadowRoot) {
      path.unshift('root');
      node = node.host;
    } else {
      if (parent) path.unshift([...parent.childNodes].indexOf(node as ChildNode));
      node = parent;
    }
  }
  return path;
}

function at(path: readonly Step[]): Node | undefined {
  let node: Node | undefined = document.body;
  for (const step of path) {
    if (!node) return undefined;
    node = step === 'root' ? ((node as Element).shadowRoot ?? undefined) : node.childNodes[step];
  }
  return node;
}
