import { stopped } from '../signals/flags.ts';
import { kindOf } from '../signals/kind-of.ts';
import { untracked } from '../signals/state.ts';
import { type Attachable, type Attached, attach } from './element-expression.ts';
import { Expression } from './expression.ts';
import { watchField } from './late-value.ts';
import { nextSent, takeField } from './taking-over.ts';
import type { Owner } from './template.ts';

/** A value that can be read, tracked and set: a signal, or an object with the same methods. */
export interface Settable<T> {
  get(): T;
  set(value: T): void;
}

/** How the value of a form field is read and written. */
interface Field {
  read(): unknown;
  write(value: unknown): void;
}

type Input = HTMLInputElement;

/** Input types whose value runs code or changes what the page looks like. */
function refuseCode(element: Element): void {
  if (!/^(?:script|style)$/.test(element.localName)) return;
  throw Object.assign(
    new TypeError(
      __DEV__
        ? `(unsafe-value): <${element.localName}> takes code, and sync() would write it. Keep the text of a field or an editable element in a signal.`
        : 'unsafe-value: sink',
    ),
    { code: 'unsafe-value' },
  );
}

/**
 * The adapter for a kind of field, resolved once for each element. `like` is the current value, for fields that can
 * have several types.
 */
function fieldOf(element: Element, like: () => unknown): Field {
  const { localName } = element;
  if (localName === 'select') {
    const field = element as HTMLSelectElement;
    if (!field.multiple) return { read: () => field.value, write: value => void (field.value = text(value)) };
    return {
      read: () => [...field.selectedOptions].map(option => option.value),
      write(value) {
        const chosen = new Set(Array.isArray(value) ? value.map(text) : []);
        for (const option of field.options) option.selected = chosen.has(option.value);
      },
    };
  }
  // Its type may change.
  if (isInput(element))
    return { read: () => inputField(element, like).read(), write: value => inputField(element, like).write(value) };
  if ('value' in element) return property(element, 'value', localName === 'textarea' ? text : value => value);
  if ('checked' in element) return property(element, 'checked', Boolean);
  return {
    read: () => element.textContent,
    write(value) {
      element.textContent = text(value);
    },
  };
}

/** By its name: in another window's document its class is another one. */
const isInput = (element: Element): element is HTMLInputElement => element.localName === 'input';

function property(element: Element, name: string, print: (value: unknown) => unknown): Field {
  const target = element as unknown as Record<string, unknown>;
  return {
    read: () => target[name],
    write(value) {
      target[name] = print(value);
    },
  };
}

function inputField(element: Input, like: () => unknown): Field {
  switch (element.type) {
    case 'checkbox':
      // With a list, a checkbox is checked if its value is in the list.
      return {
        read() {
          const list = like();
          if (!Array.isArray(list)) return element.checked;
          const others = list.filter(item => item !== element.value);
          return element.checked
            ? others.length < list.length
              ? list
              : [...list, element.value]
            : others.length < list.length
              ? others
              : list;
        },
        write(value) {
          element.checked = Array.isArray(value) ? value.includes(element.value) : Boolean(value);
        },
      };
    case 'radio':
      return {
        // A radio button that is not checked does not give the group's value.
        read: () => (element.checked ? element.value : like()),
        write(value) {
          element.checked = text(value) === element.value;
        },
      };
    case 'number':
    case 'range':
      return {
        read: () => (element.value === '' ? null : element.valueAsNumber),
        write(value) {
          element.value = text(value);
        },
      };
    case 'file':
      return { read: () => [...(element.files ?? [])], write: () => {} };
    default:
      return property(element, 'value', text);
  }
}

function text(value: unknown): string {
  return value === null || value === undefined ? '' : String(value);
}

function same(a: unknown, b: unknown): boolean {
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((item, i) => item === b[i]);
  return Object.is(a, b);
}

/** For an element that is not defined yet: its kind of field is unknown. */
const unknownField: Field = { read: () => undefined, write: () => {} };

/** For a custom element that is not defined yet: resolves when this element is upgraded. */
function undefinedYet(element: Element): Promise<void> | undefined {
  if (element.matches(':defined')) return undefined;
  return customElements
    .whenDefined(element.getAttribute('is') ?? element.localName)
    .then(() => customElements.upgrade(element));
}

class SyncExpression extends Expression implements EventListenerObject {
  field: Field;
  observer: MutationObserver | undefined;

  constructor(
    owner: Owner,
    readonly element: Element,
    readonly source: Settable<unknown>,
  ) {
    refuseCode(element);
    super(owner, element, () => {});
    let value: unknown;
    const resolve = () => fieldOf(element, () => untracked(() => source.get()));
    const later = undefinedYet(element);
    this.field = later === undefined ? resolve() : unknownField;
    this.set(() => (value = source.get()));
    later?.then(() => {
      if (this.flags & stopped) return;
      this.field = resolve();
      this.bring(value);
    });
    element.addEventListener('input', this);
    element.addEventListener('change', this);
    // The type of an <input> may change, and so may the value that a radio button stands for.
    const isObserved = isInput(element) || undefined;
    this.observer = watchField(element as never, () => this.bring(value), isObserved);
  }

  override apply(value: unknown): void {
    const { element, field } = this;
    const write = () => field.write(value);
    // A field that already has the value is not set, which keeps its caret and selection.
    const isRadio = isInput(element) && element.type === 'radio';
    const isAlways = isRadio || Array.isArray(value);
    if (__RENDERED__ && nextSent()) takeField(element, field.read(), isAlways ? undefined : value, write);
    else if (isAlways || !same(field.read(), value)) write();
  }

  handleEvent(): void {
    if (this.field !== unknownField) this.source.set(this.field.read());
  }

  override dispose(): void {
    super.dispose();
    this.observer?.disconnect();
    this.element.removeEventListener('input', this);
    this.element.removeEventListener('change', this);
  }
}

/**
 * Synchronizes a form field with a signal, in both directions: `<input ${sync(name)}>`. Text fields and `<textarea>`
 * give strings, number and range a number or null, a checkbox a boolean (with a list: whether its value is in the
 * list). Radio buttons and `<select>` give the selected value, `<select multiple>` a list, an editable element its
 * text, and any other element with a `value` property that property.
 * @throws TypeError for something that has no `get` and `set`.
 * @example draft = signal('');  // in the view: <input ${sync(this.draft)}>
 */
// biome-ignore lint/suspicious/noExplicitAny: a signal of any type that a field gives.
export function sync(source: Settable<any>): object {
  if (typeof source?.get !== 'function' || typeof source.set !== 'function') {
    throw new TypeError(
      __DEV__
        ? `(sync-signal): sync() takes a signal, and ${kindOf(source)} came. Write sync(this.name) for name = signal(''), or { get: () => this.name, set: value => { this.name = value; } }.`
        : 'sync-signal',
    );
  }
  return new Sync(source);
}

export class Sync implements Attachable {
  constructor(readonly source: Settable<unknown>) {}

  [attach](element: Element, owner: Owner, present?: Attached): Attached {
    const { source } = this;
    return present instanceof SyncExpression && present.source === source
      ? present
      : new SyncExpression(owner, element, source);
  }
}
