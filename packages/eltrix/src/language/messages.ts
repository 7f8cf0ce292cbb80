/** Texts in several languages. */
import { report } from '../signals/report.ts';
import { type Signal, signal } from '../signals/signal.ts';
import { state } from '../signals/state.ts';
import { numberFormat, pluralRules } from './formats.ts';
import { locale } from './locale.ts';

/** A text with parameters in braces, or one for each plural category of `count` (CLDR: zero, one, two, few, many, other). */
export type Message = string | ({ readonly other: string } & { readonly [K in Intl.LDMLPluralRule]?: string });

/** The texts of one language. */
export type MessageTable = Readonly<Record<string, Message>>;

/** The texts of another language, with the same keys: `export default { … } satisfies Translation<typeof en>`. */
export type Translation<M extends MessageTable> = { readonly [K in keyof M]: Message };

type NamesIn<T extends string> = T extends `${string}{${infer Name}}${infer Rest}` ? Name | NamesIn<Rest> : never;
type TextOf<M extends Message> = M extends string
  ? M
  : M extends { readonly other: infer T extends string }
    ? T
    : never;
type Parameters<M extends Message> =
  | NamesIn<TextOf<M>>
  // `count` selects the plural category.
  | (M extends string ? never : 'count');
/** Without literal types the parameters are unknown. */
type Given<M extends Message> =
  string extends TextOf<M>
    ? [parameters?: Readonly<Record<string, string | number>>]
    : [Parameters<M>] extends [never]
      ? []
      : [parameters: Readonly<Record<Parameters<M>, string | number>>];

/** Returns the text of a key in the element's language; a tracked reading. Numbers are formatted in that language. */
export type Texts<M extends MessageTable> = <K extends keyof M & string>(key: K, ...given: Given<M[K]>) => string;

type Load<M extends MessageTable> = () => Promise<{ readonly default: Translation<M> } | Translation<M>>;

export interface Messages<M extends MessageTable> {
  /** The texts for an element: `text = messages(this)`, then `${() => this.text('hives', { count: 3 })}`. */
  (host: Element): Texts<M>;
  /**
   * Loads the texts of a language ahead, so that the first view shows them: before elements are defined on a page
   * that a server has rendered.
   * @param tag a BCP 47 tag; a language without a module is none to load.
   * @throws what its module throws.
   */
  load(tag: string): Promise<void>;
  /** Loads all languages. @returns the missing keys of each: `{ de: ['hives'] }`. For tests. */
  missing(): Promise<Record<string, string[]>>;
}

/**
 * Texts in several languages. Those of the first language are there at once; another language is loaded when an element
 * that shows a text is in it, and meanwhile the first shows. `de-AT` uses `de` if it has no module.
 *
 * @param tag the language of `source`, a BCP 47 tag.
 * @param languages for each tag, what loads its module.
 * @example
 * export const hiveTexts = messages('en', { hives: { one: '{count} hive', other: '{count} hives' } }, {
 *   de: () => import('./texts.de.js'),
 * });
 */
export function messages<const M extends MessageTable>(
  tag: string,
  source: M,
  languages: Readonly<Record<string, Load<M>>> = {},
): Messages<M> {
  type Loaded = { readonly tag: string; readonly table: Translation<M> };
  const first: Loaded = { tag, table: source };
  /** The texts of each language, the first language's until they are there. */
  const loaded = new Map<
    string,
    { readonly texts: Signal<Loaded>; done?: Promise<void> | undefined; isShown: boolean }
  >();

  const load = async (name: string): Promise<Translation<M>> => {
    const module = await languages[name]!();
    return ('default' in module ? module.default : module) as Translation<M>;
  };
  const missingOf = (table: MessageTable) => Object.keys(source).filter(key => !Object.hasOwn(table, key));

  /** Begins to load the texts of a language tag, or of the language that it is a variant of; undefined for the first. */
  const begin = (wanted: string) => {
    const name = chosen(wanted, [...Object.keys(languages), tag]);
    if (name === undefined || name === tag) return undefined;
    const begun = loaded.get(name) ?? { texts: signal(first), isShown: false };
    loaded.set(name, begun);
    begun.done ??= load(name).then(
      table => {
        const lacks = __DEV__ ? missingOf(table) : [];
        if (__DEV__ && lacks.length > 0)
          console.warn(
            `Warning (message-missing): the messages for "${name}" lack ${lacks.map(key => `"${key}"`).join(', ')}. The texts of "${tag}" show instead.`,
          );
        begun.texts.set({ tag: name, table });
      },
      error => {
        // The next reading may succeed.
        begun.done = undefined;
        begun.isShown = false;
        throw error;
      },
    );
    return begun as typeof begun & { readonly done: Promise<void> };
  };

  const textsOf = (wanted: string): Loaded => {
    const begun = begin(wanted);
    if (!begun) return first;
    const { texts, done } = begun;
    // A server that waits for answers waits for texts, too.
    if (__RENDERED__ && texts.peek() === first)
      state.requests?.sent?.(
        `texts in ${wanted}`,
        done.then(() => undefined),
      );
    if (!begun.isShown) done.catch(report);
    begun.isShown = true;
    return texts.get();
  };

  const texts =
    (host: Element): Texts<M> =>
    (key, ...[parameters]) => {
      const { tag: found, table } = textsOf(locale(host));
      const own = table[key];
      return own === undefined ? fill(tag, key, source[key], parameters) : fill(found, key, own, parameters);
    };
  return Object.assign(texts, {
    async load(wanted: string) {
      await begin(wanted)?.done;
    },
    async missing() {
      const result: Record<string, string[]> = {};
      for (const name of Object.keys(languages)) {
        const lacks = missingOf(await load(name));
        if (lacks.length > 0) result[name] = lacks;
      }
      return result;
    },
  });
}

/** The best available tag: the tag itself, or the nearest that it is a variant of (RFC 4647 §3.4, lookup). */
function chosen(wanted: string, tags: readonly string[]): string | undefined {
  for (let at = wanted.toLowerCase(); at; at = at.slice(0, Math.max(0, at.lastIndexOf('-')))) {
    const found = tags.find(tag => tag.toLowerCase() === at);
    if (found !== undefined) return found;
  }
  return undefined;
}

/** Inserts parameters into a text. */
function fill(
  tag: string,
  key: string,
  message: Message | undefined,
  parameters: Readonly<Record<string, string | number>> = {},
): string {
  if (message === undefined) {
    if (__DEV__) console.warn(`Warning (message-unknown): there is no message "${key}". Add it to the first language.`);
    return key;
  }
  const text =
    typeof message === 'string'
      ? message
      : (message[pluralRules(tag).select(Number(parameters['count']))] ?? message.other);
  return text.replace(/\{([^{}]+)\}/g, (whole, name: string) => {
    const value = Object.hasOwn(parameters, name) ? parameters[name] : undefined;
    if (value === undefined) {
      if (__DEV__)
        console.warn(`Warning (message-parameter): "${key}" needs "${name}". Write text('${key}', { ${name}: … }).`);
      return whole;
    }
    return typeof value === 'number' ? numberFormat(tag).format(value) : value;
  });
}
