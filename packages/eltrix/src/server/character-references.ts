/** Character references in attribute values and texts (HTML §13.2.5.72). */
import { namedReferences } from './named-references.ts';

interface Named {
  readonly text: string;
  /** Whether it is valid without a semicolon. */
  readonly isLegacy: boolean;
}

let names: Map<string, Named> | undefined;

/** The table is parsed at the first reference outside the usual five. */
function table(): Map<string, Named> {
  if (names === undefined) {
    names = new Map();
    for (const entry of namedReferences.trim().split(/\s+/)) {
      const [name, codes] = entry.split(':') as [string, string];
      const text = String.fromCodePoint(...codes.split('+').map(code => Number.parseInt(code, 16)));
      const isLegacy = name.endsWith('!');
      names.set(isLegacy ? name.slice(0, -1) : name, { text, isLegacy });
    }
  }
  return names;
}

const usual: Record<string, string> = { 'amp;': '&', 'lt;': '<', 'gt;': '>', 'quot;': '"', 'apos;': "'" };

/** HTML §13.2.5.80: replacements for the numbers of C1 controls. */
const controls =
  '\u20ac\x81\u201a\u0192\u201e\u2026\u2020\u2021\u02c6\u2030\u0160\u2039\u0152\x8d\u017d\x8f\x90\u2018\u2019\u201c\u201d\u2022\u2013\u2014\u02dc\u2122\u0161\u203a\u0153\x9d\u017e\u0178';

function numeric(code: number): string {
  if (code === 0 || code > 0x10ffff || (code >= 0xd800 && code <= 0xdfff)) return '\ufffd';
  if (code >= 0x80 && code <= 0x9f) return controls[code - 0x80]!;
  return String.fromCodePoint(code);
}

/**
 * Resolves the character references in a text of HTML source.
 *
 * @param inAttribute `&region=` is not a reference in an attribute (HTML §13.2.5.73).
 */
export function decodeReferences(source: string, inAttribute: boolean): string {
  if (!source.includes('&')) return source;
  return source.replace(
    /&(?:#(?:[xX]([0-9a-fA-F]+)|(\d+));?|([a-zA-Z][a-zA-Z0-9]*;?))/g,
    (whole: string, hex: string | undefined, decimal: string | undefined, name: string | undefined, at: number) => {
      if (hex !== undefined) return numeric(Number.parseInt(hex, 16));
      if (decimal !== undefined) return numeric(Number.parseInt(decimal, 10));
      return usual[name!] ?? named(name!, source[at + whole.length], inAttribute) ?? whole;
    },
  );
}

/** The longest matching name. */
function named(name: string, next: string | undefined, inAttribute: boolean): string | undefined {
  if (name.endsWith(';')) {
    const found = table().get(name.slice(0, -1));
    if (found) return found.text;
  }
  for (let end = name.length - (name.endsWith(';') ? 1 : 0); end > 1; end--) {
    const found = table().get(name.slice(0, end));
    if (!found?.isLegacy) continue;
    const after = end < name.length ? name[end]! : next;
    if (inAttribute && after !== undefined && /[=a-zA-Z0-9]/.test(after)) return undefined;
    return found.text + name.slice(end);
  }
  return undefined;
}
