/** Checks every use of an element in a page, or a part of one, against what the element declares. */
import { type DefaultTreeAdapterTypes, parse, parseFragment } from 'parse5';
import { byPlace, type Edit, type Finding } from '../../project/finding.ts';
import { isGlobal, platformEvents } from '../../project/html-names.ts';
import { nearest } from '../../project/nearest.ts';
import { loadedTags } from './scripts.ts';
import { valueProblem } from './values.ts';
import type { KnownAttribute, KnownElement, KnownSlot, Vocabulary } from './vocabulary.ts';

type Node = DefaultTreeAdapterTypes.ChildNode;
type Element = DefaultTreeAdapterTypes.Element;
type Parent = { readonly childNodes: Node[] };

/** Stands for what is not known: the holes of markup in a source. Nothing is said of values and names with it. */
export const hole = '\uE000';

/** What forms give to elements that take part in them. */
const formAttributes = new Set(['name', 'form', 'disabled', 'readonly', 'required']);

/**
 * @param file what findings call it.
 * @param text a whole page, or a fragment of one.
 */
export function checkPage(file: string, text: string, vocabulary: Vocabulary): Finding[] {
  const isPage = /<(?:!doctype|html|head|body)\b/i.test(text);
  const options = { sourceCodeLocationInfo: true } as const;
  const check = new PageCheck(file, text, vocabulary);
  return check.run(isPage ? parse(text, options) : parseFragment(text, options), isPage);
}

/** The same for a fragment that was parsed already, with its places. */
export function checkFragment(file: string, text: string, root: Parent, vocabulary: Vocabulary): Finding[] {
  return new PageCheck(file, text, vocabulary).run(root, false);
}

/** What is asked of a vocabulary again and again. */
interface Known {
  readonly prefixes: ReadonlySet<string>;
  readonly tags: readonly string[];
  readonly events: ReadonlySet<string>;
  readonly plain: ReadonlyMap<string, KnownElement>;
}

const knownOf = new WeakMap<Vocabulary, Known>();

function know(vocabulary: Vocabulary): Known {
  let known = knownOf.get(vocabulary);
  if (!known) {
    const tags = [...vocabulary.keys()];
    known = {
      tags,
      prefixes: new Set(tags.map(tag => tag.slice(0, tag.indexOf('-') + 1))),
      events: new Set([...vocabulary.values()].flatMap(({ events }) => [...events])),
      plain: new Map([...vocabulary].filter(([, { extends: base }]) => base === undefined)),
    };
    knownOf.set(vocabulary, known);
  }
  return known;
}

class PageCheck {
  readonly findings: Finding[] = [];
  readonly #known: Known;
  readonly #ids = new Map<string, { element: Element; near: boolean }>();
  readonly #used = new Map<string, Element>();
  readonly #scripts: Element[] = [];
  #lines: number[] | undefined;

  constructor(
    readonly file: string,
    readonly text: string,
    readonly vocabulary: Vocabulary,
  ) {
    this.#known = know(vocabulary);
  }

  /** Where lines begin; asked for once something is found. */
  get lines(): readonly number[] {
    if (!this.#lines) {
      this.#lines = [0];
      for (let at = this.text.indexOf('\n'); at >= 0; at = this.text.indexOf('\n', at + 1)) this.#lines.push(at + 1);
    }
    return this.#lines;
  }

  run(root: Parent, isPage: boolean): Finding[] {
    this.visit(root, false);
    if (isPage) this.checkScripts();
    return this.findings.sort(byPlace);
  }

