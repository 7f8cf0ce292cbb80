/**
 * The functions of a checked source, as TypeScript: with types from the contracts of a project's elements, and from
 * the DOM.
 */
import type { FoundElement } from '../../project/discover.ts';
import { kinds } from '../../project/kinds/index.ts';
import type { KnownAttribute, Vocabulary } from '../pages/vocabulary.ts';
import { checker } from './typed-source.ts';

/**
 * @param classes the modules that declare the project's elements.
 * @param vocabulary all known elements, by contract or by a package's manifest.
 */
export function markupDeclarations(
  classes: readonly Pick<FoundElement, 'tag' | 'file' | 'exportName' | 'contract'>[],
  vocabulary: Vocabulary,
): string {
  const entry = (key: string, type: string) => `  ${JSON.stringify(key)}: ${type};\n`;
  const own = classes
    .filter(({ contract }) => contract.extends === undefined)
    .map(({ tag, file, exportName }) =>
      entry(tag, `InstanceType<(typeof import(${JSON.stringify(importOf(file))}))[${JSON.stringify(exportName)}]>`),
    );
  const attributes = [...vocabulary.values()].map(({ tag, attributes }) =>
    entry(
      tag,
      `{ ${[...attributes.values()].map(known => `${JSON.stringify(known.name)}: ${typeOf(known)}`).join('; ')} }`,
    ),
  );
  const events = [...vocabulary.values()].map(({ tag, events }) =>
    entry(tag, [...events.keys()].map(type => JSON.stringify(type)).join(' | ') || 'never'),
  );
  return `${declarations}
interface OwnElements {
${own.join('')}}

interface OwnAttributes {
${attributes.join('')}}

interface OwnEvents {
${events.join('')}}

declare global {
  const ${checker}: Checker;
}
`;
}

/** The specifier with which TypeScript imports a source. */
function importOf(file: string): string {
  return `./${file.replace(/\.([mc]?)tsx?$/, '.$1js')}`;
}

/** The allowed types of an attribute with one expression; `false`, null and undefined remove the attribute. */
const typeOf = (attribute: KnownAttribute) => kinds[attribute.kind].accepts?.(attribute) ?? 'Plain';

const declarations = `import type { Markup } from 'eltrix';

type Plain = string | number | bigint | boolean;
type Nothing = null | undefined | false;
type Live<T> = T | (() => T);

/** An element by its tag; \`any\` for one that nothing is known of. */
type ElementOf<Tag> = Tag extends keyof OwnElements
  ? OwnElements[Tag]
  : Tag extends keyof HTMLElementTagNameMap
    ? HTMLElementTagNameMap[Tag]
    : Tag extends keyof SVGElementTagNameMap
      ? SVGElementTagNameMap[Tag]
      : any;

type IsAny<T> = 0 extends 1 & T ? true : false;

/** Strings whose property is a boolean. */
interface Enumerated {
  contenteditable: Plain;
  draggable: boolean | 'true' | 'false';
  spellcheck: Plain;
  translate: boolean | 'yes' | 'no';
  autocorrect: Plain;
  hidden: Plain;
}

/** The type of the property with the name of a built-in attribute. */
type PropertyFor<E, Name> = { [K in keyof E & string as Lowercase<K>]: E[K] } extends infer All
  ? Name extends keyof All
    ? All[Name]
    : unknown
  : unknown;

type PlatformAttribute<E, Name> = Name extends keyof Enumerated
  ? Enumerated[Name]
  : Name extends 'class'
    ? Plain | readonly unknown[] | object
    : Name extends 'style'
      ? Plain | object
      : PropertyFor<E, Name> extends infer P
        ? IsAny<P> extends true
          ? Plain
          : unknown extends P
            ? Plain
            : [P] extends [boolean]
              ? boolean | ''
              : Plain
        : Plain;

type AttributeValue<Tag, Name> = Tag extends keyof OwnAttributes
  ? Name extends keyof OwnAttributes[Tag]
    ? OwnAttributes[Tag][Name]
    : PlatformAttribute<HTMLElement, Name>
  : Tag extends \`svg \${string}\`
    ? Name extends 'class'
      ? Plain | readonly unknown[] | object
      : Name extends 'style'
        ? Plain | object
        : Plain
    : PlatformAttribute<ElementOf<Tag>, Name>;

/** Functions as values have to be passed by \`fixed()\`, which has no type. */
type PropertyValue<V> = IsAny<V> extends true
  ? unknown
  : Extract<V, (...args: never[]) => unknown> extends never
    ? Live<V | (string extends V ? number | null : never)>
    : unknown;

type PropertiesOf<E> = IsAny<E> extends true
  ? Record<string, unknown>
  : {
      -readonly [K in keyof E as K extends \`on\${string}\` ? never : K]?: K extends 'style' | 'dataset' | 'classList'
        ? unknown
        : PropertyValue<E[K]>;
    } & { [K in keyof E as K extends \`on\${string}\` ? K : never]?: E[K] | Nothing } & {
      [name: \`on\${string}-\${string}\`]: unknown;
    };

interface Reads<T> {
  get(): T;
  set(value: T): void;
}

/**
 * The types that \`sync()\` reads and sets. The type of an \`<input>\` is an attribute, so any of its kinds is allowed.
 */
type FieldValue<Tag> = Tag extends 'input'
  ? string | number | null | boolean | readonly unknown[]
  : Tag extends 'select'
    ? string | readonly string[] | null
    : Tag extends 'textarea'
      ? string | null
      : ElementOf<Tag> extends infer E
        ? IsAny<E> extends true
          ? unknown
          : E extends { value: infer V }
            ? V
            : unknown
        : unknown;

/** A handle to another kind of element is wrong; what else may be attached is not looked at. */
type AttachedTo<Tag, V> = V extends { readonly element: infer E }
  ? ElementOf<Tag> extends E
    ? V
    : HandleTo<Tag>
  : V;

interface HandleTo<Tag> {
  readonly element: ElementOf<Tag> | null;
  readonly tag: Tag;
}

/** A target of events: an event that the element does not declare comes from an element inside, with any detail. */
type TargetOf<Tag, Type> = Type extends \`\${string}-\${string}\`
  ? Tag extends keyof OwnEvents
    ? Type extends OwnEvents[Tag]
      ? Known<Tag>
      : AnyElement
    : Tag extends \`\${string}-\${string}\`
      ? Known<Tag>
      : AnyElement
  : Known<Tag>;

type Known<Tag> = IsAny<ElementOf<Tag>> extends true ? AnyElement : ElementOf<Tag>;

interface AnyElement {
  addEventListener(type: string, listener: ((event: any) => unknown) | EventListenerObject | object): void;
}

interface Checker {
  markup(...values: unknown[]): Markup;
  content(value: unknown): unknown;
  part(value: Live<Plain | null | undefined>): unknown;
  attribute<Tag extends string, Name extends string>(): (
    value: Live<AttributeValue<Tag, Name> | Nothing>,
  ) => unknown;
  target<Tag extends string, Type extends string>(): TargetOf<Tag, Type>;
  handler<T>(value: T | Nothing): OmitThisParameter<T>;
  properties<Tag extends string>(): (value: PropertiesOf<ElementOf<Tag>>) => unknown;
  synced<Tag extends string>(): <S extends Reads<any>>(
    source: S & (S extends Reads<infer T> ? ([T] extends [FieldValue<Tag>] ? unknown : Reads<FieldValue<Tag>>) : unknown),
  ) => S;
  attached<Tag extends string>(): <V>(value: AttachedTo<Tag, V>) => unknown;
}
`;
