/**
 * The names of the page's globals. Those that code adds are enumerable, but for properties that it defines with another
 * descriptor; those are noted when they are defined. To read all names, of which a page has a thousand, would cost more
 * than most tests.
 */

/** The names before the first test. */
let initial: ReadonlySet<string> = new Set();
/** Names of properties that were defined since then, enumerable or not. */
const defined = new Set<string>();

let last: { readonly names: readonly string[]; readonly set: ReadonlySet<string> } = { names: [], set: new Set() };

const note = (target: unknown, names: readonly PropertyKey[]) => {
  if (target !== globalThis) return;
  for (const name of names) if (typeof name === 'string' && !initial.has(name)) defined.add(name);
};

/** Has to be called before the first test. */
export function noteGlobals(): void {
  initial = new Set(Object.getOwnPropertyNames(globalThis));
  const { defineProperty, defineProperties } = Object;
  const reflect = Reflect.defineProperty;
  Object.assign(Object, {
    defineProperty(target: object, name: PropertyKey, descriptor: PropertyDescriptor) {
      const made = defineProperty(target, name, descriptor);
      note(target, [name]);
      return made;
    },
    defineProperties(target: object, descriptors: PropertyDescriptorMap) {
      const made = defineProperties(target, descriptors);
      note(target, Object.keys(descriptors));
      return made;
    },
  });
  Object.assign(Reflect, {
    defineProperty(target: object, name: PropertyKey, descriptor: PropertyDescriptor) {
      const isMade = reflect(target, name, descriptor);
      note(target, [name]);
      return isMade;
    },
  });
}

/** The present names; the same set if there are no others than before. */
export function globalNames(): ReadonlySet<string> {
  const names = Object.keys(globalThis);
  for (const name of defined) if (Object.hasOwn(globalThis, name)) names.push(name);
  // New names come last.
  if (names.length !== last.names.length || names.at(-1) !== last.names.at(-1)) last = { names, set: new Set(names) };
  return last.set;
}

/** The names that are not among earlier ones. */
export function addedGlobals(before: ReadonlySet<string>, now: ReadonlySet<string>): readonly string[] {
  // Frames are numbers.
  return now === before ? [] : [...now].filter(name => !before.has(name) && !initial.has(name) && !/^\d+$/.test(name));
}
