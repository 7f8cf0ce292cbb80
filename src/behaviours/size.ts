import type { Readable } from '../signals/computed.ts';
import { outside } from '../signals/outside.ts';

/** In CSS pixels; in device pixels for that box. */
export interface Size {
  readonly width: number;
  readonly height: number;
}

export interface SizeOptions {
  /** `content` unless given. */
  readonly box?: 'content' | 'border' | 'device-pixel';
}

const boxes = { content: 'content-box', border: 'border-box', 'device-pixel': 'device-pixel-content-box' } as const;
type Box = keyof typeof boxes;

/** One observer a box, for all that are watched. */
const observers: Partial<Record<Box, ResizeObserver>> = {};
const setters = new Map<Element, Map<Box, (size: Size) => void>>();
let waiting: (() => void)[] = [];

/** A frame later: what an observer changes in its own turn it would be told of again (Resize Observer, §3.4). */
function later(set: () => void): void {
  if (waiting.push(set) > 1) return;
  requestAnimationFrame(() => {
    const now = waiting;
    waiting = [];
    for (const set of now) set();
  });
}

function sizeOf(entry: ResizeObserverEntry, box: Box): Size {
  const sizes =
    box === 'border' ? entry.borderBoxSize : box === 'content' ? entry.contentBoxSize : entry.devicePixelContentBoxSize;
  // WebKit does not know of device pixels.
  const [size, scale] = sizes ? [sizes[0]!, 1] : [entry.contentBoxSize[0]!, devicePixelRatio];
  return { width: size.inlineSize * scale, height: size.blockSize * scale };
}

function observerOf(box: Box): ResizeObserver {
  return (observers[box] ??= new ResizeObserver(entries => {
    for (const entry of entries) {
      const set = setters.get(entry.target)?.get(box);
      if (set) later(() => setters.get(entry.target)?.get(box) === set && set(sizeOf(entry, box)));
    }
  }));
}

/**
 * The size of an element, kept current while something shows it; 0 by 0 before it was measured. All elements share one
 * ResizeObserver a box.
 * @example size = watchSize(this);  // in the view: ${() => this.size.get().width}
 */
export function watchSize(host: Element, { box = 'content' }: SizeOptions = {}): Readable<Size> {
  return outside<Size>({ width: 0, height: 0 }, set => {
    const own = setters.get(host) ?? new Map<Box, (size: Size) => void>();
    setters.set(host, own);
    own.set(box, set);
    try {
      observerOf(box).observe(host, { box: boxes[box] });
    } catch {
      observerOf(box).observe(host);
    }
    return () => {
      observers[box]!.unobserve(host);
      own.delete(box);
      if (own.size === 0) setters.delete(host);
    };
  });
}
