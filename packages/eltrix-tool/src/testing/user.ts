/** Simulates a user: trusted input through the driver, or synthetic events without one. */
import { settled } from 'eltrix';
import { host } from './host.ts';
import { unwatched } from './leftovers.ts';
import { nextFrame, pause } from './real-time.ts';
import { checkElement, checkKey, checkText } from './user-input.ts';

export interface PressOptions {
  /** Keys held during the action: `['Shift', 'Control']`. */
  readonly holding?: readonly string[];
}

/** One step for the driver; positions are in CSS pixels of the viewport. */
export type InputStep =
  | { readonly kind: 'move'; readonly x: number; readonly y: number }
  | { readonly kind: 'down' }
  | { readonly kind: 'up' }
  | { readonly kind: 'key'; readonly key: string; readonly holding: readonly string[] }
  | { readonly kind: 'text'; readonly text: string };

let warned = false;

/** Sends steps to the driver. @returns false, with a note printed once, if there is no driver. */
async function trusted(steps: readonly InputStep[]): Promise<boolean> {
  const present = host();
  if (!present.trusted) {
    if (!warned) {
      warned = true;
      console.info(
        '(user-imitated): this engine has no driver, so user.click, type, press and drag only send events; isTrusted is false.',
      );
    }
    return false;
  }
  await unwatched(() => present.command('input', steps), false);
  return true;
}

interface Point {
  readonly x: number;
  readonly y: number;
}

/** How many frames an element may move before it is used where it is. */
const mostFrames = 60;

/** Its centre once it no longer moves: observers and animations change the layout in later frames. */
async function resting(element: Element): Promise<Point> {
  let at = middle(element);
  if (!host().trusted) return at;
  // What an observer reports in one frame may show in the next.
  for (let frames = 0, still = 0; frames < mostFrames && still < 2; frames++) {
    await nextFrame();
    // Resize observers are called after the callbacks of a frame.
    await pause();
    const before = at;
    at = middle(element);
    still = at.x === before.x && at.y === before.y && !isMoved(element) ? still + 1 : 0;
  }
  return at;
}

/** Whether an animation that will end moves an element or what contains it: it may begin some frames late. */
function isMoved(element: Element): boolean {
  for (let inner = element; ; ) {
    const root = inner.getRootNode();
    if (!(root instanceof Document || root instanceof ShadowRoot)) return false;
    for (const { playState, effect } of root.getAnimations())
      if (
        playState === 'running' &&
        (effect as KeyframeEffect | null)?.target?.contains(inner) &&
        Number.isFinite(Number(effect?.getComputedTiming().endTime))
      )
        return true;
    if (root instanceof Document) return false;
    inner = root.host;
  }
}

/** The centre of an element's visible part; the element is scrolled into view. */
function middle(element: Element): Point {
  element.scrollIntoView?.({ block: 'nearest', inline: 'nearest', behavior: 'instant' });
  const { left, top, width, height } = element.getBoundingClientRect();
  if (host().trusted && (width === 0 || height === 0)) {
    throw new Error(
      `(user-unseen): <${element.localName}> has no size, so a pointer cannot reach it. Show it first, or check its styles.`,
    );
  }
  const inside = (low: number, size: number, limit: number) => (Math.max(0, low) + Math.min(limit, low + size)) / 2;
  return { x: inside(left, width, innerWidth), y: inside(top, height, innerHeight) };
}

const shown = async () => {
  await settled();
  await pause();
};

/** The focused element, across open shadow roots. */
function focused(): Element {
  let element = document.activeElement ?? document.body;
  while (element.shadowRoot?.activeElement) element = element.shadowRoot.activeElement;
  return element;
}

const made = (element: Element, event: Event) => element.dispatchEvent(event);
const anywhere = { bubbles: true, composed: true, cancelable: true };

