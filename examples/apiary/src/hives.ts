import type { Frame } from './elements/hive-card.ts';
import { random } from './random.ts';

export type Mood = 'calm' | 'busy' | 'swarming';

/** What the Thistlecombe apiary writes down about a hive. All of it is made up. */
export interface Hive {
  readonly name: string;
  readonly boxes: number;
  readonly mood: Mood;
  readonly note: string;
  readonly keeper: string;
  readonly frames: readonly Frame[];
}

/** One look into a hive. */
export interface Inspection {
  readonly id: number;
  readonly hive: string;
  /** Year, month, day: `2026-05-12`. */
  readonly date: string;
  /** Kilograms. */
  readonly honey: number;
  readonly mood: Mood;
  readonly note: string;
}

const frames = (...kilograms: readonly number[]): Frame[] =>
  kilograms.map((honey, id) => ({ id, honey, capped: honey >= 2.5 }));

export const hives: readonly Hive[] = [
  {
    name: 'Rosemary',
    boxes: 2,
    mood: 'calm',
    keeper: 'Wilma',
    note: 'Queen marked green. Gentle to work with.',
    frames: frames(0.4, 1.2, 2.6, 2.9, 2.8, 2.1, 0.9, 0.2),
  },
  {
    name: 'Bramble',
    boxes: 3,
    mood: 'busy',
    keeper: 'Osric',
    note: 'Lime trees in flower; give another box by Sunday.',
    frames: frames(1.8, 2.7, 2.9, 3, 2.9, 2.8, 2.2, 1.1),
  },
  {
    name: 'Old Tin',
    boxes: 1,
    mood: 'swarming',
    keeper: 'Wilma',
    note: 'Six queen cells on frame four. Split today.',
    frames: frames(0.1, 0.5, 1.1, 1.6, 1.4, 0.6, 0.2, 0),
  },
  {
    name: 'Foxglove',
    boxes: 2,
    mood: 'calm',
    keeper: 'Tamsin',
    note: 'Fed in March, building up well.',
    frames: frames(0.6, 1.4, 2, 2.5, 2.3, 1.2, 0.7, 0.3),
  },
];

const remarks = [
  '',
  'Saw the queen.',
  'Eggs and brood in all stages.',
  'Stores are low.',
  'Gave a box.',
  'Drone comb cut.',
  'Wasps at the entrance.',
  'Smoke was enough.',
];
const moods: readonly Mood[] = ['calm', 'calm', 'calm', 'busy', 'busy', 'swarming'];

/** Many years of inspections, the latest first: the same every time. */
export function inspections(count = 100_000): Inspection[] {
  const next = random(7);
  const day = 86_400_000;
  const last = Date.UTC(2026, 8, 20);
  return Array.from({ length: count }, (_, at) => {
    const date = new Date(last - Math.floor(at / 8) * day);
    const month = date.getUTCMonth();
    // Honey comes in summer.
    const season = Math.max(0, Math.sin(((month - 2) / 8) * Math.PI));
    return {
      id: count - at,
      hive: hives[at % hives.length]!.name,
      date: date.toISOString().slice(0, 10),
      honey: Math.round((2 + season * 22 + next() * 5) * 10) / 10,
      mood: moods[Math.floor(next() * moods.length)]!,
      note: remarks[Math.floor(next() * remarks.length)]!,
    };
  });
}
