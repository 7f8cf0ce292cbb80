/** Pictures of elements, compared with accepted ones. */
import { settled } from 'eltrix';
import { host } from './host.ts';
import { unwatched } from './leftovers.ts';
import { stillPage, treesOf } from './still-page.ts';

export interface PictureOptions {
  /** Covers content that changes, such as a map: matching elements inside, across open shadow roots. */
  readonly mask?: string;
  /** The fraction of pixels that may differ, from 0 to 1; 0 unless given. Differences in antialiasing never count. */
  readonly tolerance?: number;
}

/** A rectangle in CSS pixels of the window. */
export interface Rect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** The request to the driver. */
export interface PictureRequest {
  readonly name: string;
  readonly rect: Rect;
  readonly mask: readonly Rect[];
  readonly tolerance: number;
  /** Device pixels per CSS pixel. */
  readonly scale: number;
}

/** The result: an error message, or a line to print. */
export interface PictureOutcome {
  readonly problem?: string;
  readonly note?: string;
}

/**
 * Takes a picture of an element and compares it with the accepted one, `pictures/<engine>/<test file>/<name>.png`.
 * Fonts and images have loaded before; animations have ended; the caret is hidden.
 *
 * @param name unique in the test file.
 * @throws Error if the pictures differ, or no picture is accepted: `npx eltrix test --accept` accepts it.
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

const matching = (root: Element, selector: string): Element[] =>
  [...treesOf(root)].flatMap(tree => [...tree.querySelectorAll(selector)]);
