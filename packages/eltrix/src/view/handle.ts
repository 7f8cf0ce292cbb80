import { type Attachable, type Attached, attach } from './element-expression.ts';

/** A reference to an element of the view. */
export interface Handle<E extends Element = HTMLElement> {
  /** The element; null before the view exists and after its part of the view was removed. */
  readonly element: E | null;
}

class ElementHandle<E extends Element> implements Handle<E>, Attachable {
  element: E | null = null;

  [attach](element: Element): Attached {
    this.element = element as E;
    return {
      dispose: () => {
        if (this.element === element) this.element = null;
      },
    };
  }
}

/**
 * Creates a reference to an element of the view: `const box = handle<HTMLDivElement>()`, then `<div ${box}>`, then
 * `box.element`.
 * @example readonly field = handle<HTMLInputElement>();  // <input ${this.field}>, then this.field.element?.focus()
 */
export function handle<E extends Element = HTMLElement>(): Handle<E> {
  return new ElementHandle<E>();
}
