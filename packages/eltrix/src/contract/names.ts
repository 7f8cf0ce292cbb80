/** Names of tags and attributes, as HTML allows them. */

/** HTML §4.13.3: names with a hyphen that belong to SVG and MathML. */
const reserved = new Set([
  'annotation-xml',
  'color-profile',
  'font-face',
  'font-face-src',
  'font-face-uri',
  'font-face-format',
  'font-face-name',
  'missing-glyph',
]);

/** The reason why a name is not a valid custom element name (HTML §4.13.3) in every engine, or null. */
export function tagProblem(tag: unknown): { readonly code: string; readonly message: string } | null {
  const say = (problem: string, fix: string) => ({
    code: 'tag-name',
    message: `(tag-name): ${typeof tag === 'string' ? JSON.stringify(tag) : String(tag)} is not a custom element name: ${problem}. ${fix}`,
  });
  if (!__DEV__) {
    const fine =
      typeof tag === 'string' && /^[a-z][^\t\n\f\r />\0"'=<A-Z]*$/.test(tag) && tag.includes('-') && !reserved.has(tag);
    return fine ? null : { code: 'tag-name', message: 'tag-name' };
  }
  if (typeof tag !== 'string') return say('it is not text', 'Give a name, for example "my-element".');
  if (tag === '') return say('it is empty', 'Give a name, for example "my-element".');
  if (/[A-Z]/.test(tag)) return say('it has capital letters', `Write ${JSON.stringify(kebabCase(tag))}.`);
  if (reserved.has(tag)) {
    return {
      code: 'tag-reserved',
      message: `(tag-reserved): ${JSON.stringify(tag)} belongs to SVG or MathML. Choose another name, for example "my-${tag}".`,
    };
  }
  if (!tag.includes('-')) {
    return say(
      'it has no hyphen',
      `Add a prefix, for example "my-${tag}". Names start with a-z and contain a hyphen and no A-Z.`,
    );
  }
  if (!/^[a-z]/.test(tag))
    return say('it does not start with a letter from a to z', `Write "x-${tag.replace(/^[^a-z]+/, '')}".`);
  // HTML allows more since 2025.
  const bad = new RegExp(`(?!${later})[^-.0-9·${first}]`, 'u').exec(tag);
  if (bad) return say(`it contains ${JSON.stringify(bad[0])}`, 'Use letters, digits, hyphens and dots.');
  return null;
}

/**
 * Whether scripts can give the name to an attribute in every engine: an NCName (Namespaces in XML §3), besides `xmlns`.
 * The DOM standard allows more since 2025.
 */
export function isAttributeName(name: string): boolean {
  return name !== 'xmlns' && new RegExp(`^[${first}](?:[-.0-9·${first}]|${later})*$`, 'u').test(name);
}

/** Characters of a name, as ranges. */
const first =
  'A-Z_a-z\\xC0-\\xD6\\xD8-\\xF6\\xF8-\\u02FF\\u0370-\\u037D\\u037F-\\u1FFF\\u200C\\u200D\\u2070-\\u218F\\u2C00-\\u2FEF\\u3001-\\uD7FF\\uF900-\\uFDCF\\uFDF0-\\uFFFD\\u{10000}-\\u{EFFFF}';
/** Those that no name begins with; the first are combining marks. */
const later = '[\\u0300-\\u036F\\u203F\\u2040]';

/** The attribute name of a property: `queenAge` gives `queen-age`, `ariaURL` gives `aria-url`. */
export function kebabCase(name: string): string {
  return name
    .replace(/([a-z0-9])([A-Z])/g, '$1-$2')
    .replace(/([A-Z])([A-Z][a-z])/g, '$1-$2')
    .toLowerCase();
}
