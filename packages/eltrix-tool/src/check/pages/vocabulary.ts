/** The known elements, from contracts or from a manifest of the community's schema. */
import type { ElementDescription } from '../../describe/description.ts';
import type { Declared, KindName } from '../../project/kinds/index.ts';
import { ToolError } from '../../project/tool-error.ts';

export interface KnownAttribute extends Declared {
  readonly kind: KindName;
  /** The replacement. */
  readonly deprecated?: string | undefined;
}

export interface KnownSlot {
  readonly name: string;
  readonly accepts: string | undefined;
  readonly required: boolean;
  readonly deprecated?: string | undefined;
}

export interface KnownElement {
  readonly tag: string;
  readonly extends: string | undefined;
  /** Whether it is a form field; undefined if unknown. */
  readonly form: boolean | undefined;
  readonly attributes: ReadonlyMap<string, KnownAttribute>;
  /** Undefined if unknown: then slots are not checked. */
  readonly slots: ReadonlyMap<string, KnownSlot> | undefined;
  readonly events: ReadonlyMap<string, { readonly deprecated?: string | undefined }>;
  /** Names, including the dashes of custom properties. */
  readonly parts: ReadonlySet<string>;
  readonly states: ReadonlySet<string>;
  readonly properties: ReadonlySet<string>;
  /** Whether its scripts assign the content of its slots. */
  readonly assigns: boolean;
  readonly deprecated?: string | undefined;
}

export type Vocabulary = ReadonlyMap<string, KnownElement>;

const namesOf = (list: readonly { readonly name?: string }[] | undefined) =>
  new Set((list ?? []).flatMap(({ name }) => name ?? []));

export function vocabularyOf(elements: readonly ElementDescription[]): Vocabulary {
  return new Map(
    elements.map(
      ({ tag, extends: extended, form, properties, slots, events, parts, states, cssProperties, ...rest }) => [
        tag,
        {
          tag,
          extends: extended,
          form,
          attributes: new Map(
            properties.flatMap(({ attribute, kind, values, aliases, range, deprecated }) =>
              attribute === undefined
                ? []
                : [[attribute, { name: attribute, kind: kind as KindName, values, aliases, range, deprecated }]],
            ),
          ),
          slots: new Map(slots.map(slot => [slot.name, slot])),
          events: new Map(events.map(event => [event.type, event])),
          parts: namesOf(parts),
          states: namesOf(states),
          properties: namesOf(cssProperties),
          assigns: rest.assigns === true,
          deprecated: rest.deprecated,
        } satisfies KnownElement,
      ],
    ),
  );
}

interface Old {
  readonly deprecated?: boolean | string;
}

/** A manifest's text about a deprecated feature. */
const oldText = ({ deprecated }: Old) =>
  typeof deprecated === 'string' ? deprecated : deprecated ? 'see its documentation' : undefined;

interface ManifestElement {
  readonly customElement?: boolean;
  readonly tagName?: string;
  readonly attributes?: readonly (Old & { readonly name: string; readonly type?: { readonly text: string } })[];
  readonly slots?: readonly (Old & { readonly name: string })[];
  readonly events?: readonly (Old & { readonly name?: string })[];
  readonly cssParts?: readonly { readonly name: string }[];
  readonly cssStates?: readonly { readonly name: string }[];
  readonly cssProperties?: readonly { readonly name: string }[];
  readonly deprecated?: boolean | string;
}

/** Stands for names that are not listed. */
const anything: ReadonlySet<string> = new (class extends Set<string> {
  override has(): boolean {
    return true;
  }
})();

/** @throws ToolError for an invalid manifest. */
export function vocabularyOfManifest(text: string, file: string): Vocabulary {
  const declarations = manifestDeclarations(text, file) as readonly ManifestElement[];
  return new Map(
    declarations.map(
      ({ tagName, attributes = [], slots, events = [], cssParts, cssStates, cssProperties, deprecated }) => [
        tagName!,
        {
          tag: tagName!,
          extends: undefined,
          form: undefined,
          attributes: new Map(
            attributes.map(attribute => [
              attribute.name,
              { ...attributeOf(attribute.name, attribute.type?.text ?? 'string'), deprecated: oldText(attribute) },
            ]),
          ),
          slots:
            slots &&
            new Map(
              slots.map(slot => [
                slot.name,
                { name: slot.name, accepts: undefined, required: false, deprecated: oldText(slot) },
              ]),
            ),
          events: new Map(
            events.flatMap(event => (event.name === undefined ? [] : [[event.name, { deprecated: oldText(event) }]])),
          ),
          // An empty list may mean that the list was not written.
          parts: cssParts ? namesOf(cssParts) : anything,
          states: cssStates ? namesOf(cssStates) : anything,
          properties: namesOf(cssProperties),
          assigns: false,
          deprecated: oldText({ ...(deprecated === undefined ? {} : { deprecated }) }),
        } satisfies KnownElement,
      ],
    ),
  );
}

interface ManifestModule {
  readonly declarations?: readonly Record<string, unknown>[];
  readonly exports?: readonly {
    readonly kind: string;
    readonly name: string;
    readonly declaration?: { readonly name?: string };
  }[];
}

export function manifestDeclarations(text: string, file: string): readonly Record<string, unknown>[] {
  let read: { modules?: ManifestModule[] };
  try {
    read = JSON.parse(text) as typeof read;
  } catch (error) {
    throw new ToolError(
      'manifest-unreadable',
      `${file} is no JSON: ${(error as Error).message}.`,
      { file },
      undefined,
      2,
    );
  }
  const lists = <T>(value: unknown): T[] =>
    Array.isArray(value) ? value.filter(item => typeof item === 'object' && item !== null) : [];
  const modules = lists<ManifestModule>(read?.modules);
  // The tag may be in the class, or in the definition.
  const tags = new Map(
    modules
      .flatMap(({ exports }) => lists<NonNullable<ManifestModule['exports']>[number]>(exports))
      .filter(({ kind }) => kind === 'custom-element-definition')
      .map(({ name, declaration }) => [declaration?.name, name]),
  );
  const declarations = modules
    .flatMap(({ declarations }) => lists<Record<string, unknown>>(declarations))
    .map(declaration => ({
      ...declaration,
      tagName: declaration['tagName'] ?? tags.get(declaration['name'] as string),
    }));
  const found = declarations.filter(
    ({ customElement, tagName }: Record<string, unknown>) => customElement && typeof tagName === 'string',
  );
  if (found.length > 0) return found;
  throw new ToolError(
    'manifest-unreadable',
    `${file} declares no custom element: nothing in "modules" has "customElement": true and a "tagName". Give a manifest of the community's schema, usually custom-elements.json.`,
    { file },
    undefined,
    2,
  );
}

/** A manifest contains types as TypeScript. */
export function typeOfAttribute(type: string): Pick<KnownAttribute, 'kind' | 'values'> {
  const parts = type
    .split('|')
    .map(part => part.trim())
    .filter(part => part !== 'undefined' && part !== 'null');
  if (parts.length > 0 && parts.every(part => part === 'boolean' || part === 'true' || part === 'false'))
    return { kind: 'flag', values: [] };
  if (parts.length > 0 && parts.every(part => part === 'number')) return { kind: 'decimal', values: [] };
  const words = parts.map(part => /^(['"])(.*)\1$/.exec(part)?.[2]);
  if (words.length > 0 && words.every(word => word !== undefined)) return { kind: 'choice', values: words };
  return { kind: 'text', values: [] };
}

function attributeOf(name: string, type: string): KnownAttribute {
  return { name, aliases: [], range: undefined, ...typeOfAttribute(type) };
}
