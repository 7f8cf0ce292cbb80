import { asked } from '../signals/asked.ts';
import type { Readable } from '../signals/computed.ts';

export interface Tree {
  /** The light children, in order. */
  readonly children: readonly Element[];
  /** The mutations since the last notification; empty at first. */
  readonly records: readonly MutationRecord[];
}

/**
 * The children of an element, observed while something depends on them.
 * @param options further options of the MutationObserver; children, text and attributes of the whole tree are observed
 *   always.
 * @example tree = watchTree(this);  // ${() => this.tree.get().children.length}
 */
export function watchTree(host: Element, options: MutationObserverInit = {}): Readable<Tree> {
  const tree = (records: readonly MutationRecord[]): Tree => ({ children: [...host.children], records });
  return asked<Tree>(
    () => tree([]),
    set => {
      set(tree([]));
      const observer = new MutationObserver(records => set(tree(records)));
      observer.observe(host, { childList: true, subtree: true, characterData: true, attributes: true, ...options });
      return () => observer.disconnect();
    },
    { children: [], records: [] },
  );
}
