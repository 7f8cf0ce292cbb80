/** Checks every use of elements in a page, a fragment, or a style sheet, against their contracts. */

import type { DefaultTreeAdapterTypes } from 'parse5';
import { attributeOf } from '../../project/attribute-of.ts';
import { byPlace, type Finding } from '../../project/finding.ts';
import { PageText } from './page-text.ts';
import { type Element, type Oddity, type Parent, parsePage, type TagErrors } from './parsed-page.ts';
import { checkAria, checkAttributes } from './rules/attributes.ts';
import { References } from './rules/references.ts';
import { checkContent, checkDepth, checkSlotElement } from './rules/slots.ts';
import { checkSheet, checkStyleAttribute } from './rules/styles.ts';
import { checkQuotes, checkTwice } from './rules/tag-errors.ts';
import {
  checkEnd,
  checkForeign,
  checkIs,
  checkOddities,
  checkPlainTag,
  checkRoots,
  checkStray,
  checkTag,
  checkUse,
  type Ends,
} from './rules/tags.ts';
import { definedTags, loadedTags } from './scripts.ts';
import type { KnownElement, Vocabulary } from './vocabulary.ts';

/**
 * @param file the name in findings; that of a style sheet ends in `.css`.
 * @param text a whole page, a fragment, or a style sheet.
 */
export function checkPage(file: string, text: string, vocabulary: Vocabulary): Finding[] {
  const page = new PageText(file, text, vocabulary, false);
  if (file.endsWith('.css')) checkSheet(page, text, 0);
  else {
    const isPage = /<(?:!doctype|html|head|body)\b/i.test(text);
    const { root, oddities, errors } = parsePage(text, isPage);
    new PageCheck(page, oddities, errors).run(root, isPage);
  }
  return page.findings.sort(byPlace);
}

/** The same for parsed markup of a source, with its positions. */
export function checkFragment(file: string, text: string, root: Parent, vocabulary: Vocabulary): Finding[] {
  const page = new PageText(file, text, vocabulary, true);
  new PageCheck(page, [], { duplicates: [], quotes: [] }).run(root, false);
  return page.findings.sort(byPlace);
}

/** The same for a style sheet in a source. */
export function checkFragmentSheet(file: string, text: string, vocabulary: Vocabulary): Finding[] {
  const page = new PageText(file, text, vocabulary, true);
  checkSheet(page, text, 0);
  return page.findings;
}

type Tree = 'page' | 'root' | 'template';

class PageCheck {
  readonly #references: References;
  readonly #used = new Map<string, Element>();
  readonly #scripts: Element[] = [];
  readonly #unknown: Element[] = [];
  #isPage = false;
  /** The ancestors of the current element, outermost first. */
  readonly #above: Element[] = [];

  constructor(
    readonly page: PageText,
    readonly oddities: readonly Oddity[],
    readonly errors: TagErrors,
  ) {
    this.#references = new References(page);
  }

  run(root: Parent, isPage: boolean): void {
    this.#isPage = isPage;
    const ends = checkOddities(this.page, this.oddities);
    this.visit(root, false, 'page', ends);
    checkStray(this.page, ends);
    this.#references.end();
    const defined = definedTags(this.#scripts);
    for (const element of this.#unknown) checkTag(this.page, element, defined);
    if (isPage) this.checkScripts();
  }

  /**
   * @param inside whether an ancestor is an element of the vocabulary.
   * @param tree the page's tree, a declarative shadow root, or a template, whose content a script may put anywhere.
   */
  visit(parent: Parent, inside: boolean, tree: Tree, ends: Ends): void {
    const { page, errors } = this;
    for (const node of parent.childNodes) {
      if (!('tagName' in node)) continue;
      const { tagName, attrs } = node;
      const isCustom = tagName.includes('-');
      if (tagName === 'script') this.#scripts.push(node);
      else if (tagName === 'style') this.checkStyle(node);
      const known = page.known(node);
      const near = inside || known !== undefined;
      // Its other attributes are not those that were meant.
      if (errors.quotes.length > 0 && checkQuotes(page, node, known, errors.quotes)) ends.explained.add(node);
      else if (known) this.checkKnown(node, known);
      else {
        if (isCustom) this.#unknown.push(node);
        else checkPlainTag(page, node);
        if (isCustom || attrs.length > 0) checkIs(page, node);
        if (isCustom) checkForeign(page, node);
        if (inside && this.#isPage && tree === 'page') checkSlotElement(page, node, parent as Element);
      }
      if (isCustom && !page.isSource) checkEnd(page, node, ends);
      if (attrs.length > 0) {
        this.#references.see(node, known, near);
        if (near) this.checkNear(node, inside, tree);
      }
      this.#above.push(node);
      this.visit(node, near, tree, ends);
      if ('content' in node) {
        const mode = attributeOf(node, 'shadowrootmode')?.toLowerCase();
        const content = mode === 'open' || mode === 'closed' ? 'root' : 'template';
        this.visit((node as DefaultTreeAdapterTypes.Template).content, false, content, ends);
      }
      this.#above.pop();
    }
  }

  checkKnown(element: Element, known: KnownElement): void {
    const { page } = this;
    if (!this.#used.has(known.tag)) this.#used.set(known.tag, element);
    checkUse(page, element, known);
    checkAttributes(page, element, known);
    checkStyleAttribute(page, element, known);
    checkRoots(page, element);
    // Content of built-in elements needs no slot, nor does content that a script assigns.
    if (known.slots && known.extends === undefined && !known.assigns) checkContent(page, element, known, known.slots);
  }

  /** Rules for attributes of elements of the vocabulary and their descendants. */
  checkNear(element: Element, inside: boolean, tree: Tree): void {
    const { page, errors } = this;
    if (errors.duplicates.length > 0) checkTwice(page, element, errors.duplicates);
    checkAria(page, element);
    if (inside) checkDepth(page, element, this.#above);
    if (tree === 'page' && !page.isSource) this.checkPartAttribute(element);
  }

  /** Only a shadow tree has parts (CSS Shadow Parts §3). */
  checkPartAttribute(element: Element): void {
    if (attributeOf(element, 'part') === undefined) return;
    this.page.report(
      'part-unused',
      `part does nothing here: only elements in a shadow tree have parts. Use a class, or style a part of the element from a sheet: ${this.#used.keys().next().value ?? 'my-card'}::part(name).`,
      this.page.attribute(element, 'part').start,
    );
  }

  checkStyle(element: Element): void {
    for (const child of element.childNodes)
      if ('value' in child && child.sourceCodeLocation) {
        // The parser changes line ends.
        const { startOffset, endOffset } = child.sourceCodeLocation;
        checkSheet(this.page, this.page.text.slice(startOffset, endOffset), startOffset);
      }
  }

  checkScripts(): void {
    const { page } = this;
    const loaded = loadedTags(this.#scripts, page.all.tags);
    if (!loaded) return;
    for (const [tag, element] of this.#used) {
      if (loaded.has(tag)) continue;
      page.report(
        'script-missing',
        `No script of this page defines <${tag}>. Add <script type="module" src="${tag}.js"></script>, with the path of the built file.`,
        page.start(element),
      );
    }
  }
}
