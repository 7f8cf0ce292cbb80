/** Checks a source without running it: its markup, and the events that it dispatches. */

import { type DefaultTreeAdapterTypes, parseFragment } from 'parse5';
import { insteadOfAttribute } from '../../../eltrix/src/view/odd-attribute.ts';
import type { ElementDescription } from '../describe/description.ts';
import { classesIn, elementsOfClasses } from '../describe/element-class.ts';
import { attributeOf } from '../project/attribute-of.ts';
import { byPlace, type Finding } from '../project/finding.ts';
import { type Imported, LibraryNames } from '../project/library-names.ts';
import { bare, keyOf, type Node, parseModule, walk } from '../project/syntax.ts';
import { templateText } from '../project/template-text.ts';
import { positionsIn } from '../project/text-position.ts';
import { placeholder } from '../project/unknown-text.ts';
import { type DroppedImport, droppedImports } from './dropped-imports.ts';
import { checkFragment, checkFragmentSheet } from './pages/check-page.ts';
import type { Vocabulary } from './pages/vocabulary.ts';
import { checkSheetText } from './sheet-text.ts';

type Element = DefaultTreeAdapterTypes.Element;
type Parent = { readonly childNodes: readonly DefaultTreeAdapterTypes.ChildNode[] };

/** Elements that are interactive without further attributes. */
const usable = new Set([
  'a',
  'button',
  'details',
  'input',
  'label',
  'select',
  'summary',
  'textarea',
  'option',
  'form',
  'dialog',
  'audio',
  'video',
]);
const labelable = new Set(['button', 'input', 'meter', 'output', 'progress', 'select', 'textarea']);

/** Facts about a source, without its syntax tree. */
export interface SourceFacts {
  readonly code: string;
  /** Findings that do not depend on other files. */
  readonly findings: readonly Finding[];
  readonly classes: readonly {
    readonly element: ElementDescription | undefined;
    readonly templates: readonly Template[];
    /** Style sheets without expressions. */
    readonly sheets: readonly Template[];
  }[];
  /** The relative addresses of style sheets that it imports. */
  readonly sheetFiles: readonly string[];
  readonly dropped: readonly DroppedImport[];
}

export interface Template {
  /** A fragment of the same length as in the source. */
  readonly text: string;
  readonly start: number;
}

/**
 * @param file relative to the project's folder.
 * @param elements those that this file defines.
 * @param imported what its imports lead to.
 */
export function sourceFacts(
  file: string,
  code: string,
  elements: readonly ElementDescription[],
  imported?: Imported,
): SourceFacts {
  const parsed = parseModule(file, code);
  if (!parsed) return { code, findings: [], classes: [], sheetFiles: [], dropped: [] };
  const names = new LibraryNames(parsed, imported);
  const findings: Finding[] = [];
  const place = positionsIn(code);
  const report: Report = (code, message, offset) => findings.push({ code, message, file, ...place(offset) });
  const inner = classesIn(parsed.program);
  const elementOf = elementsOfClasses(parsed.program, elements);
  // Of a class and one that extends it, the latter is the element.
  const last = new Map(Array.from(elementOf, ([node, { element }]) => [element, node]));
  const textsOf = (root: Node, tag: string, without: readonly Node[] = []) =>
    templates(root, names, tag, without).map(node => ({
      text: templateText(code, node, placeholder, true),
      start: node.start,
    }));
  const found = inner.map(statement => {
    const { element, call } = elementOf.get(statement) ?? {};
    if (element && last.get(element) === statement) checkEvents(statement, element, call, code, report);
    return {
      element,
      templates: textsOf(statement, 'markup'),
      sheets: textsOf(statement, 'stylesheet').filter(({ text }) => !text.includes(placeholder)),
    };
  });
  checkUnused(parsed.program, names, report);
  // Functions and sheets outside of classes, for any of them.
  found.push({
    element: undefined,
    templates: textsOf(parsed.program, 'markup', inner),
    sheets: textsOf(parsed.program, 'stylesheet', inner).filter(({ text }) => !text.includes(placeholder)),
  });
  const { program } = parsed;
  return { code, findings, classes: found, sheetFiles: sheetFiles(program), dropped: droppedImports(file, program) };
}

