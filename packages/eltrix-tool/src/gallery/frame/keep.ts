/** The state of a frame: kept over a reload in `window.name`, or sent to the next frame. */
import type { Place, Step } from '../model.ts';

export function placeNow({ changes, circumstances }: Pick<Place, 'changes' | 'circumstances'>): Place {
  const element = focused();
  return {
    changes,
    circumstances,
    scroll: [scrollX, scrollY],
    focus: element && pathOf(element),
    selection: element && selectionOf(element),
  };
}

export function keepPlace(place: Place): void {
  window.name = `eltrix:${JSON.stringify(place)}`;
}

/** The state before the reload, if any. */
export function keptPlace(): Place | undefined {
  if (!window.name.startsWith('eltrix:')) return undefined;
  const place = JSON.parse(window.name.slice('eltrix:'.length)) as Place;
  window.name = '';
  return place;
}

/** After the specimen was placed: views update in a microtask, and layout with the next frame. */
export function takePlace(place: Place): void {
  requestAnimationFrame(() => goTo(place));
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
    // Fields of other types have no selection.
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
