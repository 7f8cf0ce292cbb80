import { asked } from '../signals/asked.ts';
import type { Readable } from '../signals/computed.ts';

/**
 * Whether a media query matches, observed while something depends on it.
 * @example calm = media('(prefers-reduced-motion: reduce)');
 */
export function media(query: string): Readable<boolean> {
  return asked(
    () => matchMedia(query).matches,
    set => {
      const list = matchMedia(query);
      const report = () => set(list.matches);
      report();
      list.addEventListener('change', report);
      return () => list.removeEventListener('change', report);
    },
    false,
  );
}
