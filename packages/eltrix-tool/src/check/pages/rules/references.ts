/** Checks ids and references to them. */
import { attributeOf } from '../../../project/attribute-of.ts';
import { isUnknownText } from '../../../project/unknown-text.ts';
import type { PageText } from '../page-text.ts';
import type { Element } from '../parsed-page.ts';
import type { KnownElement } from '../vocabulary.ts';

const labelable = new Set(['button', 'input', 'meter', 'output', 'progress', 'select', 'textarea']);

export class References {
  readonly #ids = new Map<string, { element: Element; near: boolean }>();
  readonly #labels: Element[] = [];
  #hasFields = false;

  constructor(readonly page: PageText) {}

  /** @param near whether it is an element of the vocabulary, or inside one. */
  see(element: Element, known: KnownElement | undefined, near: boolean): void {
    if (element.tagName === 'label') this.#labels.push(element);
    this.#hasFields ||= known !== undefined && known.form !== false;
    const id = attributeOf(element, 'id');
    if (!id || isUnknownText(id)) return;
    const first = this.#ids.get(id);
    if (!first) {
      this.#ids.set(id, { element, near });
      return;
    }
    // Slotted content is in the page's tree, so its ids have to be unique as well (DOM §4.9).
    if (!near && !first.near) return;
    const line = first.element.sourceCodeLocation?.startLine ?? 1;
    this.page.report(
      'id-twice',
      `The id "${id}" is there already, on line ${line}. What an element takes into its slots stays in the page's tree, so ids have to differ.`,
      this.page.attribute(element, 'id').start,
    );
  }

  /**
   * Labels of missing fields, if the vocabulary has form-associated elements; the target of a label must be labelable
   * (HTML §4.10.4).
   */
  end(): void {
    const { page } = this;
    if (page.isSource) return;
    for (const label of this.#labels) {
      const id = attributeOf(label, 'for');
      if (!id || isUnknownText(id)) continue;
      const target = this.#ids.get(id)?.element;
      const { start } = page.attribute(label, 'for');
      if (!target) {
        if (this.#hasFields)
          page.report('label-for', `Nothing here has the id "${id}", so this label belongs to no field.`, start);
        continue;
      }
      const known = page.known(target);
      if (known?.form === false && !labelable.has(target.tagName))
        page.report(
          'label-for',
          `<${known.tag}> is no field, so a label for it does nothing. Give it aria-label or aria-labelledby, if anything.`,
          start,
        );
    }
  }
}
