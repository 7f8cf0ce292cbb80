import { refuseUnknown } from './options.ts';

export interface SlotOptions {
  /** A selector that each slotted element should match, for example `'img, svg'`. */
  readonly accepts?: string;
  /** Whether the page has to fill the slot. */
  readonly required?: boolean;
  /** The replacement, for a slot that is going to be removed: `'use badge'`. Checks report each use. */
  readonly deprecated?: string;
}

export interface SlotDeclaration extends SlotOptions {
  readonly about: string;
}

/**
 * Declares a slot: `badge: slot('Replaces the mood badge.', { accepts: 'img, svg' })`.
 * @example slots: { '': slot('Notes about the hive.'), picture: slot('A picture.', { accepts: 'img, svg' }) }
 */
export function slot(about: string, options: SlotOptions = {}): SlotDeclaration {
  if (__DEV__) refuseUnknown('slot', options, ['accepts', 'required', 'deprecated']);
  return { about, ...options };
}
