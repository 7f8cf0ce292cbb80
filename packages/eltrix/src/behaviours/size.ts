import { asked } from '../signals/asked.ts';
import type { Readable } from '../signals/computed.ts';
import { shareObserver, type Watch } from './shared-observer.ts';

/** In CSS pixels; in device pixels for that box. */
export interface Size {
  readonly width: number;
  readonly height: number;
}

export interface SizeOptions {
  /** `content` unless given. */
  readonly box?: 'content' | 'border' | 'device-pixel' | undefined;
}

const boxes = {
  content: ['content-box', 'contentBoxSize'],
  border: ['border-box', 'borderBoxSize'],
  'device-pixel': ['device-pixel-content-box', 'devicePixelContentBoxSize'],
} as const;

/** One observer for each box. */
const watches: Partial<Record<keyof typeof boxes, Watch<ResizeObserverEntry>>> = {};

/** Notifies in the next frame: a change inside an observer's callback would call it again (Resize Observer, §3.4). */
const watchBox = () =>
  shareObserver<ResizeObserverEntry>(
    report => new ResizeObserver(entries => requestAnimationFrame(() => report(entries))),
  );

/** The size in whole pixels, for a reader that observes nothing. */
function measure(host: Element, box: keyof typeof boxes): Size {
  const { offsetWidth, offsetHeight, clientWidth, clientHeight } = host as HTMLElement;
  if (box === 'border') return { width: offsetWidth, height: offsetHeight };
  const style = getComputedStyle(host);
  const scale = box === 'content' ? 1 : devicePixelRatio;
  const padding = (side: string) => Number.parseFloat(style.getPropertyValue(`padding-${side}`)) || 0;
  const inside = (whole: number, before: string, after: string) =>
    scale * Math.max(0, whole - padding(before) - padding(after));
  return { width: inside(clientWidth, 'left', 'right'), height: inside(clientHeight, 'top', 'bottom') };
}

/**
 * The size of an element, observed while something depends on it; 0 by 0 before it was measured. A listener or a hook
 * that reads it while nothing depends on it gets whole pixels. All elements share one ResizeObserver for each box.
 * @example size = watchSize(this);  // in the view: ${() => this.size.get().width}
 */
export function watchSize(host: Element, { box = 'content' }: SizeOptions = {}): Readable<Size> {
  return asked<Size>(
    () => measure(host, box),
    set => {
      const [name, field] = boxes[box];
      // WebKit has no device pixel box.
      const isKnown = field in ResizeObserverEntry.prototype;
      const watch = (watches[box] ??= watchBox());
      const report = (entry: ResizeObserverEntry) => {
        const [{ inlineSize, blockSize }] = entry[isKnown ? field : 'contentBoxSize'] as [ResizeObserverSize];
        const scale = isKnown ? 1 : devicePixelRatio;
        const [inline, block] = [inlineSize * scale, blockSize * scale];
        // Sizes are relative to the writing direction (Resize Observer §2.3); a disconnected element has none.
        const isVertical = /^(?:vertical|sideways)/.test(getComputedStyle(host).writingMode);
        set(isVertical ? { width: block, height: inline } : { width: inline, height: block });
      };
      return watch(host, report, isKnown ? { box: name } : {});
    },
    { width: 0, height: 0 },
  );
}
