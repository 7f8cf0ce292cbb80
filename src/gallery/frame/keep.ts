/** Where the reader was, kept over a reload in the frame's own name. */

/** A step down: into the shadow root, or to the child of an index. */
type Step = 'root' | number;

interface Place {
  readonly scroll: readonly [x: number, y: number];
  readonly focus: readonly Step[] | undefined;
  readonly selection: readonly [start: number, end: number] | undefined;
}

export function keepPlace(): void {
  const element = focused();
  const place: Place = {
    scroll: [scrollX, scrollY],
    focus: element && pathOf(element),
    selection: element && selectionOf(element),
  };
  window.name = `eltrix:${JSON.stringify(place)}`;
}

/** @returns whether there was a place. */
export function takePlace(): boolean {
  if (!window.name.startsWith('eltrix:')) return false;
  const { scroll, focus, selection } = JSON.parse(window.name.slice('eltrix:'.length)) as Place;
  window.name = '';
  scrollTo(...(scroll as [number, number]));
  const element = focus && at(focus);
  if (!(element instanceof HTMLElement)) return true;
  element.focus({ preventScroll: true });
  if (selection && 'setSelectionRange' in element) {
    try {
      (element as HTMLInputElement).setSelectionRange(...(selection as [number, number]));
    } catch {
      // A field of another type has no selection.
    }
  }
  return true;
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
