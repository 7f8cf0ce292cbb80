import { stopped } from '../signals/flags.ts';
import { kindOf } from '../signals/kind-of.ts';
import { untracked } from '../signals/state.ts';
import { type Attachable, type Attached, attach } from './element-expression.ts';
import { Expression } from './expression.ts';
import { nextSent, takeField } from './taking-over.ts';
import type { Owner } from './template.ts';

/** What can be read, followed and set: a signal, or anything of its shape. */
export interface Settable<T> {
  get(): T;
  set(value: T): void;
}

/** How a field's value is read and written. */
interface Field {
  read(): unknown;
  write(value: unknown): void;
}

type Input = HTMLInputElement;

/** Its text would run, or change how the page looks. */
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

/** Resolves once what kind of field an element is. `like` is the present value, for what can hold several kinds. */
function fieldOf(element: Element, like: () => unknown): Field {
  if (element instanceof HTMLSelectElement) {
    if (!element.multiple) return { read: () => element.value, write: value => void (element.value = text(value)) };
    return {
      read: () => Array.from(element.selectedOptions, option => option.value),
      write(value) {
        const chosen = new Set(Array.isArray(value) ? value.map(text) : []);
        for (const option of element.options) option.selected = chosen.has(option.value);
      },
    };
  }
  if (element instanceof HTMLInputElement) return inputField(element, like);
  if ('value' in element)
    return property(element, 'value', element instanceof HTMLTextAreaElement ? text : value => value);
  if ('checked' in element) return property(element, 'checked', Boolean);
  return {
    read: () => element.textContent,
    write(value) {
      element.textContent = text(value);
    },
  };
}

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
      // With a list, a box stands for its value being in it.
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
        // A radio button that is not chosen says nothing of the group.
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
      return { read: () => Array.from(element.files ?? []), write: () => {} };
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

/** Stands for an element that is not defined yet: what kind of field it is is not known. */
const unknownField: Field = { read: () => undefined, write: () => {} };

/** For a custom element that is not defined yet: resolves when it is, and this element is upgraded. */
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
    if (element instanceof HTMLSelectElement) {
      // Options may come later than the value that chooses among them.
      this.observer = new MutationObserver(() => this.bring(value));
      this.observer.observe(element, { childList: true, subtree: true });
    }
  }

  override apply(value: unknown): void {
    if (__RENDERED__ && nextSent()) return takeField(this.element, () => this.field.write(value));
    // What the field shows already is left alone, and with it caret and selection.
    if (this.element instanceof HTMLInputElement && this.element.type === 'radio') this.field.write(value);
    else if (!same(this.field.read(), value) || Array.isArray(value)) this.field.write(value);
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
 * Keeps a field and a signal the same, both ways: `<input ${sync(name)}>`. Text and `<textarea>` give strings, number and
 * range give a number or null, a checkbox a boolean (or, with a list, whether its value is in it), radio buttons and
 * `<select>` the chosen value, `<select multiple>` a list of values, an editable element its text, and any other
 * element with a `value` property that.
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
