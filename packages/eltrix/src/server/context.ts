/** What one rendering goes by: options, known elements, what went wrong, and what was read. */
import type { Driver } from '../element/driver.ts';
import { listening } from '../signals/flags.ts';
import { type Member, state } from '../signals/state.ts';
import type { AwaitedRequests } from './awaited-requests.ts';
import type { ElementClass } from './host.ts';
import { knownElements, type RenderedElements } from './known-elements.ts';
import { RenderError, renderError } from './render-error.ts';
import type { StyleOptions } from './styles.ts';

export interface RenderOptions extends StyleOptions {
  /** Element classes that are rendered, beside those whose modules have been imported and call `define()`. */
  readonly elements?: RenderedElements;
  /**
   * Takes what went wrong: the expression shows nothing then, and an element without a view is left to the browser.
   * Without it the first error is thrown. A value that would run code never throws: it is omitted and logged.
   */
  readonly onError?: (error: Error) => void;
  /**
   * How long answers to `request()` are awaited, in milliseconds. They are sent along as data, so that the browser does not
   * ask again. Without it, and for what takes longer, the pending view is written. What renders returns a promise then.
   */
  readonly wait?: number;
}

/** Where an expression stands: in an attribute or between tags of a line of markup, or in words. */
export type Where = string | { readonly line: number; readonly name?: string };

const placeText = (where: Where) =>
  typeof where === 'string'
    ? where
    : `${where.name === undefined ? '' : ` in "${where.name}",`} in line ${where.line} of its markup`;

/** Whose markup is written. */
export interface Owner {
  /** The tag that messages name. */
  readonly tag: string;
  /** Undefined outside elements. */
  readonly driver: Driver | undefined;
  /** The element around what is written, over shadow roots. */
  readonly parent: object | undefined;
  /** Takes the children that the page gave for a slot; only for an element without a shadow root. */
  readonly take?: ((slot: string) => readonly Child[] | undefined) | undefined;
}

/** A child of an element, written where it belongs. */
export interface Child {
  readonly slot: string;
  readonly isElement: boolean;
  /** Whether it is nothing but white space. */
  readonly isBlank: boolean;
  /** @param parent the element that it stands in. */
  write(parent: object | undefined): Writing | undefined;
}

/** Whether parts of HTML are white space only; what is more than text counts. */
export const areBlank = (parts: readonly unknown[]): boolean =>
  parts.every(part => typeof part === 'string' && /^\s*$/.test(part));

/** Writes, and yields what there is from time to time where something takes it. */
export type Writing = Generator<string, void, undefined>;

/** Reads for one expression. */
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
  /** Links to what was read, kept while answers are awaited. */
  readonly #kept: Member[] = [];
  /** What has read before, and is free again. */
  #spare: Reader | undefined;

  constructor(
    readonly options: RenderOptions,
    /** What is awaited, if anything is. */
    readonly awaited?: AwaitedRequests,
  ) {
    this.known = knownElements(options.elements);
  }

  failed(error: RenderError): void {
    const { onError } = this.options;
    if (!onError) throw error;
    onError(error);
  }

  /** Data must not end a response: values that would run code are omitted and logged. */
  refused({ tag }: Owner, reason: string): void {
    const error = new RenderError('unsafe-value', tag, `<${tag || 'markup'}>: ${reason} Nothing was written.`);
    const { onError } = this.options;
    if (onError) onError(error);
    else console.error(error.message);
  }

  /** The value of an expression: of a function, what it returns. */
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

  /** Runs a function as a binding of the element would: what is followed only while somebody reads it begins. */
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

  /** Stops following what was read. */
  end(): void {
    for (const reading of this.#kept.splice(0)) state.graph!.unlink(reading);
  }
}
