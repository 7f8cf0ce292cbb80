import type { Frame } from './elements/hive-card.ts';

/** What the Thistlecombe apiary writes down about a hive. All of it is made up. */
export interface Hive {
  readonly name: string;
  readonly boxes: number;
  readonly mood: 'calm' | 'busy' | 'swarming';
  readonly note: string;
  readonly frames: readonly Frame[];
}

const frames = (...kilograms: readonly number[]): Frame[] =>
  kilograms.map((honey, id) => ({ id, honey, capped: honey >= 2.5 }));

export const hives: readonly Hive[] = [
  {
    name: 'Rosemary',
    boxes: 2,
    mood: 'calm',
    note: 'Queen marked green. Gentle to work with.',
    frames: frames(0.4, 1.2, 2.6, 2.9, 2.8, 2.1, 0.9, 0.2),
  },
  {
    name: 'Bramble',
    boxes: 3,
    mood: 'busy',
    note: 'Lime trees in flower; give another box by Sunday.',
    frames: frames(1.8, 2.7, 2.9, 3, 2.9, 2.8, 2.2, 1.1),
  },
  {
    name: 'Old Tin',
    boxes: 1,
    mood: 'swarming',
    note: 'Six queen cells on frame four. Split today.',
    frames: frames(0.1, 0.5, 1.1, 1.6, 1.4, 0.6, 0.2, 0),
  },
  {
    name: 'Foxglove',
    boxes: 2,
    mood: 'calm',
    note: 'Fed in March, building up well.',
    frames: frames(0.6, 1.4, 2, 2.5, 2.3, 1.2, 0.7, 0.3),
  },
];
