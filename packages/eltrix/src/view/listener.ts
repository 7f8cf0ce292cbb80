import { kindOf } from '../signals/kind-of.ts';
import type { Binder, Binding, Owner } from './template.ts';
import { warnOnce } from './warn-once.ts';
import { nameOf } from './whereabouts.ts';

/** A listener of an `on…` expression, called with the element that owns the view as `this`. */
export type Handler = ((event: Event) => unknown) | EventListenerObject | null | undefined | false;

/** Listens as long as its part of the view exists. */
export class Listening implements Binding, EventListenerObject {
  handler: Handler = undefined;

  constructor(
    readonly target: EventTarget,
    readonly type: string,
    readonly owner: Owner,
    readonly options?: AddEventListenerOptions | boolean,
  ) {
    target.addEventListener(type, this, options);
  }

  handleEvent(event: Event): void {
    const { handler } = this;
    if (typeof handler === 'function') handler.call(this.owner.host, event);
    else if (handler) handler.handleEvent(event);
  }

  update(values: readonly unknown[], at: number): void {
    this.handler = values[at] as Handler;
  }

  /** The element is removed with the view: ignoring events is enough, and much faster than removing the listener. */
  dispose(): void {
    this.handler = undefined;
  }
}

/** A listener whose handler may be null. */
export class CheckedListening extends Listening {
  override update(values: readonly unknown[], at: number): void {
    this.handler = checked(values[at], this.type, this.owner);
  }
}

/** A listener of a record of properties: its element may stay when the record goes. */
export class RecordListening extends CheckedListening {
  detach(): void {
    this.target.removeEventListener(this.type, this, this.options);
  }
}

/** A listener of `on()`, removed with its attachment. */
export class AttachedListening extends RecordListening {
  /** @returns the present listener with another handler, if type and options are the same; otherwise a new one. */
  static of(
    present: object | undefined,
    target: EventTarget,
    type: string,
    handler: Handler,
    owner: Owner,
    options?: AddEventListenerOptions | boolean,
  ): AttachedListening {
    const stays =
      present instanceof AttachedListening && present.type === type && sameOptions(present.options, options);
    // A value that is not a handler is reported before a listener is added.
    checked(handler, type, owner);
    const listening = stays ? present : new AttachedListening(target, type, owner, options);
    listening.update([handler], 0);
    return listening;
  }

  override dispose(): void {
    super.dispose();
    this.detach();
  }
}

function sameOptions(a: AddEventListenerOptions | boolean = {}, b: AddEventListenerOptions | boolean = {}): boolean {
  if (typeof a === 'boolean' || typeof b === 'boolean') return a === b;
  // A listener with `once` may have been called already.
  return !a.once && !b.once && a.capture === b.capture && a.passive === b.passive && a.signal === b.signal;
}

function checked(handler: unknown, type: string, owner: Owner): Handler {
  if (__DEV__ && handler === undefined)
    warnOnce(
      `Warning (listener-nothing): ${nameOf(owner.host)}: "on${type}" got undefined, so nothing happens. Write on${type}=\${this.method} without parentheses, or null where there is none.`,
    );
  if (
    typeof handler === 'function' ||
    handler === null ||
    handler === undefined ||
    handler === false ||
    (typeof handler === 'object' && typeof (handler as EventListenerObject).handleEvent === 'function')
  ) {
    return handler as Handler;
  }
  throw new TypeError(
    __DEV__
      ? `(listener-type): ${nameOf(owner.host)}: "on${type}" takes a function, and ${kindOf(handler)} came. Write on${type}=\${this.method} or on${type}=\${event => …}.`
      : 'listener-type',
  );
}

export function bindListener(type: string): Binder {
  return (node, owner) => new CheckedListening(node, type, owner);
}

/** For a handler of which the compiler knows that it is a function. */
export function bindFunction(type: string): Binder {
  return (node, owner) => new Listening(node, type, owner);
}
