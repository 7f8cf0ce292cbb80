/** Writes markup and elements as HTML. Every expression is evaluated once, without subscribing. */
import { contractKey } from '../element/contract-key.ts';
import type { Driver } from '../element/driver.ts';
import type { Sent } from '../element/sent.ts';
import { asText } from '../view/as-text.ts';
import { Each } from '../view/each.ts';
import { isMarkup, type Markup } from '../view/piece.ts';
import { isLiveValue, onServer, onServerError, type Placeable } from '../view/placeable.ts';
import { closeMark, givenMark, openMark, rowMark, separator, viewMark } from '../view/sent-marks.ts';
import { join } from '../view/text-expression.ts';
import { attributeText, attributeValue } from './attribute-values.ts';
import type { Child, Owner, RenderContext, Writing } from './context.ts';
import { escapeAttribute, escapeJson, escapeText } from './escape.ts';
import { type FieldRecord, selectOptions } from './fields.ts';
import { builtIn, given } from './given.ts';
import { type ElementClass, parentInside } from './host.ts';
import { type MadeElement, makeElement } from './made-element.ts';
import { RenderError, renderError } from './render-error.ts';
import { RootTags } from './root-tags.ts';
import { type ElementStep, type Step, stepsOf } from './steps.ts';
import { styleHtml } from './styles.ts';

/** The size of the parts that are written, in characters. */
const portion = 16_384;
/** The maximum depth of nested elements: more counts as infinite recursion. */
const deepest = 200;

const noChildren: readonly Child[] = [];

/** A custom element to render. */
export interface ElementToWrite {
  readonly Class: ElementClass;
  readonly tag: string;
  readonly attributes: Map<string, string>;
  readonly properties: Readonly<Record<string, unknown>>;
  readonly children: readonly Child[];
  readonly parent: object | undefined;
  /** Its tags as in the page; created from tag and attributes otherwise. */
  readonly open?: string | undefined;
  readonly close?: string | undefined;
}

/** What can be placed: a function that is live as a value is a list of one. */
const placeable = (value: unknown): unknown => (isLiveValue(value) ? [value] : value);

export class Rendering {
  out = '';
  /** Elements without a shadow root whose style sheet was written into the current root. */
  #sheets: Set<string> | undefined;
  #depth = 0;

  readonly #roots: RootTags;

  constructor(readonly context: RenderContext) {
    this.#roots = new RootTags(context.options);
  }

  /** The output so far. Reading it flattens the string: thousands of parts would survive many garbage collections. */
  take(): string {
    const { out } = this;
    out.charCodeAt(out.length - 1);
    this.out = '';
    return out;
  }

  /** @returns a generator if a part has to wait; undefined if all is written. */
  markup(piece: Markup, owner: Owner): Writing | undefined {
    const { strings, namespace, values } = piece as Markup & Partial<Written>;
    if (strings === undefined || namespace === undefined)
      throw new RenderError(
        'render-compiled',
        owner.tag,
        `<${owner.tag}> was compiled for browsers, and its markup cannot be rendered. Import its source, or server.js of a build with "render": true.`,
      );
    return this.steps(stepsOf(strings, namespace), values, owner);
  }

  steps(steps: readonly Step[], values: readonly unknown[], owner: Owner): Writing | undefined {
    const at = this.#until(steps, values, owner, 0);
    return at === steps.length ? undefined : this.#from(steps, values, owner, at, this.#writing!);
  }

  /** The rest of the step at which `#until` stopped. */
  #writing: Writing | undefined;