export function checkSource(file: string, facts: SourceFacts, vocabulary: Vocabulary): Finding[] {
  const findings = [...facts.findings];
  const place = positionsIn(facts.code);
  const parsed = facts.classes.map(({ element, templates, sheets }) => ({
    element,
    sheets,
    views: templates.map(({ text, start }) => ({
      text,
      start,
      root: parseFragment(text, { sourceCodeLocationInfo: true }),
    })),
  }));
  const idsIn = (views: (typeof parsed)[number]['views']) =>
    new Set(views.flatMap(({ root }) => [...elementsIn(root)].map(node => attributeOf(node, 'id'))));
  const allIds = idsIn(parsed.flatMap(({ views }) => views));
  /** The findings of a text within the file. */
  const add = (start: number, found: readonly Finding[]) => {
    const first = place(start);
    for (const { code, message, line, column } of found)
      if (code !== 'script-missing' && code !== 'id-twice')
        findings.push({
          code,
          message,
          file,
          line: first.line + line - 1,
          column: line === 1 ? first.column + column - 1 : column,
        });
  };
  for (const { element, views, sheets } of parsed) {
    for (const { text, start } of sheets) {
      const isOwn = element && !views.some(({ text }) => text.includes(`<${element.tag}`));
      add(start, checkSheetFile(file, text, vocabulary, isOwn ? element : undefined));
    }
    // A label may be in one template and its field in another one of the same view, or of a function.
    const ids = element ? idsIn(views) : allIds;
    // Templates in expressions are inside of the elements around them.
    const keyed = views.flatMap(({ start, root }) =>
      [...elementsIn(root)].filter(isKeyed).map(({ sourceCodeLocation: at }) => ({
        from: start + (at?.startOffset ?? 0),
        to: start + (at?.endOffset ?? 0),
      })),
    );
    for (const { text, start, root } of views) {
      add(start, checkFragment(file, text, root, vocabulary));
      const isInKeyed = (offset: number) => keyed.some(({ from, to }) => from < start + offset && start + offset < to);
      checkMarkup(root, element, ids, isInKeyed, (code, message, offset) =>
        findings.push({ code, message, file, ...place(start + offset) }),
      );
    }
  }
  return findings.sort(byPlace);
}

/**
 * Checks the text of a style sheet that elements use.
 * @param element the only element that uses it, if its markup does not contain the element itself.
 */
export function checkSheetFile(
  file: string,
  text: string,
  vocabulary: Vocabulary,
  element: ElementDescription | undefined,
): Finding[] {
  const findings = [...checkFragmentSheet(file, text, vocabulary)];
  const place = positionsIn(text);
  checkSheetText(text, element, (code, message, offset) => findings.push({ code, message, file, ...place(offset) }));
  return findings.sort(byPlace);
}

type Report = (code: string, message: string, offset: number) => void;

/** `import sheet from './card.css' with { type: 'css' }`, for relative addresses. */
function sheetFiles(program: Node): string[] {
  return (program['body'] as readonly Node[]).flatMap(({ type, source, attributes = [] }) =>
    type === 'ImportDeclaration' &&
    /^\.\.?\//.test(source['value']) &&
    (attributes as readonly Node[]).some(
      ({ key, value }) => (key['name'] ?? key['value']) === 'type' && value['value'] === 'css',
    )
      ? [source['value'] as string]
      : [],
  );
}