export const user = {
  /** Clicks an element with the main button. */
  async click(element: Element): Promise<void> {
    checkElement(element, 'click');
    const at = await resting(element);
    if (!(await trusted([{ kind: 'move', ...at }, { kind: 'down' }, { kind: 'up' }]))) {
      for (const type of ['pointerdown', 'mousedown']) made(element, new MouseEvent(type, anywhere));
      (element as HTMLElement).focus?.();
      for (const type of ['pointerup', 'mouseup']) made(element, new MouseEvent(type, anywhere));
      (element as HTMLElement).click();
    }
    await shown();
  },

  /** Moves the pointer to an element. */
  async hover(element: Element): Promise<void> {
    checkElement(element, 'hover');
    if (!(await trusted([{ kind: 'move', ...(await resting(element)) }]))) {
      for (const type of ['pointerover', 'pointerenter', 'mouseover', 'mouseenter', 'mousemove'])
        made(element, new MouseEvent(type, { ...anywhere, bubbles: !type.endsWith('enter') }));
    }
    await shown();
  },

  /** Clicks a field, unless it has the focus, and types text into it; the present text stays. */
  async type(element: Element, text: string): Promise<void> {
    checkElement(element, 'type');
    checkText(text);
    // A second click at the same place may count as a double click, which selects a word.
    if (focused() !== element && !element.shadowRoot?.contains(focused())) await user.click(element);
    if (!(await trusted([{ kind: 'text', text }]))) {
      const field = focused() as HTMLInputElement;
      for (const key of text) {
        if (!made(field, new KeyboardEvent('keydown', { ...anywhere, key }))) continue;
        if ('value' in field) field.value += key;
        made(field, new InputEvent('input', { ...anywhere, cancelable: false, data: key, inputType: 'insertText' }));
        made(field, new KeyboardEvent('keyup', { ...anywhere, key }));
      }
    }
    await shown();
  },

  /** Presses a key on the focused element: `'Enter'`, `'Tab'`, `'ArrowDown'`, `'a'`. */
  async press(key: string, { holding = [] }: PressOptions = {}): Promise<void> {
    for (const one of [key, ...holding]) checkKey(one);
    // The name of its code, which is not what KeyboardEvent.key says.
    const given = key === 'Space' ? ' ' : key;
    if (!(await trusted([{ kind: 'key', key: given, holding }]))) imitateKey(given, holding);
    await shown();
  },

  /** Drags from one element to another, or by a distance in CSS pixels. */
  async drag(from: Element, to: Element | { readonly x: number; readonly y: number }): Promise<void> {
    checkElement(from, 'drag');
    if (typeof to !== 'object' || to === null || !('x' in to)) checkElement(to, 'drag');
    const start = await resting(from);
    const end = 'nodeType' in to ? middle(to) : { x: start.x + to.x, y: start.y + to.y };
    const between = { x: (start.x + end.x) / 2, y: (start.y + end.y) / 2 };
    const steps: InputStep[] = [
      { kind: 'move', ...start },
      { kind: 'down' },
      { kind: 'move', x: start.x + Math.sign(end.x - start.x) * 6, y: start.y + Math.sign(end.y - start.y) * 6 },
      { kind: 'move', ...between },
      { kind: 'move', ...end },
      { kind: 'move', ...end },
      { kind: 'up' },
    ];
    // Only Chromium's driver carries a native drag to its drop.
    const native = from.closest('[draggable="true"]') !== null && host().environment.engine !== 'chromium';
    if (native && host().trusted)
      console.info(
        '(user-imitated): the driver of this engine does not bring a native drag to its drop, so its events are only sent.',
      );
    if (native || !(await trusted(steps))) imitateDrag(from, 'nodeType' in to ? to : from);
    await shown();
  },
};

function imitateKey(key: string, holding: readonly string[]): void {
  const target = focused() as HTMLElement;
  const held = {
    shiftKey: holding.includes('Shift'),
    ctrlKey: holding.includes('Control'),
    altKey: holding.includes('Alt'),
    metaKey: holding.includes('Meta'),
  };
  const goesOn = made(target, new KeyboardEvent('keydown', { ...anywhere, key, ...held }));
  if (goesOn && (key === 'Enter' || key === ' ') && target.matches('button, a[href], summary')) target.click();
  made(target, new KeyboardEvent('keyup', { ...anywhere, key, ...held }));
}

function imitateDrag(from: Element, to: Element): void {
  const data = typeof DataTransfer === 'function' ? { dataTransfer: new DataTransfer() } : {};
  const send = (element: Element, type: string) =>
    made(
      element,
      typeof DragEvent === 'function' ? new DragEvent(type, { ...anywhere, ...data }) : new Event(type, anywhere),
    );
  made(from, new MouseEvent('pointerdown', anywhere));
  send(from, 'dragstart');
  send(to, 'dragenter');
  send(to, 'dragover');
  made(to, new MouseEvent('pointermove', anywhere));
  send(to, 'drop');
  send(from, 'dragend');
  made(to, new MouseEvent('pointerup', anywhere));
}
