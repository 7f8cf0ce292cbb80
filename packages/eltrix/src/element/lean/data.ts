/**
 * Static elements with properties that have no attribute. Their values may be objects with dependencies inside (a
 * record of `live`, another element), so the graph tracks what the view reads: the view is one reaction.
 */
import { listening } from '../../signals/flags.ts';
import { needGraph } from '../../signals/least.ts';
import { type Followed, type Holder, type Home, keyOf, type Member, state, untracked } from '../../signals/state.ts';
import type { Ability, Callbacks, LeanHome } from './ability.ts';
import { type Expression, evaluate } from './expressions.ts';

/** The view of one element, and the values of its properties. */
export class ViewReaction implements Member, Home, Holder {
  readonly home: Home;
  readonly values: unknown[] = [];
  flags = listening;
  mask = 0;
  /** Whether anything has changed, the element knows. */
  readonly stale = 1;
  sources: Member['sources'] = undefined;
  tail: Member['tail'] = undefined;
  declare outside?: Home['outside'];
  declare held?: Holder['held'];
  declare weak?: Home['weak'];
  declare followers?: Followed['followers'];

  constructor(
    readonly host: HTMLElement,
    readonly show: Callbacks['attributeChangedCallback'],
    readonly update: Callbacks['connectedCallback'],
    life: LeanHome | undefined,
  ) {
    this.home = life ?? this;
    if (life) life.view = this;
  }

  get shown(): boolean {
    return this.host.isConnected;
  }

  look(): void {
    this.update.call(this.host);
  }

  /** Updates the view in a microtask, as after a change of an attribute. */
  changed(): void {
    this.show.call(this.host);
  }

  react(): void {
    this.changed();
  }
}

const views = new WeakMap<object, ViewReaction>();

export const viewOf = (host: object): ViewReaction => views.get(host)!;

/** The view as one expression, which depends on all that its expressions read. */
export function followed(host: HTMLElement, expressions: readonly (Expression | undefined)[]): Expression {
  const view = viewOf(host);
  return () => {
    state.graph!.evaluate(view, () => evaluate(expressions, host));
    // The element was disconnected on the way, and follows nothing until it is connected.
    if (!view.home.shown) view.changed();
  };
}

/** Makes the initial value of a property. */
export interface Maker {
  (): unknown;
  /** What reading returns for a value, and what is kept of an assigned one. */
  readonly given?: (value: unknown) => unknown;
  readonly taken?: (value: unknown) => unknown;
}

/**
 * @param makers the functions that make the initial values, by property.
 * @param more what else it has.
 */
export function withData(makers: Readonly<Record<string, Maker>>, more?: Ability): Ability {
  const names = Object.keys(makers);
  let show: Callbacks['attributeChangedCallback'];
  let update: Callbacks['connectedCallback'];
  return {
    begin(host, Class) {
      needGraph();
      const view = new ViewReaction(host, show, update, more?.begin(host, Class));
      views.set(host, view);
      return view;
    },
    extend(Class, members) {
      const { prototype } = Class;
      show = prototype.attributeChangedCallback;
      update = prototype.connectedCallback;
      for (const name of names) {
        const index = members.push([name]) - 1;
        const key = keyOf(index);
        const make = makers[name]!;
        Object.defineProperty(prototype, name, {
          get(this: object) {
            const view = viewOf(this);
            const { values } = view;
            if (state.active) state.graph!.read(view, key);
            if (!(index in values)) values[index] = untracked(make);
            return make.given ? make.given(values[index]) : values[index];
          },
          set(this: object, assigned) {
            const view = viewOf(this);
            const { values } = view;
            const value = make.taken ? make.taken(assigned) : assigned;
            state.graph!.refuseInComputed();
            if (index in values && Object.is(values[index], value)) return;
            values[index] = value;
            view.home.changed(1 << key);
            state.graph!.wrote(view, key);
          },
          enumerable: true,
          configurable: true,
        });
      }
      return class extends (more?.extend(Class, members) ?? Class) {
        override disconnectedCallback() {
          const view = viewOf(this);
          const { home } = view;
          // What it depends on may change meanwhile.
          if (home.outside) view.changed();
          state.graph!.leave(home);
          super.disconnectedCallback();
        }
      };
    },
  };
}
