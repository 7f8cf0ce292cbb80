/** Checks an element's content: whether there is a slot for it. */
import { attributeOf } from '../../../project/attribute-of.ts';
import { nearest } from '../../../project/nearest.ts';
import { hasTemplateSyntax, isUnknownText, placeholder } from '../../../project/unknown-text.ts';
import { instead, type PageText } from '../page-text.ts';
import type { Element, Node } from '../parsed-page.ts';
import type { KnownElement, KnownSlot } from '../vocabulary.ts';

export function checkContent(
  page: PageText,
  element: Element,
  { tag }: KnownElement,
  slots: ReadonlyMap<string, KnownSlot>,
): void {
  const filled = new Set<string>();
  let loose: Node | undefined;
  // What a template language puts here may have any slot.
  let isOpen = false;
  for (const child of element.childNodes) {
    // The parser takes `<? … ?>` for a comment.
    if (child.nodeName === '#comment') isOpen ||= (child as { data: string }).data.startsWith('?');
    if (child.nodeName === '#comment' || isUnseen(child)) continue;
    if (!('tagName' in child)) {
      const text = (child as { value?: string }).value?.trim() ?? '';
      if (text === '') continue;
      if (hasTemplateSyntax(text)) isOpen = true;
      else if (text.replaceAll(placeholder, '').trim()) loose ??= child;
      else filled.add('');
      continue;
    }
    const slot = attributeOf(child, 'slot') ?? '';
    if (slot === '' && checkMisspelt(page, child, slots)) continue;
    const declared = slots.get(slot);
    if (declared) {
      filled.add(slot);
      checkAccepted(page, child, declared, tag);
      if (declared.deprecated !== undefined)
        page.report(
          'deprecated-use',
          `<${tag}>, ${slot ? `slot "${slot}"` : 'default slot'}: ${instead(declared.deprecated)}`,
          page.start(child),
        );
    } else if (isUnknownText(slot) || child.attrs.some(({ name }) => name.includes(placeholder))) continue;
    else if (slot === '') loose ??= child;
    else {
      const names = namesOf(slots);
      const near = nearest(slot, names);
      const at = page.attribute(child, 'slot');
      page.report(
        'slot-unknown',
        `<${tag}> has no slot "${slot}", so this is not shown.${near ? ` Did you mean "${near}"?` : names.length > 0 ? ` It has ${names.map(name => `"${name}"`).join(', ')}.` : ''}`,
        at.start,
        near ? [page.valueEdit(at, near)] : undefined,
      );
    }
  }
  if (loose && slots.has('')) filled.add('');
  else if (loose) {
    const names = namesOf(slots);
    const has =
      names.length > 0
        ? `Give it a slot: ${names.map(name => `slot="${name}"`).join(' or ')}.`
        : 'It takes no content.';
    page.report(
      'slot-loose',
      `<${tag}> has no default slot, so ${loose.nodeName === '#text' ? 'this text' : `this <${loose.nodeName}>`} is not shown. ${has}`,
      textStart(loose, page.text),
    );
  }
  for (const { name, required } of slots.values()) {
    if (!required || filled.has(name) || isOpen) continue;
    page.report(
      'slot-required',
      `<${tag}> needs something in its ${name ? `slot "${name}": give it a child with slot="${name}"` : 'default slot: give it content'}.`,
      page.start(element),
    );
  }
}

const namesOf = (slots: ReadonlyMap<string, KnownSlot>) => [...slots.keys()].filter(Boolean);

/** An attribute similar to `slot`, with the name of a slot. @returns whether there is one. */
function checkMisspelt(page: PageText, child: Element, slots: ReadonlyMap<string, KnownSlot>): boolean {
  if (child.tagName.includes('-')) return false;
  const wrong = child.attrs.find(
    ({ name, value }) => value !== '' && slots.has(value) && nearest(name, ['slot']) !== undefined,
  );
  if (!wrong) return false;
  const { start } = page.attribute(child, wrong.name);
  page.report('attribute-unknown', `There is no attribute "${wrong.name}". Did you mean "slot"?`, start, [
    { start, end: start + wrong.name.length, text: 'slot' },
  ]);
  return true;
}

/** A slot in the tree of a page, where it is an element without effect (DOM §4.2.2.1). */
export function checkSlotElement(page: PageText, element: Element, parent: Element): void {
  if (element.tagName !== 'slot') return;
  const slots = page.known(parent)?.slots;
  const name = attributeOf(element, 'name');
  const write = name !== undefined && slots?.has(name) ? ` Write slot="${name}" on the content itself.` : '';
  page.report('slot-element', `<slot> does nothing outside of a shadow tree.${write}`, page.start(element));
}

/** `accepts` is a list of selectors; selectors other than tags are not checked. */
function checkAccepted(page: PageText, child: Element, { accepts, name }: KnownSlot, tag: string): void {
  // What a slot passes on is not known here.
  if (accepts === undefined || child.tagName === 'slot') return;
  const tags = accepts.split(',').map(selector => selector.trim());
  if (!tags.every(selector => /^[a-z][\w.-]*$/i.test(selector)) || tags.includes(child.tagName)) return;
  page.report(
    'slot-accepts',
    `<${tag}> takes ${tags.map(accepted => `<${accepted}>`).join(' or ')} in its ${name ? `slot "${name}"` : 'default slot'}, and this is <${child.tagName}>.`,
    page.start(child),
  );
}

/**
 * `slot` only has an effect on the children of an element (DOM §4.2.2.3).
 * @param above the ancestors, outermost first, the parent last.
 */
export function checkDepth(page: PageText, element: Element, above: readonly Element[]): void {
  const slot = attributeOf(element, 'slot');
  const parent = above.at(-1);
  // A slot may forward its content; an unknown parent may have such a slot.
  if (!slot || !parent || page.known(parent) || parent.tagName === 'slot' || parent.tagName.includes('-')) return;
  for (const around of above.toReversed()) {
    const known = page.known(around);
    if (!known && !around.tagName.includes('-')) continue;
    if (known?.slots?.has(slot))
      page.report(
        'slot-deep',
        `slot="${slot}" does nothing here: only children of <${known.tag}> itself go into its slots, and this is inside <${parent.tagName}>. Put the attribute on the child of <${known.tag}>.`,
        page.attribute(element, 'slot').start,
      );
    return;
  }
}

const unseen = new Set(['template', 'script', 'style', 'link', 'meta']);

/** Nodes that are never visible, and need no slot. */
function isUnseen(node: Node): boolean {
  return 'tagName' in node && unseen.has(node.tagName);
}

function textStart(node: Node, text: string): number {
  const offset = node.sourceCodeLocation?.startOffset ?? 0;
  return offset + /^\s*/.exec(text.slice(offset))![0].length;
}
