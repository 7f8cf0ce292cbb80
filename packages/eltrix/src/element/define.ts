import { tagProblem } from '../contract/names.ts';
import { watchOverrides } from './author-checks.ts';
import { baseOf } from './base.ts';
import { contractKey } from './contract-key.ts';
import { defineHot, isHot } from './hot.ts';
import { mistake, warn, withProblem } from './messages.ts';
import type { Contract } from './plan.ts';
import { StyleText } from './styles.ts';

type ElementClass = CustomElementConstructor & { readonly name: string; readonly [contractKey]: Contract };

/** The elements that a server can render, where there is no registry. */
export const definedWithoutRegistry = /* @__PURE__ */ new Map<string, object>();

/**
 * Registers an element class. A second call with the same class does nothing. Another copy of the same element warns
 * and keeps the first one; another class throws like the platform. Without a registry (Node) the class is only noted.
 */
export function define(
  Class: ElementClass,
  givenTag: string | undefined,
  givenRegistry: CustomElementRegistry | undefined,
): void {
  const tag = givenTag ?? Class[contractKey].tag;
  // In production the platform rejects the name, with an error of the same class.
  const problem = __DEV__ && tagProblem(tag);
  if (problem) throw withProblem(new DOMException(problem.message, 'SyntaxError'), { code: problem.code, tag });
  const registry = givenRegistry ?? (globalThis as { customElements?: CustomElementRegistry }).customElements;
  const present = registry?.get(tag) as ElementClass | undefined;
  if (__RENDERED__ && !registry) definedWithoutRegistry.set(tag, Class);
  if (!registry || present === Class) return;
  const { extends: extended } = Class[contractKey];
  const options = { extends: extended } as ElementDefinitionOptions;
  if (!__DEV__) {
    if (!isCopy(present, Class)) registry.define(tag, Class, options);
    return;
  }
  if (!present) {
    checkObserved(tag, Class);
    checkSheets(tag, Class);
    watchOverrides(Class, baseOf(Class));
    if (!givenRegistry && isHot()) defineHot(Class, tag, options);
    else registry.define(tag, Class, options);
    if (extended !== undefined) checkExtended(tag, extended, Class);
    return;
  }
  if (!givenRegistry && isHot() && defineHot(Class, tag, options)) return;
  if (isCopy(present, Class)) {
    warn(
      'tag-copy',
      `<${tag}>: a second copy of ${Class.name} was loaded; the first one stays in use. ` +
        'Load its module from one address; `npm ls` shows whether two versions are installed.',
    );
    return;
  }
  throw mistake(
    'NotSupportedError',
    'tag-taken',
    tag,
    `<${tag}> is already defined, by another class${present.name ? ` (${present.name})` : ''}. ` +
      `${present.name === Class.name ? 'Two modules of that name are probably loaded; `npm ls` shows whether two versions are installed.' : `Give this one another tag: ${Class.name || 'MyElement'}.define('my-${tag}').`} The first one stays in use.`,
  );
}

/** @throws TypeError for a class whose `observedAttributes` misses attributes of its contract. */
function checkObserved(tag: string, Class: ElementClass): void {
  const observed = (Class as unknown as { observedAttributes?: Iterable<string> }).observedAttributes ?? [];
  const names = new Set(observed);
  const missing = Class[contractKey].members.flatMap(({ attribute }) =>
    attribute === undefined || names.has(attribute) ? [] : [attribute],
  );
  if (missing.length === 0) return;
  const list = (all: Iterable<string>, quote: string) => [...all].map(name => `${quote}${name}${quote}`).join(', ');
  throw mistake(
    'TypeError',
    'observed-attributes',
    tag,
    `<${tag}>: static observedAttributes does not contain ${list(missing, '"')}. The contract observes what it declares; ` +
      `write [...super.observedAttributes${names.size > 0 ? `, ${list(names, "'")}` : ''}] to observe more.`,
  );
}

/** Warns of style sheets in a class that has no `styleSheets`: they are in a field of another name. */
function checkSheets(tag: string, Class: ElementClass): void {
  if ('styleSheets' in Class) return;
  for (const name of Object.getOwnPropertyNames(Class)) {
    const { value } = Object.getOwnPropertyDescriptor(Class, name)!;
    const isSheet = (one: unknown) =>
      one instanceof StyleText || (typeof CSSStyleSheet === 'function' && one instanceof CSSStyleSheet);
    if (isSheet(value) || (Array.isArray(value) && value.length > 0 && value.every(isSheet)))
      warn(
        'sheets-unused',
        `<${tag}>: the style sheets in static ${name} are not used. Call the field styleSheets: static styleSheets = […].`,
      );
  }
}

/** Warns in WebKit, which has no customized built-in elements. */
function checkExtended(tag: string, extended: string, Class: ElementClass): void {
  if (document.createElement(extended, { is: tag }) instanceof Class) return;
  warn(
    'extends-unsupported',
    `<${extended} is="${tag}">: this engine has no customized built-in elements, so it stays a plain <${extended}>. ` +
      `Make it an autonomous element without "extends", or load a script that adds them, before this one.`,
  );
}

/**
 * Whether two classes are copies of the same element: the same tag and public surface. A build may shorten class
 * names.
 */
function isCopy(present: ElementClass | undefined, Class: ElementClass): boolean {
  return present?.[contractKey]?.surface === Class[contractKey].surface && (!__DEV__ || present!.name === Class.name);
}
