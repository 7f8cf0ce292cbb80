import { asciiLowerCase, toText, toUnsignedLong } from './convert.ts';
import type { AttributeText } from './kind.ts';

/** Infra §4.7: split on ASCII whitespace, first occurrences in order. */
function split(text: string | null): string[] {
  return [...new Set((text ?? '').split(/[\t\n\f\r ]+/).filter(Boolean))];
}

function required(method: string, given: number, wanted: number): void {
  if (given < wanted) {
    throw new TypeError(`${method}() takes ${wanted} argument${wanted > 1 ? 's' : ''}, and ${given} came.`);
  }
}

/** DOM §7.1, the validation steps of `add`, `remove`, `toggle` and `replace`. */
function refuseEmpty(tokens: readonly string[]): void {
  if (tokens.includes('')) throw new DOMException('A token is not empty. Give it a name.', 'SyntaxError');
}

function refuseBlank(token: string): void {
  if (/[\t\n\f\r ]/.test(token)) {
    throw new DOMException(
      `The token ${JSON.stringify(token)} has whitespace. Pass each token as a separate argument.`,
      'InvalidCharacterError',
    );
  }
}

function validate(tokens: readonly string[]): void {
  for (const token of tokens) {
    refuseEmpty([token]);
    refuseBlank(token);
  }
}

const indexed: ProxyHandler<TokenList> = {
  get(list, key) {
    const index = asIndex(key);
    if (index >= 0) return list.item(index) ?? undefined;
    const value: unknown = Reflect.get(list, key, list);
    return typeof value === 'function' && key !== 'constructor' ? bound(list, value as () => unknown) : value;
  },
  set(list, key, value) {
    // Indexes are read-only: assigning throws a TypeError in strict code, as on a built-in list.
    return asIndex(key) < 0 && Reflect.set(list, key, value, list);
  },
  has(list, key) {
    const index = asIndex(key);
    return index >= 0 ? index < list.length : Reflect.has(list, key);
  },
  ownKeys(list) {
    return [...list.keys()].map(String).concat(Reflect.ownKeys(list) as string[]);
  },
  getOwnPropertyDescriptor(list, key) {
    const index = asIndex(key);
    if (index < 0) return Reflect.getOwnPropertyDescriptor(list, key);
    const value = list.item(index);
    return value === null ? undefined : { value, enumerable: true, configurable: true, writable: false };
  },
};

const boundMethods = new WeakMap<TokenList, Map<() => unknown, () => unknown>>();

/** Private fields cannot be read through a proxy, so methods are bound to the list. */
function bound(list: TokenList, method: () => unknown): () => unknown {
  let known = boundMethods.get(list);
  if (!known) boundMethods.set(list, (known = new Map()));
  let found = known.get(method);
  if (!found) known.set(method, (found = method.bind(list)));
  return found;
}

function asIndex(key: string | symbol): number {
  return typeof key === 'string' && /^(?:0|[1-9][0-9]*)$/.test(key) && +key < 2 ** 32 - 1 ? +key : -1;
}

/** A live set of tokens in an attribute's text, with the members and errors of DOMTokenList (DOM §7.1). */
export class TokenList {
  readonly [index: number]: string;
  readonly #text: AttributeText;
  readonly #supported: ReadonlySet<string> | undefined;
  readonly #proxy: this;

  constructor(text: AttributeText, supported?: readonly string[]) {
    this.#text = text;
    this.#supported = supported && new Set(supported.map(asciiLowerCase));
    // biome-ignore lint/correctness/noConstructorReturn: only a proxy answers to list[0].
    return (this.#proxy = new Proxy(this, indexed as ProxyHandler<this>));
  }

  /** The number of tokens. */
  get length(): number {
    return split(this.#text.get()).length;
  }

  /** The attribute's text, `""` if it is absent. Assigning sets the text unchanged. */
  get value(): string {
    return this.#text.get() ?? '';
  }

  set value(value: string) {
    this.#text.set(toText(value));
  }

  /** The token at an index, or null. */
  item(index: number): string | null {
    required('item', arguments.length, 1);
    return split(this.#text.get())[toUnsignedLong(index)] ?? null;
  }

  /** Whether the list contains the token. The token is not validated. */
  contains(token: string): boolean {
    required('contains', arguments.length, 1);
    return split(this.#text.get()).includes(toText(token));
  }

  /** Adds tokens at the end. @throws DOMException SyntaxError for `""`, InvalidCharacterError for whitespace. */
  add(...tokens: string[]): void {
    const names = tokens.map(toText);
    validate(names);
    this.#write([...new Set([...split(this.#text.get()), ...names])]);
  }

  /** Removes tokens. @throws DOMException SyntaxError for `""`, InvalidCharacterError for whitespace. */
  remove(...tokens: string[]): void {
    const names = tokens.map(toText);
    validate(names);
    this.#write(split(this.#text.get()).filter(token => !names.includes(token)));
  }

  /** Adds or removes a token. @returns whether the list contains it now. @throws DOMException as `add`. */
  toggle(token: string, force?: boolean): boolean {
    required('toggle', arguments.length, 1);
    const name = toText(token);
    validate([name]);
    const items = split(this.#text.get());
    if (items.includes(name)) {
      if (force !== undefined && force) return true;
      this.#write(items.filter(item => item !== name));
      return false;
    }
    if (force !== undefined && !force) return false;
    this.#write([...items, name]);
    return true;
  }

  /** Replaces a token. @returns whether the list contained it. @throws DOMException as `add`. */
  replace(token: string, replacement: string): boolean {
    required('replace', arguments.length, 2);
    const [before, after] = [toText(token), toText(replacement)];
    refuseEmpty([before, after]);
    refuseBlank(before);
    refuseBlank(after);
    const items = split(this.#text.get());
    if (!items.includes(before)) return false;
    this.#write([...new Set(items.map(item => (item === before ? after : item)))]);
    return true;
  }

  /** Whether the token is among the declared supported ones. @throws TypeError if none were declared. */
  supports(token: string): boolean {
    required('supports', arguments.length, 1);
    const name = toText(token);
    if (!this.#supported) throw new TypeError('No supported tokens are declared. Declare them: tokens({ supported }).');
    return this.#supported.has(asciiLowerCase(name));
  }

  /** Calls back with each token, its index and this list. */
  forEach(callback: (token: string, index: number, list: TokenList) => void, thisArg?: unknown): void {
    required('forEach', arguments.length, 1);
    if (typeof callback !== 'function') throw new TypeError('forEach() takes a function.');
    for (let index = 0; index < this.length; index++) callback.call(thisArg, this.item(index)!, index, this.#proxy);
  }

  // Web IDL §3.7.9: an indexed iterable has the live iterators of Array.
  keys(): ArrayIterator<number> {
    return Array.prototype.keys.call(this.#proxy);
  }

  values(): ArrayIterator<string> {
    return Array.prototype.values.call(this.#proxy);
  }

  entries(): ArrayIterator<[number, string]> {
    return Array.prototype.entries.call(this.#proxy);
  }

  [Symbol.iterator](): ArrayIterator<string> {
    return this.values();
  }

  toString(): string {
    return this.value;
  }

  get [Symbol.toStringTag](): string {
    return 'DOMTokenList';
  }

  /** DOM §7.1, the update steps: an absent attribute is not created for an empty set. */
  #write(items: readonly string[]): void {
    if (items.length > 0 || this.#text.get() !== null) this.#text.set(items.join(' '));
  }
}
