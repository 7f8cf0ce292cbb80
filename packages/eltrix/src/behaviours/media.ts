import type { Readable } from '../signals/computed.ts';
import { outside } from '../signals/outside.ts';

/**
 * Whether a media query matches, observed while something depends on it.
 * @example calm = media('(prefers-reduced-motion: reduce)');
 */
export function media(query: string): Readable<boolean> {
  return outside(false, set => {
    const list = matchMedia(query);
    const report = () => set(list.matches);
    report();
    list.addEventListener('change', report);
    return () => list.removeEventListener('change', report);
  });
}