/** The templates of a tag of the library, except those within other nodes. */
function templates(root: Node, names: LibraryNames, tag: string, without: readonly Node[]): Node[] {
  const found: Node[] = [];
  walk(root, node => {
    if (node.type !== 'TaggedTemplateExpression' || names.nameOf(node['tag']) !== tag) return;
    if (!without.some(({ start, end }) => start <= node.start && node.end <= end)) found.push(node['quasi']);
  });
  return found;
}

/** Markup that is written as a statement, so that nothing gets it: most often a `return` is missing. */
function checkUnused(program: Node, names: LibraryNames, report: Report): void {
  walk(program, node => {
    if (node.type !== 'ExpressionStatement') return;
    const { type, tag, start } = node['expression'] as Node;
    if (type === 'TaggedTemplateExpression' && names.nameOf(tag) === 'markup')
      report('markup-unused', 'Nothing gets this markup, so it is not shown. Write return before it.', start);
  });
}

/** A placeholder among the attributes may set any attribute. */
const isOpen = (element: Element) => element.attrs.some(({ name }) => name.includes(placeholder));

/** All elements, those in templates included. */
export function* elementsIn(parent: Parent): Generator<Element> {
  for (const node of parent.childNodes) {
    if (!('tagName' in node)) continue;
    yield node;
    yield* elementsIn('content' in node ? (node as DefaultTreeAdapterTypes.Template).content : node);
  }
}

function checkMarkup(
  root: Parent,
  element: ElementDescription | undefined,
  ids: ReadonlySet<string | undefined>,
  /** Whether something around an offset has the focus and handles keys. */
  isInKeyed: (offset: number) => boolean,
  report: Report,
): void {
  const all = [...elementsIn(root)];
  for (const node of all) {
    const at = node.sourceCodeLocation?.startOffset ?? 0;
    const { tagName: tag } = node;
    if (tag === 'slot' && element) checkSlot(node, element, at, report);
    if (tag === 'script') checkScript(node, at, report);
    for (const { name, value } of node.attrs) {
      const instead = value.includes(placeholder) ? insteadOfAttribute(name, tag) : undefined;
      if (instead !== undefined)
        report(
          'attribute-odd',
          `"${name}" is set as an attribute of that name, which HTML does not have. ${instead}`,
          node.sourceCodeLocation?.attrs?.[name]?.startOffset ?? at,
        );
    }
    if (tag === 'img' && attributeOf(node, 'alt') === undefined && !isOpen(node))
      report('name-role', 'This <img> has no alternative text. Write alt="…", or alt="" if it only decorates.', at);
    if (tag === 'label') checkLabel(node, ids, at, report);
    const clicks = attributeOf(node, 'onclick') !== undefined;
    if (clicks && !usable.has(tag) && !tag.includes('-') && !isOpen(node) && !isInKeyed(at))
      checkReach(node, at, report);
  }
}

/** Scripts that the fragment parser creates do not run (HTML §4.12.1.1). */
function checkScript(node: Element, at: number, report: Report): void {
  const type = attributeOf(node, 'type') ?? '';
  if (type === '' || type === 'module' || /^(?:text|application)\/javascript$/i.test(type))
    report('script-inert', 'A script in markup does not run. Put its code into connected() or a module.', at);
}

function checkSlot(node: Element, { tag, slots, shadow }: ElementDescription, at: number, report: Report): void {
  const name = attributeOf(node, 'name') ?? '';
  if (shadow === 'none' || name.includes(placeholder) || isOpen(node) || slots.some(slot => slot.name === name)) return;
  // A slot that forwards content to a nested element belongs to both.
  report(
    'slots-there',
    `<${tag}> does not declare ${name ? `the slot "${name}"` : 'a default slot'}, which is in its markup. Declare it: slots: { '${name}': slot('…') }.`,
    at,
  );
}

