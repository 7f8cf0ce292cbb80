/** Finds the elements that the scripts of a page define, as far as their names show. */

import type { DefaultTreeAdapterTypes } from 'parse5';
import { attributeOf } from '../../project/attribute-of.ts';

type Element = DefaultTreeAdapterTypes.Element;

/** Files of a build that define all elements. */
const forAll = new Set(['all', 'on-demand', 'classic']);

/** @returns undefined if a script may define any element. */
export function loadedTags(scripts: readonly Element[], tags: readonly string[]): ReadonlySet<string> | undefined {
  const known = new Set(tags);
  const loaded = new Set<string>();
  for (const address of addressesIn(scripts)) {
    if (address === undefined) return undefined;
    const name = /([^/]+?)(?:\.min)?\.[cm]?[jt]sx?(?:[?#].*)?$/.exec(address)?.[1];
    // The file of an element, or a file with its name; other files may import any module.
    if (name === undefined || (!known.has(name) && !forAll.has(name))) return undefined;
    if (forAll.has(name)) return undefined;
    loaded.add(name);
  }
  return loaded;
}

/** The tags that inline scripts define. */
export function definedTags(scripts: readonly Element[]): ReadonlySet<string> {
  const code = scripts
    .flatMap(({ childNodes }) => childNodes.map(child => ('value' in child ? child.value : '')))
    .join('\n');
  return new Set(Array.from(code.matchAll(/customElements\s*\.\s*define\(\s*["'`]([^"'`]+)/g), ([, tag]) => tag!));
}

/** The URLs of scripts, and the imports of inline modules; undefined for code without such information. */
function* addressesIn(scripts: readonly Element[]): Generator<string | undefined> {
  for (const script of scripts) {
    const type = (attributeOf(script, 'type') ?? '').trim().toLowerCase();
    if (type !== '' && type !== 'module' && !/^(?:text|application)\/javascript$/.test(type)) continue;
    const address = attributeOf(script, 'src');
    if (address !== undefined) yield address;
    else yield* importsIn(script.childNodes.map(child => ('value' in child ? child.value : '')).join(''));
  }
}

function* importsIn(code: string): Generator<string | undefined> {
  if (/\b(?:customElements\s*\.|import\s*\(|\.define\b)/.test(code)) yield undefined;
  for (const [, address] of code.matchAll(/\bimport\s*(?:[\w*${}\s,]+\s*from\s*)?["']([^"']+)["']/g)) yield address;
}