  visit(parent: Parent, inside: boolean): void {
    for (const node of parent.childNodes) {
      if (!('tagName' in node)) continue;
      if (node.tagName === 'script') this.#scripts.push(node);
      const { attrs } = node;
      // Most elements have no attributes that say anything.
      const is = attrs.length > 0 ? attrs.find(({ name }) => name === 'is')?.value : undefined;
      const known = is === undefined ? this.#known.plain.get(node.tagName) : this.known(node, is);
      if (known) {
        if (!this.#used.has(known.tag)) this.#used.set(known.tag, node);
        this.checkAttributes(node, known);
        if (known.slots) this.checkContent(node, known, known.slots);
      } else if (node.tagName.includes('-')) this.checkTag(node);
      if (attrs.length > 0) this.checkId(node, inside || known !== undefined);
      this.visit(node, inside || known !== undefined);
      if ('content' in node) this.visit((node as DefaultTreeAdapterTypes.Template).content, false);
    }
  }

  /** A customized built-in element. */
  known(element: Element, is: string): KnownElement | undefined {
    const known = this.vocabulary.get(is);
    return known?.extends === element.tagName ? known : undefined;
  }

  // Places.

  tell(code: string, message: string, offset: number, edits?: readonly Edit[]): void {
    const { lines } = this;
    let [low, high] = [0, lines.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (lines[middle]! <= offset) low = middle;
      else high = middle - 1;
    }
    const place = { file: this.file, line: low + 1, column: offset - lines[low]! + 1 };
    this.findings.push({ code, message, ...place, ...(edits ? { edits } : {}) });
  }

  start(element: Element): number {
    return element.sourceCodeLocation?.startOffset ?? 0;
  }

  /** Where an attribute stands: its whole, and its value's text without quotes. */
  attribute(element: Element, name: string): { start: number; end: number; value: number; quote: string } {
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

  // Rules.

  checkTag(element: Element): void {
    const { tagName: tag, namespaceURI } = element;
    if (!namespaceURI.endsWith('xhtml')) return;
    const prefix = tag.slice(0, tag.indexOf('-') + 1);
    const near = nearest(tag, this.#known.tags);
    if (near === undefined && !this.#known.prefixes.has(prefix)) return;
    if (near !== undefined && !this.#known.prefixes.has(prefix) && !near.endsWith(tag.slice(tag.indexOf('-')))) return;
    const offset = this.start(element);
    const end = element.sourceCodeLocation?.endTag;
    this.tell(
      'tag-unknown',
      `There is no element <${tag}>, so the page shows nothing of it.${
        near
          ? ` Did you mean <${near}>?`
          : ` There are ${this.#known.tags
              .slice(0, 8)
              .map(name => `<${name}>`)
              .join(', ')}.`
      }`,
      offset,
      near
        ? [
            { start: offset + 1, end: offset + 1 + tag.length, text: near },
            ...(end ? [{ start: end.startOffset + 2, end: end.startOffset + 2 + tag.length, text: near }] : []),
          ]
        : undefined,
    );
  }

  checkAttributes(element: Element, known: KnownElement): void {
    for (const { name, value } of element.attrs) {
      const declared = known.attributes.get(name);
      if (declared) this.checkValue(element, declared, value);
      else if (/^on[a-z]/.test(name)) this.checkHandler(element, known, name);
      else if (!isGlobal(name) && !name.startsWith('xml') && /^[a-z]/.test(name)) this.checkName(element, known, name);
    }
  }

  checkName(element: Element, known: KnownElement, name: string): void {
    if (known.form && formAttributes.has(name)) return;
    if (known.extends !== undefined) return;
    const names = [...known.attributes.keys()];
    const near = nearest(name, names) ?? names.find(other => other.replaceAll('-', '') === name.replaceAll('-', ''));
    const { start } = this.attribute(element, name);
    const have = names.length > 0 ? `It has ${names.join(', ')}.` : 'It has none.';
    this.tell(
      'attribute-unknown',
      `<${known.tag}> has no attribute "${name}".${near ? ` Did you mean "${near}"?` : ` ${have}`}`,
      start,
      near && !element.attrs.some(other => other.name === near)
        ? [{ start, end: start + name.length, text: near }]
        : undefined,
    );
  }

  checkValue(element: Element, declared: KnownAttribute, value: string): void {
    if (value.includes(hole)) return;
    const problem = valueProblem(declared, value);
    if (!problem) return;
    const { code, message, offset, instead } = problem;
    const at = this.attribute(element, declared.name);
    const place = offset === undefined ? at.start : this.inValue(element, declared.name, offset);
    const edit = this.valueEdit(at, instead);
    this.tell(code, `<${element.tagName}>: ${message}`, place, edit && [edit]);
  }

  valueEdit(at: ReturnType<PageCheck['attribute']>, instead: string | null | undefined): Edit | undefined {
    if (instead === undefined) return undefined;
    if (instead === null) {
      const before = /\s*$/.exec(this.text.slice(0, at.start))![0].length;
      return { start: at.start - before, end: at.end, text: '' };
    }
    return { start: at.value, end: at.end - at.quote.length, text: instead };
  }

  checkHandler(element: Element, { tag, events }: KnownElement, name: string): void {
    const type = name.slice(2);
    // What elements inside send bubbles, too.
    if (events.has(type) || platformEvents.has(type) || this.#known.events.has(type)) return;
    const near = nearest(type, events);
    const { start } = this.attribute(element, name);
    const sends = events.size > 0 ? ` It sends ${[...events].join(', ')}.` : ' It declares no events.';
    this.tell(
      'event-unknown',
      `<${tag}> sends no event "${type}".${near ? ` Did you mean "${near}"?` : sends}`,
      start,
      near ? [{ start: start + 2, end: start + name.length, text: near }] : undefined,
    );
  }

  checkContent(element: Element, { tag }: KnownElement, slots: ReadonlyMap<string, KnownSlot>): void {
    const filled = new Set<string>();
    const names = [...slots.keys()].filter(Boolean);
    let loose: Node | undefined;
    for (const child of element.childNodes) {
      if (child.nodeName === '#comment' || (child.nodeName === 'template' && isRoot(child as Element))) continue;
      if (!('tagName' in child)) {
        const text = (child as { value?: string }).value?.trim() ?? '';
        if (text.replaceAll(hole, '').trim()) loose ??= child;
        else if (text) filled.add('');
        continue;
      }
      const slot = child.attrs.find(({ name }) => name === 'slot')?.value ?? '';
      const declared = slots.get(slot);
      if (declared) {
        filled.add(slot);
        this.checkAccepted(child, declared, tag);
      } else if (slot.includes(hole) || child.attrs.some(({ name }) => name.includes(hole))) continue;
      else if (slot === '') loose ??= child;
      else {
        const near = nearest(slot, names);
        const at = this.attribute(child, 'slot');
        this.tell(
          'slot-unknown',
          `<${tag}> has no slot "${slot}", so this is not shown.${near ? ` Did you mean "${near}"?` : names.length > 0 ? ` It has ${names.map(name => `"${name}"`).join(', ')}.` : ''}`,
          at.start,
          near ? [{ start: at.value, end: at.end - at.quote.length, text: near }] : undefined,
        );
      }
    }
    if (loose && slots.has('')) filled.add('');
    else if (loose) {
      const has =
        names.length > 0
          ? `Give it a slot: ${names.map(name => `slot="${name}"`).join(' or ')}.`
          : 'It takes no content.';
      this.tell(
        'slot-loose',
        `<${tag}> has no default slot, so ${loose.nodeName === '#text' ? 'this text' : `this <${loose.nodeName}>`} is not shown. ${has}`,
        textStart(loose, this.text),
      );
    }
    for (const { name, required } of slots.values()) {
      if (!required || filled.has(name)) continue;
      this.tell(
        'slot-required',
        `<${tag}> needs something in its ${name ? `slot "${name}": give it a child with slot="${name}"` : 'default slot: give it content'}.`,
        this.start(element),
      );
    }
  }

  /** `accepts` is a list of selectors; of those that are no plain tags nothing is said. */
  checkAccepted(child: Element, { accepts, name }: KnownSlot, tag: string): void {
    if (accepts === undefined) return;
    const tags = accepts.split(',').map(selector => selector.trim());
    if (!tags.every(selector => /^[a-z][\w.-]*$/i.test(selector)) || tags.includes(child.tagName)) return;
    this.tell(
      'slot-accepts',
      `<${tag}> takes ${tags.map(accepted => `<${accepted}>`).join(' or ')} in its ${name ? `slot "${name}"` : 'default slot'}, and this is <${child.tagName}>.`,
      this.start(child),
    );
  }

  /** Slotted content stands in the page's tree, so its ids have to differ as well (DOM §4.9). */
  checkId(element: Element, near: boolean): void {
    const id = element.attrs.find(({ name }) => name === 'id')?.value;
    if (!id) return;
    const first = this.#ids.get(id);
    if (!first) {
      this.#ids.set(id, { element, near });
      return;
    }
    if (!near && !first.near) return;
    const line = first.element.sourceCodeLocation?.startLine ?? 1;
    this.tell(
      'id-twice',
      `The id "${id}" is there already, on line ${line}. What an element takes into its slots stays in the page's tree, so ids have to differ.`,
      this.attribute(element, 'id').start,
    );
  }

  checkScripts(): void {
    const loaded = loadedTags(this.#scripts, this.#known.tags);
    if (!loaded) return;
    for (const [tag, element] of this.#used) {
      if (loaded.has(tag)) continue;
      this.tell(
        'script-missing',
        `No script of this page defines <${tag}>. Add <script type="module" src="${tag}.js"></script>, with the path of the built file.`,
        this.start(element),
      );
    }
  }
}

function isRoot(template: Element): boolean {
  return template.attrs.some(({ name }) => name === 'shadowrootmode');
}

function textStart(node: Node, text: string): number {
  const offset = node.sourceCodeLocation?.startOffset ?? 0;
  return offset + /^\s*/.exec(text.slice(offset))![0].length;
}
