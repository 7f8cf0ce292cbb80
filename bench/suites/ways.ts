/** The ways in which each suite's elements are written: by hand, and as an ordinary author may write them with Eltrix. */
import type { TableView } from './table-data.ts';

type Make = () => TableView & HTMLElement;

/** Name to module; a module of `cards` and `tree` defines its elements, one of `table` makes its element. */
export const tables: Record<string, () => Promise<{ make: Make }>> = {
  hand: () => import('./table-hand.ts'),
  objects: () => import('./table-objects.ts'),
  comparison: () => import('./table-comparison.ts'),
  signals: () => import('./table-signals.ts'),
  live: () => import('./table-live.ts'),
  'markup list': () => import('./table-markup-list.ts'),
};

export const cards: Record<string, () => Promise<unknown>> = {
  hand: () => import('./cards-hand.ts'),
  plain: () => import('./cards-plain.ts'),
  'imported sheet': () => import('./cards-imported-sheet.ts'),
};

export const nestedCards: Record<string, () => Promise<unknown>> = {
  hand: () => import('./cards-nested-hand.ts'),
  plain: () => import('./cards-nested.ts'),
};

export const trees: Record<string, () => Promise<unknown>> = {
  hand: () => import('./tree-hand.ts'),
  properties: () => import('./tree-properties.ts'),
  attributes: () => import('./tree-attributes.ts'),
};

export const ways: Record<string, readonly string[]> = {
  table: Object.keys(tables),
  cards: Object.keys(cards),
  'nested cards': Object.keys(nestedCards),
  tree: Object.keys(trees),
};
