/** The state of one rendering: options, known elements, errors, dependencies. */
import type { Driver } from '../element/driver.ts';
import { listening } from '../signals/flags.ts';
import { type Member, state } from '../signals/state.ts';
import type { AwaitedRequests } from './awaited-requests.ts';
import { type ElementClass, makeAncestor } from './host.ts';
import { knownElements, type RenderedElements } from './known-elements.ts';
import { RenderError, renderError } from './render-error.ts';
import type { StyleOptions } from './styles.ts';

export interface RenderOptions extends StyleOptions {
  /** Element classes to render, besides those whose modules call `define()`. */
  readonly elements?: RenderedElements | undefined;
  /**
   * Receives errors: the expression then renders nothing, and an element without a view is left to the browser.
   * Without it the first error is thrown. A value that would run code never throws: it is omitted and logged.
   */
  readonly onError?: ((error: Error) => void) | undefined;
  /**
   * How long answers to `request()` are awaited, in milliseconds. They are sent as data, so that the browser does not
   * request them again. Unanswered requests render their pending view. With this option rendering returns a promise.
   */
  readonly wait?: number | undefined;
  /** The language around what is rendered, a BCP 47 tag: for elements and markup that are put into a page later. */
  readonly lang?: string | undefined;
  /** The direction around what is rendered. */
  readonly dir?: 'ltr' | 'rtl' | undefined;
}

/** The position of an expression: attribute or content, with the line of its markup, or a description. */
export type Where = string | { readonly line: number; readonly name?: string };

const placeText = (where: Where) =>
  typeof where === 'string'
    ? where
    : `${where.name === undefined ? '' : ` in "${where.name}",`} in line ${where.line} of its markup`;

/** The owner of the markup. */
export interface Owner {
  /** The tag in messages. */
  readonly tag: string;
  /** Undefined outside elements. */
  readonly driver: Driver | undefined;
  /** The parent element, across shadow roots. */
  readonly parent: object | undefined;
  /** Returns the content of a slot; only for an element without a shadow root. */
  readonly take?: ((slot: string) => readonly Child[] | undefined) | undefined;
}

/** A child of an element, rendered in its slot. */
export interface Child {
  readonly slot: string;
  readonly isElement: boolean;
  /** Whether it is white space only. */
  readonly isBlank: boolean;
  /** @param parent the parent element. */
  write(parent: object | undefined): Writing | undefined;
}

/** Whether a node is white space only; elements are not. */
export const areBlank = (parts: readonly unknown[]): boolean =>
  parts.every(part => typeof part === 'string' && /^\s*$/.test(part));

/** Writes HTML. A generator, which yields where a stream may send the output. */
export type Writing = Generator<string, void, undefined>;

/** The target that reads for one expression. */
class Reader implements Member {
  flags = listening;
  mask = 0;
  sources: Member['sources'] = undefined;
  tail: Member['tail'] = undefined;
  home!: Driver;
  react() {}
}

export class RenderContext {
  readonly known: ReadonlyMap<string, ElementClass>;
  /** The parent of what is rendered. */
  readonly around: object | undefined;
  /** Links to sources, kept while answers are awaited. */
  readonly #kept: Member[] = [];
  /** Unused readers. */
  #spare: Reader | undefined;

  constructor(
    readonly options: RenderOptions,
    /** The requests to await, if rendering waits. */
    readonly awaited?: AwaitedRequests,
    /** Whether it is rendered again when answers are there, which reports the errors. */
    readonly isTrial = false,
  ) {
    this.known = knownElements(options.elements);
    const { lang, dir } = options;
    const stated = Object.entries({ lang, dir }).filter((entry): entry is [string, string] => entry[1] !== undefined);
    if (stated.length > 0) this.around = makeAncestor(new Map(stated), undefined);
  }

  /** How many parts are being rendered that show something else if they fail. */
  #attempts = 0;

  /** @returns what the function returns; the error if it fails. */
  attempt<T>(render: () => T): T | RenderError {
    this.#attempts++;
    try {
      return render();
    } catch (error) {
      if (!(error instanceof RenderError)) throw error;
      return error;
    } finally {
      this.#attempts--;
    }
  }

  failed(error: RenderError): void {
    if (this.#attempts > 0) throw error;
    const { onError } = this.options;
    if (!onError) throw error;
    if (!this.isTrial) onError(error);
  }

  /** Data must not stop a response: values that would run code are omitted and logged. */
  refused({ tag }: Owner, reason: string): void {
    const error = new RenderError('unsafe-value', tag, `<${tag || 'markup'}>: ${reason} Nothing was written.`);
    this.logged(error, error.message);
  }

  /** An error that the page shows, or does not need to show. */
  logged(error: RenderError, text: unknown = error): void {
    if (this.isTrial) return;
    const { onError } = this.options;
    if (onError) onError(error);
    else console.error(text);
  }

  /** The value of an expression; for a function its result. */
  value(given: unknown, owner: Owner, where: Where): unknown {
    return typeof given === 'function' ? this.#call(given as () => unknown, owner, where) : given;
  }

  #call(given: () => unknown, { driver, tag }: Owner, where: Where): unknown {
    try {
      return driver === undefined ? given() : this.evaluate(driver, given);
    } catch (error) {
      this.failed(renderError(tag || 'markup', placeText(where), error));
      return undefined;
    }
  }

  /** Runs a function as a binding of the element would, so that values from outside are observed. */
  evaluate<T>(driver: Driver, fn: () => T): T {
    const reading = this.#spare ?? new Reader();
    this.#spare = undefined;
    reading.home = driver;
    const { requests } = state;
    state.requests = this.awaited?.of(driver);
    try {
      return state.graph!.evaluate(reading, fn);
    } finally {
      state.requests = requests;
      if (reading.sources !== undefined && this.awaited?.isOpen) this.#kept.push(reading);
      else {
        if (reading.sources !== undefined) state.graph!.unlink(reading);
        reading.flags = listening;
        this.#spare = reading;
      }
    }
  }

  /** Removes the dependencies. */
  end(): void {
    for (const reading of this.#kept.splice(0)) state.graph!.unlink(reading);
  }
}
