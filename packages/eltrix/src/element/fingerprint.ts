import type { Declaration } from '../contract/index.ts';
import type { Member } from './plan.ts';

/** A short text, the same for two contracts with the same tag and the same declaration. A build stores it. */
export function fingerprint(tag: string, declaration: Declaration, own: readonly Omit<Member, 'index'>[]): string {
  return digest(
    JSON.stringify([
      tag,
      own.map(m => [m.name, m.attribute, m.kind?.kind ?? m.property?.kind]),
      Object.keys(declaration.events ?? {}),
      Object.keys(declaration.slots ?? {}),
    ]),
  );
}

/** FNV-1a, folded to 20 bits: only contracts of one tag are compared. */
export function digest(text: string): string {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return ((hash ^ (hash >>> 12)) & 0xfffff).toString(36);
}
