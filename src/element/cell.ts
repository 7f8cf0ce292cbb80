import type { Home, Link, Source } from '../signals/graph.ts';

/** What stands for one property of one element among the sources: an attribute's has nothing but its readers. */
export class PropertyCell implements Source {
  version = 0;
  targets: Link | undefined = undefined;
  run = 0;

  constructor(readonly home: Home) {}
}
