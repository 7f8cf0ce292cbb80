import type { Home, Link, Source } from '../signals/graph.ts';

/** What stands for one property of one element among the sources: an attribute's has nothing but its readers. */
export class PropertyCell implements Source {
  version = 0;
  targets: Link | undefined = undefined;
  lastTarget: Link | undefined = undefined;
  run = 0;

  /** Development: what messages call it. */
  declare describe?: () => string;

  constructor(readonly home: Home) {}
}

if (__DEV__) {
  PropertyCell.prototype.describe = function (this: PropertyCell) {
    const { cells, plan } = this.home as unknown as {
      cells: readonly PropertyCell[];
      plan: { contract: { members: readonly { name: string }[] } };
    };
    return `property "${plan.contract.members[cells.indexOf(this)]?.name ?? '?'}"`;
  };
}
