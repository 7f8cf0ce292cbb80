/** Turns declared members into accessors, as Web IDL attributes are (§3.7.6): on the prototype, enumerable. */
import type { Rule } from '../contract/index.ts';
import { deep, original, showLive } from '../signals/deep.ts';
import { changed, refuseInComputed, state, track, untracked } from '../signals/graph.ts';
import { afterChange } from '../signals/queue.ts';
import type { Ability } from './abilities.ts';
import { PropertyCell } from './cell.ts';
import type { Core } from './core.ts';
import { coreKey, type HasCore } from './core-key.ts';
import { shown, warn } from './messages.ts';
import type { Member } from './plan.ts';

/** A cell that holds something beside the attribute. */
class ValueCell extends PropertyCell {
  /** The value of a `data` or `live` property, and what `json` and `custom` read last. */
  value: unknown = undefined;
  /** The text that was assigned to a property that does not reflect; undefined: the attribute's text counts. */
  text: string | null | undefined = undefined;
  /** The text that `value` was read from, for kinds that remember; undefined: none yet. */
  known: string | null | undefined = undefined;
}

function valueCell(core: Core, index: number): ValueCell {
  return (core.cells[index] ??= new ValueCell(core)) as ValueCell;
}

/** For classes with attributes that do not reflect: a change of the attribute counts more than what was assigned. */
export const unreflectedAbility: Ability = {
  rank: 0,
  core: Base =>
    class extends Base {
      override attributeChanged(member: Member, before: string | null, after: string | null): void {
        const cell = this.cells[member.index];
        if (cell instanceof ValueCell) cell.text = undefined;
        super.attributeChanged(member, before, after);
      }
    },
};

export interface Accessor {
  get(this: HasCore): unknown;
  set(this: HasCore, value: unknown): void;
}

/** Writes an attribute's text. The attribute in no namespace is meant, whatever others of the name there are. */
function writeText(host: HTMLElement, attribute: string, text: string | null): void {
  if (text === null) host.removeAttributeNS(null, attribute);
  else host.setAttributeNS(null, attribute, text);
}

/** The content attribute is the only state. */
export function reflecting(index: number, name: string, kind: Rule<unknown>): Accessor {
  return {
    get() {
      this[coreKey].track(index);
      return kind.read(this.getAttributeNS(null, name), this);
    },
    set(value) {
      // The brand comes before the conversion.
      void this[coreKey];
      const text = kind.write(value);
      if (text === undefined) return;
      refuseInComputed();
      writeText(this, name, text);
    },
  };
}

/** The kinds that keep something beside the attribute: an assigned text that does not reflect, a parsed value. */
export function withCell(
  index: number,
  attribute: string,
  kind: Rule<unknown>,
  reflects: boolean,
  name?: string,
): Accessor {
  const textOf = (host: HTMLElement, cell: ValueCell) =>
    cell.text === undefined ? host.getAttributeNS(null, attribute) : cell.text;
  function get(this: HasCore): unknown {
    const core = this[coreKey];
    const cell = valueCell(core, index);
    if (state.active !== undefined) track(cell);
    const text = textOf(this, cell);
    if (!kind.remembers) return kind.read(text, this);
    if (cell.known === text) return cell.value;
    const first = cell.known === undefined;
    cell.known = text;
    try {
      cell.value = kind.read(text, this);
    } catch (error) {
      if (first) cell.value = lastResort(kind, this);
      if (__DEV__) tellUnreadable(this, attribute, text, error, first);
    }
    return cell.value;
  }
  return {
    get,
    set(value) {
      const core = this[coreKey];
      const text = kind.write(value);
      if (text === undefined) return;
      refuseInComputed();
      if (reflects) {
        writeText(this, attribute, text);
        // What was assigned is the last good value, read or not.
        if (kind.remembers) untracked(() => get.call(this));
        return;
      }
      const cell = valueCell(core, index);
      if (cell.text === text) return;
      cell.text = text;
      changed(cell);
      afterChange();
    },
  };

  function tellUnreadable(
    host: HTMLElement,
    attribute: string,
    text: string | null,
    error: unknown,
    first: boolean,
  ): void {
    const reason = error instanceof Error ? error.message : String(error);
    warn(
      'attribute-value',
      `<${host.localName} ${attribute}=${shown(text ?? '')}>: "${attribute}" ${error instanceof SyntaxError ? 'is no JSON' : 'could not be read'}: ${reason}. ` +
        `Keeping ${first ? 'the default' : `the last good value of "${name}"`}.`,
      host,
    );
  }
}

function lastResort(kind: Rule<unknown>, host: HTMLElement): unknown {
  try {
    return kind.read(null, host);
  } catch {
    return undefined;
  }
}

/** One live object for ever, over the attribute's text. */
export function liveObject(index: number, attribute: string, kind: Rule<unknown>, reflects: boolean): Accessor {
  const list = (host: HasCore): { value: unknown } => {
    const cell = valueCell(host[coreKey], index);
    cell.value ??= kind.live!({
      get() {
        if (state.active !== undefined) track(cell);
        return cell.text === undefined ? host.getAttributeNS(null, attribute) : cell.text;
      },
      set(text) {
        refuseInComputed();
        if (reflects) return writeText(host, attribute, text);
        cell.text = text;
        changed(cell);
        afterChange();
      },
    });
    return cell.value as { value: unknown };
  };
  return {
    get() {
      return list(this);
    },
    set(value) {
      list(this).value = value;
    },
  };
}

/** `known` is null once there is a value, so that `make` runs when it is needed and not before. */
export function dataProperty(index: number, make: () => unknown): Accessor {
  return {
    get() {
      const cell = valueCell(this[coreKey], index);
      if (state.active !== undefined) track(cell);
      if (cell.known === undefined) {
        // What the author's function reads is no reading of this property; one that throws is called again.
        cell.value = untracked(make);
        cell.known = null;
      }
      return cell.value;
    },
    set(value) {
      const cell = valueCell(this[coreKey], index);
      refuseInComputed();
      if (cell.known !== undefined && Object.is(cell.value, value)) return;
      cell.known = null;
      cell.value = value;
      changed(cell);
      afterChange();
    },
  };
}

export function deepProperty(index: number, make: () => unknown): Accessor {
  const { get, set } = dataProperty(index, make);
  showLive();
  return {
    get() {
      return deep(get.call(this));
    },
    set(value) {
      set.call(this, original(value));
    },
  };
}
