export interface SlotOptions {
  /** A selector that each slotted element should match, for example `'img, svg'`. */
  readonly accepts?: string;
  /** Whether the page should put something here. */
  readonly required?: boolean;
  /** What to use in its place, for what is going to be removed: `'use mood'`. Checks report each use of it. */
  readonly deprecated?: string;
}

export interface SlotDeclaration extends SlotOptions {
  readonly about: string;
}

/**
 * Declares a slot: `badge: slot('Stands in for the mood badge.', { accepts: 'img, svg' })`.
 * @example slots: { '': slot('Notes about the hive.'), picture: slot('A picture.', { accepts: 'img, svg' }) }
 */
export function slot(about: string, options: SlotOptions = {}): SlotDeclaration {
  return { about, ...options };
}
