/** Which elements the scripts of a page define, as far as it can be told from their names. */
import type { DefaultTreeAdapterTypes } from 'parse5';

type Parent = { readonly childNodes: DefaultTreeAdapterTypes.ChildNode[] };

/** Files of a build that define all elements. */
const forAll = new Set(['all', 'on-demand', 'classic']);

/** @returns undefined where a script may define anything. */
export function loadedTags(root: Parent, tags: readonly string[]): ReadonlySet<string> | undefined {
  const known = new Set(tags);
  const loaded = new Set<string>();
  for (const address of scriptsIn(root)) {
    if (address === undefined) return undefined;
    const name = /([^/]+?)(?:\.min)?\.[cm]?[jt]sx?(?:[?#].*)?$/.exec(address)?.[1];
    // An element's file, or one that is called like it; anything else may import what it likes.
    if (name === undefined || (!known.has(name) && !forAll.has(name))) return undefined;
    if (forAll.has(name)) return undefined;
    loaded.add(name);
  }
  return loaded;
}

/** Addresses of scripts, and of what inline modules import; undefined for code that says nothing. */
function* scriptsIn(parent: Parent): Generator<string | undefined> {
  for (const node of parent.childNodes) {
    if (!('tagName' in node)) continue;
    if (node.tagName === 'script') {
      const attribute = (name: string) => node.attrs.find(attr => attr.name === name)?.value;
      const type = (attribute('type') ?? '').trim().toLowerCase();
      if (type !== '' && type !== 'module' && !/^(?:text|application)\/javascript$/.test(type)) continue;
      const address = attribute('src');
      if (address !== undefined) yield address;
      else yield* importsIn(node.childNodes.map(child => ('value' in child ? child.value : '')).join(''));
    } else yield* scriptsIn(node);
  }
}

function* importsIn(code: string): Generator<string | undefined> {
  if (/\b(?:customElements\s*\.|import\s*\(|\.define\b)/.test(code)) yield undefined;
  for (const [, address] of code.matchAll(/\bimport\s*(?:[\w*${}\s,]+\s*from\s*)?["']([^"']+)["']/g)) yield address;
}
