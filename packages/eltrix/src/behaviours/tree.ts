import type { Readable } from '../signals/computed.ts';
import { outside } from '../signals/outside.ts';

export interface Tree {
  /** The light children, in order. */
  readonly children: readonly Element[];
  /** What has happened since the last time; empty at first. */
  readonly records: readonly MutationRecord[];
}

/**
 * The children that the page gave an element, kept current while something shows them.
 * @param options added to what is watched already: children, text and attributes of the whole tree.
 * @example tree = watchTree(this);  // ${() => this.tree.get().children.length}
 */
export function watchTree(host: Element, options: MutationObserverInit = {}): Readable<Tree> {
  const tree = (records: readonly MutationRecord[]): Tree => ({ children: [...host.children], records });
  return outside<Tree>({ children: [], records: [] }, set => {
    set(tree([]));
    const observer = new MutationObserver(records => set(tree(records)));
    observer.observe(host, { childList: true, subtree: true, characterData: true, attributes: true, ...options });
    return () => observer.disconnect();
  });
}
