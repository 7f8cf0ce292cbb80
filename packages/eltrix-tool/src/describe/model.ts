/** Describes elements: their contracts, with the types in their sources. */
import { join } from 'node:path';
import type { Kind } from '../../../eltrix/src/contract/index.ts';
import { declarations, type Member } from '../../../eltrix/src/element/plan.ts';
import { classNameFor } from '../project/class-name.ts';
import type { ElementPlace, FoundElement } from '../project/discover.ts';
import { factsOf } from '../project/kinds/index.ts';
import { textOf } from '../project/seen.ts';
import type { ElementDescription, PropertyDescription } from './description.ts';
import { EmittedTexts, emitDeclarations, nothing } from './emitted.ts';
import { SourceTypes } from './source-types.ts';

export function classNameOf({ tag, exportName }: Pick<FoundElement, 'tag' | 'exportName'>): string {
  return exportName === 'default' ? classNameFor(tag) : exportName;
}

export function describeElement(root: string, found: FoundElement): ElementDescription {
  return describeBy(found, new SourceTypes(join(root, found.file), found.exportName));
}

/** Describes elements, with the types that the project's TypeScript infers where the sources do not write them. */
export async function describeInferred(root: string, elements: readonly FoundElement[]): Promise<ElementDescription[]> {
  const descriptions = new Descriptions();
  const described = elements.map(element => descriptions.describe(root, element));
  const unwritten = descriptions.unwritten(elements);
  if (unwritten.length === 0) return described;
  descriptions.infer(new EmittedTexts(await emitDeclarations(root, unwritten)));
  return elements.map(element => descriptions.describe(root, element));
}

function describeBy(found: FoundElement, source: SourceTypes): ElementDescription {
  const { contract, tag, file } = found;
  const chain = [...declarations(contract)];
  const merged = <T>(key: 'events' | 'slots' | 'parts' | 'cssProperties' | 'states' | 'semantics'): [string, T][] =>
    Object.entries(Object.assign({}, ...chain.map(declaration => declaration[key]).reverse()) as Record<string, T>);
  const named = (key: 'parts' | 'cssProperties' | 'states') =>
    merged<string | { about: string }>(key).map(([name, said]) => ({
      name,
      about: typeof said === 'string' ? said : said.about,
    }));
  const semantics = merged<unknown>('semantics').map(([name, value]) => ({
    name,
    about: typeof value === 'function' ? 'Follows the element.' : String(value),
  }));
  return {
    tag,
    className: classNameOf(found),
    file,
    about: chain.find(({ about }) => about)?.about,
    // The subclass of a deprecated class is not deprecated itself.
    deprecated: chain[0]?.deprecated,
    ...(chain.find(({ render }) => render !== undefined)?.render === false ? { render: false } : {}),
    ...(chain.some(({ conformance }) => conformance?.exempt)
      ? { exempt: Object.assign({}, ...chain.map(({ conformance }) => conformance?.exempt ?? {}).reverse()) }
      : {}),
    form: chain.some(({ form }) => form === true),
    extends: contract.extends,
    shadow: contract.shadow === 'none' ? 'none' : contract.shadow?.mode === 'closed' ? 'closed' : 'open',
    ...(contract.shadow !== 'none' && contract.shadow?.slotAssignment === 'manual' ? { assigns: true } : {}),
    properties: contract.members.map(member => describeProperty(member, source)),
    methods: source.methods(),
    events: merged<{ about?: string; deprecated?: string; bubbles: boolean; composed: boolean; cancelable: boolean }>(
      'events',
    ).map(([type, event]) => ({
      ...event,
      type,
      about: event.about,
      deprecated: event.deprecated,
      detail: source.detailOf(type),
    })),
    slots: merged<{ about: string; deprecated?: string; accepts?: string; required?: boolean }>('slots').map(
      ([name, slot]) => ({
        name,
        about: slot.about,
        deprecated: slot.deprecated,
        accepts: slot.accepts,
        required: slot.required ?? false,
      }),
    ),
    parts: named('parts'),
    cssProperties: named('cssProperties'),
    states: named('states'),
    ...(semantics.length > 0 ? { semantics } : {}),
    types: source.declarations(),
  };
}

/** Describes elements repeatedly: an unchanged description stays the same object. */
export class Descriptions {
  readonly #last = new Map<
    string,
    {
      readonly isSure: boolean;
      readonly contract: FoundElement['contract'];
      readonly source: SourceTypes;
      readonly description: ElementDescription;
    }
  >();
  #emitted = new EmittedTexts(nothing);
  /** Whether a source has changed since the declarations were emitted. */
  #isOutdated = false;

  /** Files that types are searched in may have been added or removed. */
  distrust(): void {
    for (const [key, last] of this.#last) this.#last.set(key, { ...last, isSure: false });
  }

  /** Some source has changed: what was emitted for another one may follow from it. */
  outdate(): void {
    this.#isOutdated = this.#emitted.emitted.declarations.size > 0;
  }

  /** Uses declarations that TypeScript has emitted, until their sources change. */
  infer(emitted: EmittedTexts): void {
    this.#emitted = emitted;
    this.#isOutdated = false;
    this.distrust();
  }

  /** The files of described elements with types that are neither written nor emitted since the last change. */
  unwritten(elements: readonly ElementPlace[]): string[] {
    const some = elements.filter(
      element => this.#isOutdated || this.#last.get(keyOf(element))?.source.isWhole === false,
    );
    return [...new Set(some.map(({ file }) => file))];
  }

  describe(root: string, found: FoundElement): ElementDescription {
    const { contract, file, exportName } = found;
    const key = keyOf(found);
    const last = this.#last.get(key);
    if (last?.isSure && last.contract === contract && [...last.source.inputs].every(stands)) return last.description;
    const source = new SourceTypes(join(root, file), exportName, this.#emitted);
    const fresh = describeBy(found, source);
    const description = JSON.stringify(fresh) === JSON.stringify(last?.description) ? last!.description : fresh;
    this.#last.set(key, { isSure: true, contract, source, description });
    return description;
  }
}

const keyOf = ({ file, exportName, tag }: ElementPlace) => `${file} ${exportName} ${tag}`;

function stands([path, code]: readonly [path: string, code: string]): boolean {
  try {
    return textOf(path) === code;
  } catch {
    // The element was removed.
    return false;
  }
}

function describeProperty(
  { name, attribute, kind, property, reflects }: Member,
  source: SourceTypes,
): PropertyDescription {
  const details = (kind?.details ?? {}) as {
    values?: string[];
    supported?: string[];
    aliases?: object;
    min?: number;
    max?: number;
  };
  return {
    name,
    attribute,
    kind: kind?.kind ?? property!.kind,
    type: (kind && factsOf(kind.kind).type(kind.details ?? {})) ?? source.propertyType(name),
    about: kind?.about ?? property?.about,
    deprecated: kind?.deprecated ?? property?.deprecated,
    default: kind ? defaultOf(kind) : undefined,
    reflects: attribute !== undefined && reflects,
    values: details.values ?? details.supported ?? [],
    aliases: Object.keys(details.aliases ?? {}),
    range: details.min === undefined ? undefined : [details.min, details.max!],
  };
}

function defaultOf(kind: Kind<unknown>): string | undefined {
  const value = kind.default;
  if (value === undefined) return undefined;
  try {
    return JSON.stringify(typeof value === 'function' ? (value as () => unknown)() : value);
  } catch {
    // The declaration depends on other code of its module.
    return undefined;
  }
}
