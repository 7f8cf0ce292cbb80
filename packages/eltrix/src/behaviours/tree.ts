import type { Readable } from '../signals/computed.ts';
import { outside } from '../signals/outside.ts';

export interface Tree {
  /** The light children, in order. */
  readonly children: readonly Element[];
  /** What has happened since the last time; empty at first. */
  readonly records: readonly MutationRecord[];
}

/** The children that the page gave an element, kept current while something shows them. */
export function watchTree(
  host: Element,
  options: MutationObserverInit = { childList: true, subtree: true, characterData: true, attributes: true },
): Readable<Tree> {
  const tree = (records: readonly MutationRecord[]): Tree => ({ children: [...host.children], records });
  return outside<Tree>({ children: [], records: [] }, set => {
    set(tree([]));
    const observer = new MutationObserver(records => set(tree(records)));
    observer.observe(host, options);
    return () => observer.disconnect();
  });
}
