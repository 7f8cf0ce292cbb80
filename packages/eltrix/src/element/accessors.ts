/** Accessors of declared members. As Web IDL attributes (§3.7.6) they are on the prototype and enumerable. */
import type { Rule } from '../contract/index.ts';
import { keyOf, read, state, untracked } from '../signals/state.ts';
import { coreKey, type HasCore } from './core-key.ts';
import { shown, warn } from './messages.ts';
import type { Core, Member } from './plan.ts';

export interface Accessor {
  get(this: HasCore): unknown;
  set(this: HasCore, value: unknown): void;
}

/** A member that a class declares, and the factory of its accessor. */
export interface OwnMember extends Omit<Member, 'index'> {
  accessor(member: Member): Accessor;
}

/** Sets an attribute without a namespace, even beside attributes of the same name in other namespaces. */
function writeText(host: HTMLElement, attribute: string, text: string | null): void {
  if (text === null) host.removeAttributeNS(null, attribute);
  else host.setAttributeNS(null, attribute, text);
}

/** The accessor of a reflecting property whose only state is the content attribute. */
export const reflecting =
  (rule: Rule<unknown>) =>
  ({ index, attribute }: Member): Accessor => ({
    get() {
      read(this[coreKey], keyOf(index));
      return rule.read(this.getAttributeNS(null, attribute!), this);
    },
    set(value) {
      // As in Web IDL, an accessor called on another object throws before the value is converted.
      void this[coreKey].home;
      const text = rule.write(value);
      if (text === undefined) return;
      state.graph?.refuseInComputed();
      writeText(this, attribute!, text);
    },
  });

/** State beside the attribute. */
interface Kept {
  /** The last result of `json` and `custom`. */
  value?: unknown;
  /** The text assigned to a property that does not reflect; undefined: the attribute's text counts. */
  text?: string | null | undefined;
  /** The text that `value` was read from, for kinds that remember values; undefined: none yet. */
  known?: string | null;
  /** The queued attribute callback is older than the property, which was set before the upgrade. */
  isEarly?: boolean;
}

const keptBy = (core: Core, index: number) => ((core.values ??= [])[index] ??= {}) as Kept;

/** For attributes that do not reflect: a change of the attribute replaces the assigned value. */
function unreflected(attribute: string, index: () => number): Pick<Member, 'takenOver' | 'attributeChanged'> {
  return {
    takenOver(core) {
      if (core.host.hasAttributeNS(null, attribute)) keptBy(core, index()).isEarly = true;
    },
    attributeChanged(core) {
      const kept = keptBy(core, index());
      if (kept.isEarly) kept.isEarly = false;
      else kept.text = undefined;
    },
  };
}

/** For kinds with state beside the attribute: an assigned text that does not reflect, or a parsed value. */
export function keeping(name: string, attribute: string, rule: Rule<unknown>, reflects: boolean): OwnMember {
  let index = 0;
  function get(this: HasCore): unknown {
    const core = this[coreKey];
    read(core, keyOf(index));
    const kept = keptBy(core, index);
    const text = kept.text === undefined ? this.getAttributeNS(null, attribute) : kept.text;
    if (!rule.remembers) return rule.read(text, this);
    if (kept.known === text) return kept.value;
    const isFirst = kept.known === undefined;
    kept.known = text;
    try {
      kept.value = rule.read(text, this);
    } catch (error) {
      if (isFirst) kept.value = lastResort(rule, this);
      if (__DEV__) reportUnreadable(this, name, attribute, text, error, isFirst);
    }
    return kept.value;
  }
  return {
    name,
    attribute,
    reflects,
    ...(reflects ? {} : unreflected(attribute, () => index)),
    // Each text is parsed when it is set: the last valid value counts, even if the property was never read.
    ...(reflects && rule.remembers && { attributeChanged: core => untracked(() => get.call(core.host as HasCore)) }),
    accessor(member) {
      ({ index } = member);
      return {
        get,
        set(value) {
          const core = this[coreKey];
          const text = rule.write(value);
          if (text === undefined) return;
          state.graph?.refuseInComputed();
          if (reflects) {
            writeText(this, attribute, text);
            // The assigned value is the last valid one, read or not.
            if (rule.remembers) untracked(() => get.call(this));
            return;
          }
          const kept = keptBy(core, index);
          if (kept.text === text) return;
          kept.text = text;
          core.wrote(index);
        },
      };
    },
  };
}

function reportUnreadable(
  host: HTMLElement,
  name: string,
  attribute: string,
  text: string | null,
  error: unknown,
  isFirst: boolean,
): void {
  const reason = error instanceof Error ? error.message : String(error);
  warn(
    'attribute-value',
    `<${host.localName} ${attribute}=${shown(text ?? '')}>: "${attribute}" ${error instanceof SyntaxError ? 'is no JSON' : 'could not be read'}: ${reason}. ` +
      `Keeping ${isFirst ? 'the default' : `the last good value of "${name}"`}.`,
    host,
  );
}

function lastResort(rule: Rule<unknown>, host: HTMLElement): unknown {
  try {
    return rule.read(null, host);
  } catch {
    return undefined;
  }
}

/** A property with one live object for the element's lifetime, which reads and writes the attribute's text. */
export function liveObject(name: string, attribute: string, rule: Rule<unknown>, reflects: boolean): OwnMember {
  let index = 0;
  const list = (host: HasCore): { value: unknown } => {
    const core = host[coreKey];
    const kept = keptBy(core, index);
    kept.value ??= rule.live!({
      get() {
        read(core, keyOf(index));
        return kept.text === undefined ? host.getAttributeNS(null, attribute) : kept.text;
      },
      set(text) {
        state.graph?.refuseInComputed();
        if (reflects) return writeText(host, attribute, text);
        kept.text = text;
        core.wrote(index);
      },
    });
    return kept.value as { value: unknown };
  };
  return {
    name,
    attribute,
    reflects,
    ...(reflects ? {} : unreflected(attribute, () => index)),
    accessor(member) {
      ({ index } = member);
      return {
        get() {
          return list(this);
        },
        set(value) {
          list(this).value = value;
        },
      };
    },
  };
}

/** A property without an attribute. `make` creates the default value when the property is first read. */
export const dataProperty =
  (make: () => unknown, isLive = false) =>
  ({ index, name }: Member): Accessor => ({
    get() {
      const core = this[coreKey];
      const values = (core.values ??= []);
      read(core, keyOf(index));
      // Dependencies of the author's function are not those of the property. If it throws, the next read calls it
      // again.
      if (!(index in values)) values[index] = untracked(make);
      if (__DEV__ && !isLive) checkLength(this, name, values[index]);
      return values[index];
    },
    set(value) {
      const core = this[coreKey];
      const values = (core.values ??= []);
      state.graph?.refuseInComputed();
      if (index in values && Object.is(values[index], value)) return;
      values[index] = value;
      core.wrote(index);
    },
  });

/** Development: the lengths of lists when they were last read. */
const lengths = new WeakMap<readonly unknown[], number>();

function checkLength(host: HTMLElement, name: string, value: unknown): void {
  if (!Array.isArray(value)) return;
  const before = lengths.get(value);
  lengths.set(value, value.length);
  if (before === undefined || before === value.length) return;
  warn(
    'data-in-place',
    `<${host.localName}>: the list in "${name}" was changed in place, which does not show. ` +
      `Assign a new one: this.${name} = [...this.${name}, item], or declare it as live().`,
    host,
  );
}
