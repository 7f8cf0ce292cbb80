/** The lifecycle of an element: its states, and the parts that are called at each moment. */
import { trace } from '../signals/trace.ts';
import type { FormSide, Living, Part, Plan } from './plan.ts';
import type { ConnectionScope } from './scope.ts';

type Moment = 'construct' | 'attributeChanged' | 'prepare' | 'move' | 'adopt' | 'disconnect';
type Step<C> = (core: C, ...args: unknown[]) => void;
type Given<M extends Moment> = Required<Part<Living>>[M] extends (core: Living, ...args: infer A) => void ? A : never;

export abstract class Life implements Living {
  shown = false;
  assembled = false;
  connections = 0;

  declare early?: Map<string, boolean>;
  declare form?: FormSide;
  declare scope?: ConnectionScope | undefined;
  declare calledConnected?: boolean;
  declare noted?: (bits: number) => void;
  /** Development: the internals, for another driver of the same element. */
  declare readonly attached: ElementInternals | undefined;

  #internals: ElementInternals | undefined;
  /** Whether parts are being called because it has left. */
  #leaving = false;

  constructor(
    readonly host: HTMLElement,
    readonly plan: Plan,
    /** Development: those of the driver that this one replaces, since they can be attached only once. */
    internals?: ElementInternals,
  ) {
    if (__DEV__) this.#internals = internals;
  }

  static {
    if (__DEV__)
      Object.defineProperty(this.prototype, 'attached', {
        get(this: Life) {
          return this.#internals;
        },
      });
  }

  abstract readonly stale: number;

  abstract changed(bits: number): void;

  abstract look(): unknown;

  /** Creates the view. */
  abstract assemble(): void;

  /** Updates the view. */
  update(): void {
    this.assemble();
  }

  /** Gives the root its style sheets for the element's document. */
  adoptSheets(): void {}

  getInternals(): ElementInternals {
    return (this.#internals ??= this.host.attachInternals());
  }

  connect(): void {
    // An attribute that a release sets makes the platform call what it has queued (HTML §4.13.6): of an element that
    // was moved, that is this.
    if (this.#leaving) return void this.connections++;
    // A call on the way may have removed or connected the element.
    if (this.shown || !this.host.isConnected) return;
    const connection = ++this.connections;
    if (!this.assembled) {
      this.run('prepare');
      if (this.connections !== connection || !this.host.isConnected) return;
    }
    this.shown = true;
    if (__DEV__)
      trace({ kind: 'hook', host: this.host, name: this.assembled ? 'reconnected' : 'connected for the first time' });
    // Current values are shown before hooks are called.
    if (this.assembled) this.update();
    else {
      this.assembled = true;
      this.assemble();
      this.#runWhile(connection, 'assemble');
    }
    this.#runWhile(connection, 'connect');
  }

  disconnect(): void {
    if (!this.shown) return;
    if (__DEV__) trace({ kind: 'hook', host: this.host, name: 'left the document' });
    this.shown = false;
    const { connections } = this;
    this.#leaving = true;
    this.left();
    this.run('disconnect');
    this.#leaving = false;
    // It has come back meanwhile.
    if (this.connections !== connections) this.connect();
  }

  /** Called when the element has left the document, before its parts are called. */
  left(): void {}

  adopt(from: Document, to: Document): void {
    if (this.assembled) this.adoptSheets();
    this.run('adopt', from, to);
  }

  /** Calls the parts at a moment. */
  run<M extends Moment>(moment: M, ...args: Given<M>): void {
    for (const part of this.plan.parts) (part[moment] as Step<this> | undefined)?.(this, ...args);
  }

  /** The same, while the element stays connected as it was. */
  #runWhile(connection: number, moment: 'assemble' | 'connect'): void {
    for (const part of this.plan.parts)
      if (this.shown && this.connections === connection) (part[moment] as Step<this> | undefined)?.(this);
  }
}
