/** The text of a page, with its places, and the findings in it. */
import type { Edit, Finding } from '../../project/finding.ts';
import type { Element } from './parsed-page.ts';
import type { KnownElement, Vocabulary } from './vocabulary.ts';

/** Where an attribute stands, as offsets: its whole, and its value's text without quotes. */
export interface AttributePlace {
  readonly start: number;
  readonly end: number;
  readonly value: number;
  readonly quote: string;
}

/** What is asked of a vocabulary again and again. */
interface Known {
  readonly tags: readonly string[];
  readonly events: ReadonlySet<string>;
  /** Custom properties of all elements. */
  readonly properties: ReadonlySet<string>;
}

const knownOf = new WeakMap<Vocabulary, Known>();

function know(vocabulary: Vocabulary): Known {
  let known = knownOf.get(vocabulary);
  if (!known) {
    const all = [...vocabulary.values()];
    known = {
      tags: all.map(({ tag }) => tag),
      events: new Set(all.flatMap(({ events }) => [...events.keys()])),
      properties: new Set(all.flatMap(({ properties }) => [...properties])),
    };
    knownOf.set(vocabulary, known);
  }
  return known;
}

export class PageText {
  readonly findings: Finding[] = [];
  readonly all: Known;
  #lines: number[] | undefined;

  /** @param isSource whether it is markup in a source, whose handlers are functions and whose parts are an element's own. */
  constructor(
    readonly file: string,
    readonly text: string,
    readonly vocabulary: Vocabulary,
    readonly isSource: boolean,
  ) {
    this.all = know(vocabulary);
  }

  /** The element that a tag, or its `is`, stands for. */
  known({ tagName, attrs }: Element): KnownElement | undefined {
    // Most elements have no attributes that say anything.
    const is = attrs.length > 0 ? attrs.find(({ name }) => name === 'is')?.value : undefined;
    const known = this.vocabulary.get(is ?? tagName);
    return known && known.extends === (is === undefined ? undefined : tagName) ? known : undefined;
  }

  report(code: string, message: string, offset: number, edits?: readonly Edit[]): void {
    const lines = this.#starts();
    let [low, high] = [0, lines.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (lines[middle]! <= offset) low = middle;
      else high = middle - 1;
    }
    const place = { file: this.file, line: low + 1, column: offset - lines[low]! + 1 };
    this.findings.push({ code, message, ...place, ...(edits ? { edits } : {}) });
  }

  /** Where lines begin; asked for once something is found. */
  #starts(): readonly number[] {
    if (!this.#lines) {
      this.#lines = [0];
      for (let at = this.text.indexOf('\n'); at >= 0; at = this.text.indexOf('\n', at + 1)) this.#lines.push(at + 1);
    }
    return this.#lines;
  }

  start(element: Element): number {
    return element.sourceCodeLocation?.startOffset ?? 0;
  }

  attribute(element: Element, name: string): AttributePlace {
    const at = element.sourceCodeLocation?.attrs?.[name];
    if (!at) return { start: this.start(element), end: this.start(element), value: this.start(element), quote: '' };
    const written = this.text.slice(at.startOffset, at.endOffset);
    const [lead = written, quote = ''] = /^[^=]*=\s*(["']?)/.exec(written) ?? [];
    return { start: at.startOffset, end: at.endOffset, value: at.startOffset + lead.length, quote };
  }

  /** An offset in an attribute's value as it is read, in the text as it is written: entities are longer. */
  inValue(element: Element, name: string, offset: number): number {
    const { value, end, quote } = this.attribute(element, name);
    const written = this.text.slice(value, end - quote.length);
    let at = 0;
    for (let read = 0; read < offset && at < written.length; read++) {
      const entity = /^&(?:#\d+|#x[\da-f]+|\w+);?/i.exec(written.slice(at));
      at += entity?.[0].length ?? 1;
    }
    return value + at;
  }

  /** The edit that gives an attribute another value, or takes it away for null. */
  valueEdit({ start, end, value, quote }: AttributePlace, instead: string | null): Edit {
    if (instead !== null) return { start: value, end: end - quote.length, text: instead };
    const before = /\s*$/.exec(this.text.slice(0, start))![0].length;
    return { start: start - before, end, text: '' };
  }
}

/** "use mood" as the end of a sentence about something that is going to be removed. */
export const instead = (deprecated: string): string => `it is deprecated: ${deprecated.replace(/\.$/, '')}.`;
