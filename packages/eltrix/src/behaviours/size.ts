import type { Readable } from '../signals/computed.ts';
import { outside } from '../signals/outside.ts';
import { shareObserver, type Watch } from './shared-observer.ts';

/** In CSS pixels; in device pixels for that box. */
export interface Size {
  readonly width: number;
  readonly height: number;
}

export interface SizeOptions {
  /** `content` unless given. */
  readonly box?: 'content' | 'border' | 'device-pixel';
}

const boxes = {
  content: ['content-box', 'contentBoxSize'],
  border: ['border-box', 'borderBoxSize'],
  'device-pixel': ['device-pixel-content-box', 'devicePixelContentBoxSize'],
} as const;

/** One observer a box, for all that are watched. */
const watches: Partial<Record<keyof typeof boxes, Watch<ResizeObserverEntry>>> = {};

/** Reports in the next frame: a change made inside an observer's callback would call it again (Resize Observer, §3.4). */
const watchBox = () =>
  shareObserver<ResizeObserverEntry>(
    report => new ResizeObserver(entries => requestAnimationFrame(() => report(entries))),
  );

/**
 * The size of an element, kept current while something shows it; 0 by 0 before it was measured. All elements share one
 * ResizeObserver a box.
 * @example size = watchSize(this);  // in the view: ${() => this.size.get().width}
 */
export function watchSize(host: Element, { box = 'content' }: SizeOptions = {}): Readable<Size> {
  return outside<Size>({ width: 0, height: 0 }, set => {
    const [name, field] = boxes[box];
    // WebKit does not know of device pixels.
    const isKnown = field in ResizeObserverEntry.prototype;
    const watch = (watches[box] ??= watchBox());
    const report = (entry: ResizeObserverEntry) => {
      const [{ inlineSize, blockSize }] = entry[isKnown ? field : 'contentBoxSize'] as [ResizeObserverSize];
      const scale = isKnown ? 1 : devicePixelRatio;
      const [inline, block] = [inlineSize * scale, blockSize * scale];
      // Sizes are reported by the direction of writing (Resize Observer §2.3); a disconnected element has none.
      const isVertical = /^(?:vertical|sideways)/.test(getComputedStyle(host).writingMode);
      set(isVertical ? { width: block, height: inline } : { width: inline, height: block });
    };
    return watch(host, report, isKnown ? { box: name } : {});
  });
}
