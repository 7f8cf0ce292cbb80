/**
 * Properties of the platform's elements that an attribute reflects (HTML §2.6.1, reflecting content attributes in IDL
 * attributes): what a browser writes when they are set. Obsolete ones are left out (HTML §16.3).
 */

const words = (text: string) => text.trim().split(/\s+/);

/** Attributes whose names are not those of their properties in lower case. */
const names: Readonly<Record<string, string>> = {
  className: 'class',
  htmlFor: 'for',
  httpEquiv: 'http-equiv',
  acceptCharset: 'accept-charset',
  defaultValue: 'value',
  defaultChecked: 'checked',
  defaultMuted: 'muted',
  defaultSelected: 'selected',
};

const globalTexts = words(`accessKey autocapitalize className dir enterKeyHint id inputMode lang part slot style title
  writingSuggestions`);
/** Without the attribute they are null, and null removes it: these, and those of ARIA (WAI-ARIA 1.3 §10.1). */
const nullable = [
  'popover',
  'role',
  ...words(`Atomic AutoComplete BrailleLabel BrailleRoleDescription Busy Checked ColCount ColIndex ColIndexText ColSpan
    Current Description Disabled Expanded HasPopup Hidden Invalid KeyShortcuts Label Level Live Modal MultiLine
    MultiSelectable Orientation Placeholder PosInSet Pressed ReadOnly Relevant Required RoleDescription RowCount RowIndex
    RowIndexText RowSpan Selected SetSize Sort ValueMax ValueMin ValueNow ValueText`).map(name => `aria${name}`),
];
/** Enumerated attributes with a boolean property: the words for true and false; true is the first without one. */
const pairs: Readonly<Record<string, readonly [yes: string, no: string]>> = {
  draggable: ['true', 'false'],
  spellcheck: ['true', 'false'],
  translate: ['yes', 'no'],
  autocorrect: ['on', 'off'],
};
const globalFlags = ['hidden', 'inert', 'autofocus'];

/** Those of all elements. */
export const globalProperties: readonly string[] = [
  ...globalTexts,
  ...nullable,
  ...Object.keys(pairs),
  ...globalFlags,
  'contentEditable',
  'tabIndex',
];

const texts = new Set([
  ...globalTexts,
  ...words(`tabIndex abbr accept acceptCharset action allow alt as autocomplete blocking charset cite closedBy cols colSpan
    command content coords data dateTime decoding defaultValue dirName download enctype fetchPriority formAction
    formEnctype formMethod formTarget headers height high href hreflang htmlFor httpEquiv imageSizes imageSrcset
    integrity kind label loading low max maxLength media method min minLength name optimum pattern ping placeholder
    popoverTargetAction poster preload referrerPolicy rel rows rowSpan sandbox scope shape size sizes span src srcdoc
    srclang srcset start step target type useMap value width wrap`),
]);
/** Without a value they are left out: a browser writes 0, or refuses it. */
const numbers = new Set(
  words(`tabIndex cols colSpan height high low max maxLength min minLength optimum rows rowSpan size span start width`),
);
const nulls = new Set([...nullable, 'crossOrigin']);
const flags = new Set([
  ...globalFlags,
  ...words(`allowFullscreen async autoplay checked controls default defaultChecked defaultMuted defaultSelected defer disabled
    disablePictureInPicture disableRemotePlayback formNoValidate isMap loop multiple muted noModule noValidate open
    playsInline readOnly required reversed selected`),
]);

const attributeOf = (property: string): string => names[property] ?? property.toLowerCase().replace(/^aria/, 'aria-');

/**
 * @returns the attribute and its value; null where it is removed; undefined if no attribute reflects the property.
 */
export function reflected(
  property: string,
  value: unknown,
): readonly [attribute: string, value: string | null] | undefined {
  const name = attributeOf(property);
  if (nulls.has(property)) return [name, value === null || value === undefined ? null : String(value)];
  if (property === 'hidden' && value === 'until-found') return [name, value];
  if (property === 'contentEditable') return [name, value === 'inherit' ? null : String(value)];
  if (Object.hasOwn(pairs, property)) return [name, pairs[property]![value ? 0 : 1]];
  if (flags.has(property)) return [name, value ? '' : null];
  if (!texts.has(property)) return undefined;
  // Web IDL makes "null" and "undefined" of a text.
  return numbers.has(property) && (value === null || value === undefined) ? undefined : [name, String(value)];
}

/** The value of a property of all elements, by its attribute. */
export function reflecting(property: string, attributes: ReadonlyMap<string, string>): unknown {
  const text = attributes.get(attributeOf(property)) ?? null;
  if (nulls.has(property)) return text;
  if (flags.has(property)) return text === 'until-found' ? text : text !== null;
  if (property === 'contentEditable') return text ?? 'inherit';
  if (property === 'tabIndex') return Number.parseInt(text ?? '', 10) || (text === null ? -1 : 0);
  if (property === 'draggable') return text === 'true';
  if (Object.hasOwn(pairs, property)) return text?.toLowerCase() !== pairs[property]![1];
  // Declarations of a style are not parsed.
  return property === 'style' ? undefined : (text ?? '');
}