function checkLabel(node: Element, ids: ReadonlySet<string | undefined>, at: number, report: Report): void {
  const target = attributeOf(node, 'for');
  if (isOpen(node) || target?.includes(placeholder)) return;
  if (target !== undefined) {
    const open = [...ids].some(id => id?.includes(placeholder));
    if (!ids.has(target) && !open)
      report(
        'name-role',
        `This <label> is for "${target}", and no element of the same view has that id. Labels do not reach over shadow roots.`,
        at,
      );
    return;
  }
  const inside = [...elementsIn(node)];
  const hasPlaceholder =
    JSON.stringify(inside.map(({ attrs }) => attrs)).includes(placeholder) || textOf(node).includes(placeholder);
  if (
    hasPlaceholder ||
    inside.some(({ tagName }) => labelable.has(tagName) || tagName.includes('-') || tagName === 'slot')
  )
    return;
  report(
    'name-role',
    'This <label> labels nothing. Put the field into it, or write for="…" with the id of the field.',
    at,
  );
}

function textOf(parent: Parent): string {
  return parent.childNodes
    .map(node => ('value' in node ? node.value : 'childNodes' in node ? textOf(node) : ''))
    .join('');
}

/** Roles whose container handles keys, with `aria-activedescendant` or by moving the focus (WAI-ARIA 1.2, Managing Focus). */
const inComposite = new Set(
  'gridcell menuitem menuitemcheckbox menuitemradio option radio row tab treeitem'.split(' '),
);

/** Whether it has the focus and handles keys. */
const isKeyed = (node: Element) =>
  attributeOf(node, 'tabindex') !== undefined &&
  ['onkeydown', 'onkeyup', 'onkeypress'].some(name => attributeOf(node, name) !== undefined);

function checkReach(node: Element, at: number, report: Report): void {
  const role = attributeOf(node, 'role');
  if (role !== undefined && (inComposite.has(role) || role.includes(placeholder))) return;
  if (isKeyed(node) || (attributeOf(node, 'tabindex') !== undefined && role !== undefined)) return;
  // An element that handles clicks on its content need not be focusable.
  const inside = [...elementsIn(node)].some(
    ({ tagName }) => usable.has(tagName) || tagName === 'slot' || tagName.includes('-'),
  );
  if (inside || textOf(node).trim() === placeholder) return;
  report(
    'keyboard-reach',
    `This <${node.tagName}> can only be clicked. Make it a <button type="button">, or give it a role, tabindex="0" and a key handler.`,
    at,
  );
}

function checkEvents(
  statement: Node,
  { tag, events }: ElementDescription,
  call: Node | undefined,
  code: string,
  report: Report,
): void {
  const sent = new Set<string>();
  let open = false;
  walk(statement, node => {
    if (node.type !== 'CallExpression' || node['callee'].type !== 'MemberExpression') return;
    if (keyOf({ ...node['callee'], key: node['callee']['property'] } as Node) !== 'emit') return;
    const given = node['arguments'][0] as Node | undefined;
    const first = given && bare(given);
    if (first?.type !== 'Literal' || typeof first['value'] !== 'string') {
      open = true;
      return;
    }
    const type = first['value'] as string;
    sent.add(type);
    if (node['callee']['object'].type === 'ThisExpression' && !events.some(event => event.type === type))
      report(
        'event-declared',
        `<${tag}> does not declare the event "${type}" that is sent here. Declare it: events: { '${type}': event() }.`,
        first.start,
      );
  });
  if (open) return;
  // Code outside the class may dispatch the event for it.
  const body = call ? code.slice(0, call.start) + code.slice(call.end) : code;
  for (const { type } of events) {
    // The class may dispatch an event with that name itself.
    if (sent.has(type) || body.includes(`'${type}'`) || body.includes(`"${type}"`)) continue;
    const at = code.indexOf(type, (call ?? statement).start);
    report(
      'event-unsent',
      `<${tag}> declares the event "${type}" and never sends it. Call this.emit('${type}', …), or remove it from the contract.`,
      at < 0 ? statement.start : Math.max(0, at - 1),
    );
  }
}