  /** Writes up to the first step that has to wait. Most pieces of markup have none. */
  #until(steps: readonly Step[], values: readonly unknown[], owner: Owner, from: number): number {
    const { context } = this;
    let html = '';
    for (let at = from; at < steps.length; at++) {
      const step = steps[at]!;
      if (typeof step === 'string') html += step;
      else if (step.kind === 'content') {
        const value = placeable(context.value(values[step.expression], owner, step));
        if (typeof value === 'object' && value !== null) {
          this.out += html;
          this.#writing = this.#inside(value, owner);
          return at;
        }
        html += escapeText(asText(value));
      } else if (step.kind === 'attribute') {
        const text = attributeText(context, step, attributeValue(context, step, values, owner), owner);
        if (text !== undefined) html += this.#attribute(step.name, text);
      } else if (step.kind === 'style') html += this.#attribute('style', step.text);
      else {
        this.out += html;
        html = '';
        const writing = this.#element(step, values, owner);
        if (writing === undefined) continue;
        this.#writing = writing;
        return at;
      }
    }
    this.out += html;
    return steps.length;
  }

  *#from(steps: readonly Step[], values: readonly unknown[], owner: Owner, from: number, writing: Writing): Writing {
    yield* writing;
    for (let at = from + 1; (at = this.#until(steps, values, owner, at)) < steps.length; at++) yield* this.#writing!;
  }

  *text(text: string): Writing {
    this.out += escapeText(text);
    if (this.out.length > portion) yield this.take();
  }

  /** A value in a list or in an expression's function, between marks. */
  *content(value: unknown, owner: Owner): Writing {
    this.out += openMark;
    yield* this.#inside(value, owner);
    this.out += closeMark;
  }

  /** The output of an expression between tags. The steps have its marks. */
  *#inside(value: unknown, owner: Owner): Writing {
    value = placeable(value);
    if (isMarkup(value)) yield* this.markup(value, owner) ?? [];
    else if (value instanceof Each) yield* this.#rows(value, owner);
    else if (typeof value === 'object' && value !== null && onServer in value)
      yield* this.#placed(value as Placeable, owner);
    else if (typeof value === 'object' && value !== null && Symbol.iterator in value)
      for (const item of value as Iterable<unknown>) {
        const shown = this.context.value(item, owner, ' in a list');
        if (isMarkup(shown)) {
          this.out += openMark;
          const writing = this.markup(shown, owner);
          if (writing) yield* writing;
          this.out += closeMark;
        } else yield* this.content(shown, owner);
        if (this.out.length > portion) yield this.take();
      }
    else this.out += escapeText(asText(value));
  }

  *#placed(value: Placeable, owner: Owner): Writing {
    const { context } = this;
    const whole = () =>
      this.content(
        context.value(() => value[onServer]!(), owner, ' in the markup'),
        owner,
      );
    if (!(onServerError in value)) return yield* whole();
    // It is written when it is known to be whole.
    const before = this.take();
    const [depth, sheets] = [this.#depth, this.#sheets && new Set(this.#sheets)];
    const written = context.attempt(() => [...whole(), this.take()].join(''));
    this.out = before;
    if (typeof written === 'string') {
      this.out += written;
      return;
    }
    [this.#depth, this.#sheets] = [depth, sheets];
    context.logged(written);
    yield* this.content(
      context.value(() => value[onServerError]!(written.cause ?? written), owner, ' in the fallback of a region'),
      owner,
    );
  }

  *#rows({ items, row }: Each<unknown>, owner: Owner): Writing {
    for (let index = 0; index < items.length; index++) {
      this.out += rowMark;
      let piece: unknown;
      try {
        piece = row(
          () => items[index],
          () => index,
        );
      } catch (error) {
        this.context.failed(renderError(owner.tag, ' in a row of a list', error));
      }
      const writing = isMarkup(piece) ? this.markup(piece, owner) : undefined;
      if (writing) yield* writing;
      if (this.out.length > portion) yield this.take();
    }
  }

  /** A policy that only allows linked styles rejects `style` attributes; the script sets them. */
  #attribute(name: string, text: string): string {
    if (name === 'style' && (this.context.options.styles ?? 'inline') !== 'inline') return '';
    let before = this.#beforeValues.get(name);
    if (before === undefined) this.#beforeValues.set(name, (before = ` ${name}="`));
    return `${before}${escapeAttribute(text)}"`;
  }

  /** The start of each attribute by its name. Many elements have the same attributes. */
  readonly #beforeValues = new Map<string, string>();

  #startTag(tag: string, attributes: ReadonlyMap<string, string>): void {
    let html = `<${tag}`;
    for (const [name, text] of attributes) html += this.#attribute(name, text);
    this.out += `${html}>`;
  }

  // Elements inside markup.

  /** @returns undefined if all is written. */
  #element(step: ElementStep, values: readonly unknown[], owner: Owner): Writing | undefined {
    const { tag, is } = step;
    if (tag === 'slot' && owner.take) return this.#slot(step, values, owner);
    const Class = this.classOf(tag, is);
    const all = given(this.context, step, values, owner);
    // Those of an unknown custom element may be its own.
    const field = Class || tag.includes('-') ? undefined : builtIn(this.context, step, values, owner, all).field;
    const { attributes, properties } = all;
    // Most slots have only a name.
    if (tag === 'slot' && step.children.length === 0) {
      this.#startTag(tag, attributes);
      this.out += '</slot>';
      return undefined;
    }
    const children =
      step.children.length === 0
        ? noChildren
        : step.children.map(
            ({ slot, tag, isBlank, steps }): Child => ({
              slot,
              isElement: tag !== undefined,
              isBlank: isBlank || (tag === 'slot' && !this.#passesContent(steps[0] as ElementStep, values, owner)),
              write: parent => this.steps(steps, values, parent === owner.parent ? owner : { ...owner, parent }),
            }),
          );
    if (Class) return this.custom({ Class, tag, attributes, properties, children, parent: owner.parent });
    return this.#plain(step, values, owner, attributes, field, children);
  }

  /** Whether a slot that is passed on to another element has content, or a fallback. */
  #passesContent(step: ElementStep, values: readonly unknown[], owner: Owner): boolean {
    const name = builtIn(this.context, step, values, owner).attributes.get('name') ?? '';
    return owner.driver?.filled?.has(name) || step.children.some(({ isBlank }) => !isBlank);
  }

  /** A built-in element, or an unknown custom element. */
  *#plain(
    step: ElementStep,
    values: readonly unknown[],
    owner: Owner,
    attributes: Map<string, string>,
    field: FieldRecord | undefined,
    children: readonly Child[],
  ): Writing {
    const { tag } = step;
    const parent = parentInside(attributes, owner.parent);
    const site = step.sites.find(site => site.kind === 'text');
    const text =
      site &&
      join(
        site.statics,
        values
          .slice(site.expression, site.expression + site.count)
          .map(value => this.context.value(value, owner, ' in its text')),
      );
    this.#startTag(tag, attributes);
    const shown = field?.text ?? text;
    if (step.isVoid && shown === undefined) return;
    // The parser drops a line feed there (HTML §13.2.6.4.7).
    if (shown !== undefined)
      this.out += `${/^(?:textarea|pre)$/.test(tag) && shown.startsWith('\n') ? '\n' : ''}${escapeText(shown)}`;
    else if (field?.chosen) this.#select(children, parent, field);
    else for (const child of children) yield* child.write(parent) ?? [];
    this.out += step.close || `</${tag}>`;
  }

  #select(children: readonly Child[], parent: object | undefined, { chosen }: FieldRecord): void {
    const before = this.take();
    let inside = '';
    for (const child of children) for (const part of child.write(parent) ?? []) inside += part;
    this.out = before + selectOptions(inside + this.out, chosen!);
  }

  // Custom elements.

  /** The tags of all rendered elements. */
  tags(): string[] {
    return [...this.context.known.keys()];
  }

  /** The class of a tag, or of an `is` attribute, if it is rendered. */
  classOf(tag: string, is: string | undefined): ElementClass | undefined {
    const Class = this.context.known.get(tag.includes('-') ? tag : (is ?? ''));
    const extended = Class?.[contractKey]?.extends;
    return extended === undefined
      ? is === undefined || tag.includes('-')
        ? Class
        : undefined
      : extended === tag
        ? Class
        : undefined;
  }

  /**
   * A custom element with its view. If it cannot be rendered, it is written as in the page.
   * @returns the rest, as for markup.
   */
  custom(element: ElementToWrite): Writing | undefined {
    const { Class, tag, attributes, properties, children, parent, open } = element;
    if (this.#depth === deepest)
      throw new RenderError(
        'render-depth',
        tag,
        `<${tag}> is inside ${deepest} other elements. If it contains itself, end the recursion.`,
      );
    this.#depth++;
    const made = makeElement(this.context, Class, tag, attributes, properties, parent, children);
    if (open !== undefined) this.out += open;
    else this.#startTag(tag, attributes);
    const contract = Class[contractKey]!;
    if (!made || contract.shadow === 'none') return this.#withoutRoot(element, made);
    const { host, driver, piece } = made;
    const sheets = this.#sheets;
    this.#sheets = undefined;
    this.out += this.#roots.startOf(driver.plan, tag);
    const view = piece && this.markup(piece, { tag, driver, parent: host });
    if (!made.hasView) this.out += '<slot></slot>';
    if (view || children.length > 0) return this.#rest(element, made, view, sheets);
    this.#endRoot(made, sheets);
    return this.#end(element, made);
  }

  /** The rest of an element whose view has to wait, or that has children. */
  *#rest(
    element: ElementToWrite,
    made: MadeElement,
    view: Writing | undefined,
    sheets: Set<string> | undefined,
  ): Writing {
    if (view) yield* view;
    this.#endRoot(made, sheets);
    for (const child of element.children) yield* child.write(made.host) ?? [];
    yield* this.#end(element, made) ?? [];
  }

  #endRoot({ driver, sent }: MadeElement, sheets: Set<string> | undefined): void {
    this.out += `${closeMark}${this.#data(driver, sent)}</template>`;
    this.#sheets = sheets;
  }

  *#withoutRoot(element: ElementToWrite, made: MadeElement | undefined): Writing {
    if (made) yield* this.#light(made, element.tag, element.children);
    else {
      const parent = parentInside(element.attributes, element.parent);
      for (const child of element.children) yield* child.write(parent) ?? [];
    }
    yield* this.#end(element, made) ?? [];
  }

  #end({ tag, close = `</${tag}>` }: ElementToWrite, made: MadeElement | undefined): Writing | undefined {
    if (made) made.driver.shown = false;
    this.out += close;
    this.#depth--;
    return this.out.length > portion ? this.#handOn() : undefined;
  }

  *#handOn(): Writing {
    yield this.take();
  }

  *#light({ host, driver, piece, sent }: MadeElement, tag: string, children: readonly Child[]): Writing {
    if (piece === undefined) {
      for (const child of children) yield* child.write(host) ?? [];
      return;
    }
    const bySlot = new Map<string, Child[]>();
    for (const child of children) {
      const list = bySlot.get(child.slot);
      if (list) list.push(child);
      else bySlot.set(child.slot, [child]);
    }
    const take = (slot: string) => {
      const list = bySlot.get(slot);
      bySlot.delete(slot);
      return list;
    };
    this.out += `<!--${viewMark}-->`;
    // Without a shadow root, style sheets apply to all elements of the tag in the same root.
    const sheets = (this.#sheets ??= new Set());
    if (!sheets.has(tag)) this.out += styleHtml(driver.plan, tag, this.context.options);
    sheets.add(tag);
    this.out += openMark;
    yield* this.markup(piece, { tag, driver, parent: host, take }) ?? [];
    this.out += closeMark + this.#data(driver, sent);
    if (bySlot.size === 0) return;
    this.out += '<template data-eltrix>';
    yield* this.#sideBySide([...bySlot.values()].flat(), host);
    this.out += '</template>';
  }

  /** The data that the element needs in the browser, after its view: answers are known by then. */
  #data(driver: Driver, sent: Sent | undefined): string {
    const answers = this.context.awaited?.usedBy(driver);
    if (!sent && !answers) return '';
    return `<script type="application/json" data-eltrix>${escapeJson({ ...sent, ...(answers && { answers }) })}</script>`;
  }

  /**
   * A slot of an element without a shadow root: the first of its name gets the content, the others show their
   * fallback.
   */
  *#slot(step: ElementStep, values: readonly unknown[], owner: Owner): Writing {
    const { attributes } = builtIn(this.context, step, values, owner);
    const children = owner.take!(attributes.get('name') ?? '');
    if (children) attributes.set(givenMark, '');
    this.#startTag('slot', attributes);
    if (children) {
      yield* this.#sideBySide(children, owner.parent);
      if (step.children.length > 0) this.out += '<template data-eltrix>';
    }
    for (const { steps } of step.children) yield* this.steps(steps, values, owner) ?? [];
    this.out += children && step.children.length > 0 ? '</template></slot>' : '</slot>';
  }

  /** A comment keeps two texts apart that an element separated. */
  *#sideBySide(children: readonly Child[], parent: object | undefined): Writing {
    for (const [index, child] of children.entries()) {
      if (index > 0 && !child.isElement && !children[index - 1]!.isElement) this.out += separator;
      yield* child.write(parent) ?? [];
    }
  }
}

/** Markup as its author wrote it. */
interface Written {
  readonly strings: readonly string[];
  readonly namespace: 'html' | 'svg' | 'math';
}
