/** The text of a page, with positions, and its findings. */

import { html } from 'parse5';
import { attributeOf } from '../../project/attribute-of.ts';
import type { Edit, Finding } from '../../project/finding.ts';
import { positionsIn, type TextPosition } from '../../project/text-position.ts';
import type { Element } from './parsed-page.ts';
import type { KnownElement, Vocabulary } from './vocabulary.ts';

/** The offsets of an attribute: as a whole, and of its value without quotes. */
export interface AttributePlace {
  readonly start: number;
  readonly end: number;
  readonly value: number;
  readonly quote: string;
}

/** Cached facts of a vocabulary. */
interface Known {
  readonly tags: readonly string[];
  readonly events: ReadonlySet<string>;
  /** Custom properties of all elements. */
  readonly properties: ReadonlySet<string>;
  /** Tags by their letters without hyphens. */
  readonly joined: ReadonlyMap<string, string>;
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
      joined: new Map(all.map(({ tag }) => [tag.replaceAll('-', ''), tag])),
    };
    knownOf.set(vocabulary, known);
  }
  return known;
}

export class PageText {
  readonly findings: Finding[] = [];
  readonly all: Known;
  readonly #position: (offset: number) => TextPosition;

  /**
   * @param isSource whether it is markup in a source, whose handlers are functions and whose parts belong to the
   * element.
   */
  constructor(
    readonly file: string,
    readonly text: string,
    readonly vocabulary: Vocabulary,
    readonly isSource: boolean,
  ) {
    this.all = know(vocabulary);
    this.#position = positionsIn(text);
  }

  /** The element of a tag, or of its `is` attribute. */
  known(element: Element): KnownElement | undefined {
    const { tagName } = element;
    if (element.namespaceURI !== html.NS.HTML) return undefined;
    const is = attributeOf(element, 'is');
    const known = this.vocabulary.get(is ?? tagName);
    return known && known.extends === (is === undefined ? undefined : tagName) ? known : undefined;
  }

  report(code: string, message: string, offset: number, edits?: readonly Edit[]): void {
    const place = { file: this.file, ...this.#position(offset) };
    this.findings.push({ code, message, ...place, ...(edits ? { edits } : {}) });
  }

  /** The first tag of the vocabulary in text that the parser has not taken for tags. */
  tagIn(text: string): string | undefined {
    for (const [, name] of text.matchAll(/<\/?([a-z][^\s/>]*)/gi))
      if (this.vocabulary.has(name!.toLowerCase())) return name!.toLowerCase();
    return undefined;
  }

  start(element: Element): number {
    return element.sourceCodeLocation?.startOffset ?? 0;
  }

  /** An element's start tag as it is written; empty if the parser has added it. */
  startTag({ sourceCodeLocation: at }: Element): string {
    return at?.startTag ? this.text.slice(at.startTag.startOffset, at.startTag.endOffset) : '';
  }

  attribute(element: Element, name: string): AttributePlace {
    const at = element.sourceCodeLocation?.attrs?.[name];
    if (!at) return { start: this.start(element), end: this.start(element), value: this.start(element), quote: '' };
    const written = this.text.slice(at.startOffset, at.endOffset);
    const [lead = written, quote = ''] = /^[^=]*=\s*(["']?)/.exec(written) ?? [];
    return { start: at.startOffset, end: at.endOffset, value: at.startOffset + lead.length, quote };
  }

  /** Converts an offset in an attribute's value to an offset in the source: references and CRLF are longer there. */
  inValue(element: Element, name: string, offset: number): number {
    const { value, end, quote } = this.attribute(element, name);
    const written = this.text.slice(value, end - quote.length);
    let at = 0;
    for (let read = 0; read < offset && at < written.length; read++) {
      const longer = /^(?:\r\n|&(?:#\d+|#x[\da-f]+|\w+);?)/i.exec(written.slice(at));
      at += longer?.[0].length ?? 1;
    }
    return value + at;
  }

  /** The edit that sets an attribute to another value, or removes it for null. */
  valueEdit({ start, end, value, quote }: AttributePlace, instead: string | null): Edit {
    if (instead !== null) return { start: value, end: end - quote.length, text: instead };
    const before = /\s*$/.exec(this.text.slice(0, start))![0].length;
    return { start: start - before, end, text: '' };
  }
}

/** The replacement for a deprecated feature, as the end of a sentence. */
export const instead = (deprecated: string): string => `it is deprecated: ${deprecated.replace(/\.$/, '')}.`;
