export interface SlotOptions {
  /** A selector that each slotted element should match, for example `'img, svg'`. */
  readonly accepts?: string;
  /** Whether the page should put something here. */
  readonly required?: boolean;
}

export interface SlotDeclaration extends SlotOptions {
  readonly about: string;
}

/** Declares a slot: `badge: slot('Stands in for the mood badge.', { accepts: 'img, svg' })`. */
export function slot(about: string, options: SlotOptions = {}): SlotDeclaration {
  return { about, ...options };
}
