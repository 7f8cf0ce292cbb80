/** Pictures of elements, compared with those that were accepted. */
import { settled } from 'eltrix';
import { host } from './host.ts';
import { unwatched } from './leftovers.ts';

export interface PictureOptions {
  /** Covers what cannot be settled, for example a map: elements inside that match this selector, open shadow roots included. */
  readonly mask?: string;
  /** The share of pixels that may differ, from 0 to 1; 0 unless given. Edges that are only smoothed differently never count. */
  readonly tolerance?: number;
}

/** A rectangle in CSS pixels of the window. */
export interface Rect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** What the driver is asked for. */
export interface PictureRequest {
  readonly name: string;
  readonly rect: Rect;
  readonly mask: readonly Rect[];
  readonly tolerance: number;
  /** Device pixels in a CSS pixel. */
  readonly scale: number;
}

/** What came of it: a problem to fail with, or something to print. */
export interface PictureOutcome {
  readonly problem?: string;
  readonly note?: string;
}

/**
 * Takes a picture of an element and compares it with the accepted one, `pictures/<engine>/<test file>/<name>.png`.
 * Fonts and images have loaded before; animations are at their end; the caret is hidden.
 *
 * @param name unique in the test file.
 * @throws Error if it differs, or none is accepted: `npx eltrix test --accept` accepts it.
 * @example await picture(card, 'open', { mask: '.clock' });
 */
export async function picture(element: Element, name: string, options: PictureOptions = {}): Promise<void> {
  const { mask, tolerance = 0 } = options;
  if (!host().trusted) {
    console.info('(picture-missing): no picture was taken, because nothing drives this page.');
    return;
  }
  await settled();
  const undo = await unwatched(() => stillPage());
  try {
    element.scrollIntoView({ block: 'nearest', inline: 'nearest', behavior: 'instant' });
    const rect = rectOf(element);
    if (rect.width === 0 || rect.height === 0)
      throw new Error(`(picture-empty): <${element.localName}> has no size. Show it before its picture is taken.`);
    if (rect.x < 0 || rect.y < 0 || rect.x + rect.width > innerWidth || rect.y + rect.height > innerHeight)
      throw new Error(
        `(picture-large): <${element.localName}> is larger than the window (${innerWidth} by ${innerHeight}). Take pictures of its parts.`,
      );
    const request: PictureRequest = {
      name,
      rect,
      mask: mask === undefined ? [] : matching(element, mask).map(rectOf),
      tolerance,
      scale: devicePixelRatio,
    };
    const { problem, note } = (await unwatched(() => host().command('picture', request), false)) as PictureOutcome;
    if (note) console.info(note);
    if (problem) throw new Error(problem);
  } finally {
    undo();
  }
}

function rectOf(element: Element): Rect {
  const { x, y, width, height } = element.getBoundingClientRect();
  return { x, y, width, height };
}

/** The element's shadow tree and those inside it. */
function* treesOf(root: Element | ShadowRoot): Generator<Element | ShadowRoot> {
  yield root;
  if (root instanceof Element && root.shadowRoot) yield* treesOf(root.shadowRoot);
  for (const inner of root.querySelectorAll('*')) if (inner.shadowRoot) yield* treesOf(inner.shadowRoot);
}

const matching = (root: Element, selector: string): Element[] =>
  [...treesOf(root)].flatMap(tree => [...tree.querySelectorAll(selector)]);

/** Waits for fonts and images, ends animations, hides the caret. @returns what takes that back. */
async function stillPage(): Promise<() => void> {
  const trees = [...treesOf(document.documentElement)];
  await document.fonts.ready;
  const images = trees.flatMap(tree => [...tree.querySelectorAll('img')]);
  await Promise.all(images.map(image => image.decode().catch(() => {})));
  const animations = trees.flatMap(tree =>
    tree instanceof Element ? tree.getAnimations({ subtree: true }) : tree.getAnimations(),
  );
  const running: Animation[] = [];
  for (const animation of animations) {
    if (animation.playState !== 'running') continue;
    const { endTime } = animation.effect?.getComputedTiming() ?? {};
    if (Number.isFinite(Number(endTime))) animation.finish();
    else {
      animation.pause();
      animation.currentTime = 0;
      running.push(animation);
    }
  }
  let focused = document.activeElement;
  while (focused?.shadowRoot?.activeElement) focused = focused.shadowRoot.activeElement;
  const { style } = (focused ?? document.body) as HTMLElement;
  const caret = style?.caretColor;
  style?.setProperty('caret-color', 'transparent');
  // Two frames: what was changed has been drawn. Where no frames come, the driver's picture makes one.
  await Promise.race([
    new Promise(resolve => requestAnimationFrame(() => requestAnimationFrame(resolve))),
    new Promise(resolve => setTimeout(resolve, 200)),
  ]);
  return () => {
    for (const animation of running) animation.play();
    if (caret) style.caretColor = caret;
    else style?.removeProperty('caret-color');
    if (focused instanceof HTMLElement && focused.getAttribute('style') === '') focused.removeAttribute('style');
  };
}
