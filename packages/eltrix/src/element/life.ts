/** The states that an element goes through, and the parts that are called on the way. */
import { trace } from '../signals/trace.ts';
import type { Living, Part, Plan } from './plan.ts';
import type { ConnectionScope } from './scope.ts';

type Moment = 'construct' | 'attributeChanged' | 'prepare' | 'move' | 'adopt' | 'disconnect';
type Step<C> = (core: C, ...args: unknown[]) => void;
type Given<M extends Moment> = Required<Part<Living>>[M] extends (core: Living, ...args: infer A) => void ? A : never;

export abstract class Life implements Living {
  shown = false;
  assembled = false;
  connections = 0;

  declare scope?: ConnectionScope | undefined;
  declare calledConnected?: boolean;
  declare noted?: (bits: number) => void;
  /** Development: what another driver of the same element needs. */
  declare readonly attached: ElementInternals | undefined;

  #internals: ElementInternals | undefined;

  constructor(
    readonly host: HTMLElement,
    readonly plan: Plan,
    /** Development: of the one that this one replaces, since they can be attached once only. */
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

  /** Makes the view. */
  abstract assemble(): void;

  /** Brings the view up to date. */
  update(): void {
    this.assemble();
  }

  /** Gives the root its sheets for the document that the element is in. */
  adoptSheets(): void {}

  getInternals(): ElementInternals {
    return (this.#internals ??= this.host.attachInternals());
  }

  connect(): void {
    // Something called on the way here may have removed or connected it.
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
    this.left();
    this.run('disconnect');
  }

  /** It has left the document, and nothing was called yet. */
  left(): void {}

  adopt(from: Document, to: Document): void {
    if (this.assembled) this.adoptSheets();
    this.run('adopt', from, to);
  }

  /** Calls what parts have to do at a moment. */
  run<M extends Moment>(moment: M, ...args: Given<M>): void {
    for (const part of this.plan.parts) (part[moment] as Step<this> | undefined)?.(this, ...args);
  }

  /** The same as long as it is as it was put into the document then. */
  #runWhile(connection: number, moment: 'assemble' | 'connect'): void {
    for (const part of this.plan.parts)
      if (this.shown && this.connections === connection) (part[moment] as Step<this> | undefined)?.(this);
  }
}
