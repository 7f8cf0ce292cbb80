import { type DefaultTreeAdapterTypes, type ParserOptions, parse, parseFragment, type Token } from 'parse5';
import type { ElementDescription } from '../describe/description.ts';
import { attributeOf } from '../project/attribute-of.ts';
import type { ContractName, Sighting } from './contract-name.ts';
import { isSame } from './declared-by.ts';
import { cssNames } from './names-in-css.ts';
import type { EditorProject } from './project.ts';

type Node = DefaultTreeAdapterTypes.Node;
type Element = DefaultTreeAdapterTypes.Element;
type Options = ParserOptions<DefaultTreeAdapterTypes.DefaultTreeAdapterMap>;

const options: Options = { sourceCodeLocationInfo: true };

/**
 * Finds names of contracts in HTML.
 *
 * @param owner the element that owns the view, and declares its slots, parts and states.
 * @param isFragment whether it is a template, with the length of its source.
 */
export function htmlNames(
  project: EditorProject,
  file: string,
  text: string,
  owner?: ElementDescription,
  isFragment = file.endsWith('.specimen.html'),
): Sighting[] {
  const found: Sighting[] = [];
  const root: Node = isFragment ? parseFragment(text, options) : parse(text, options);
  const visit = (node: Node, parent: Element | undefined) => {
    if ('tagName' in node) readElement(project, text, node, parent, owner, found);
    if ('content' in node) for (const child of node.content.childNodes) visit(child, undefined);
    if ('childNodes' in node) for (const child of node.childNodes) visit(child, 'tagName' in node ? node : undefined);
  };
  visit(root, undefined);
  return found;
}

function readElement(
  project: EditorProject,
  text: string,
  node: Element,
  parent: Element | undefined,
  owner: ElementDescription | undefined,
  found: Sighting[],
): void {
  const location = node.sourceCodeLocation;
  if (!location) return;
  const put = (element: ElementDescription, kind: Sighting['kind'], name: string, start: number) => {
    // Elements added by the parser have no text.
    if (text.slice(start, start + name.length).toLowerCase() === name.toLowerCase())
      found.push({ element, kind, name, start, end: start + name.length });
  };
  const is = node.attrs.find(({ name }) => name === 'is');
  const element = project.element(is?.value ?? node.tagName);
  if (element && !is) {
    put(element, 'tag', node.tagName, (location.startTag ?? location).startOffset + 1);
    if (location.endTag) put(element, 'tag', node.tagName, location.endTag.startOffset + 2);
  }
  const around = parent && project.element(attributeOf(parent, 'is') ?? parent.tagName);
  for (const { name, value } of node.attrs) {
    const place = ((location.startTag ?? location) as Token.LocationWithAttributes).attrs?.[name];
    if (!place) continue;
    const at = startOfValue(text, place);
    if (name === 'is' && element) put(element, 'tag', value, at);
    if (name === 'slot' && around?.slots.some(slot => slot.name === value)) put(around, 'slot', value, at);
    if (name === 'part' && owner)
      for (const { 0: part, index } of value.matchAll(/\S+/g))
        if (owner.parts.some(one => one.name === part)) put(owner, 'part', part, at + index);
    // Character references would move the positions.
    if (name === 'exportparts' && text.startsWith(value, at))
      found.push(...exportedParts(project, value, at, element, owner));
    if (name === 'name' && node.tagName === 'slot' && owner?.slots.some(slot => slot.name === value))
      put(owner, 'slot', value, at);
    if (name === 'style') found.push(...cssNames(project, text.slice(at, place.endOffset), at, owner));
    if (element?.properties.some(({ attribute }) => attribute === name))
      put(element, 'attribute', name, place.startOffset);
    if (name.startsWith('on') && element?.events.some(({ type }) => type === name.slice(2)))
      put(element, 'event', name.slice(2), place.startOffset + 2);
  }
  const [content] = node.childNodes;
  if (node.tagName === 'style' && content?.nodeName === '#text' && location.startTag)
    found.push(
      ...cssNames(project, (content as DefaultTreeAdapterTypes.TextNode).value, location.startTag.endOffset, owner),
    );
}

/**
 * The parts that `exportparts` names (CSS Shadow Parts §3.2): those of the inner element, and the names that the owner
 * gives them. A part that is exported under its name gets a second name once one of the two changes.
 */
function exportedParts(
  project: EditorProject,
  value: string,
  from: number,
  inner: ElementDescription | undefined,
  owner: ElementDescription | undefined,
): Sighting[] {
  const found: Sighting[] = [];
  const partOf = (element: ElementDescription | undefined, name: string): ContractName[] =>
    element?.parts.some(part => part.name === name) ? [{ element, kind: 'part', name }] : [];
  for (const { 0: pair, index } of value.matchAll(/[^\s,:]+(?:\s*:\s*[^\s,:]+)?/g)) {
    const [name, outer] = pair.split(/\s*:\s*/) as [string, string?];
    const start = from + index;
    const end = start + pair.length;
    const [ofInner] = partOf(inner, name);
    const [ofOwner] = partOf(owner, outer ?? name);
    if (outer !== undefined) {
      if (ofInner) found.push({ ...ofInner, start, end: start + name.length });
      if (ofOwner) found.push({ ...ofOwner, start: end - outer.length, end });
    } else if (ofInner && ofOwner && isSame(project, ofInner, ofOwner)) found.push({ ...ofInner, start, end });
    else {
      const write = (text: (name: string) => string) => (given: string) => ({ start, end, text: text(given) });
      if (ofInner) found.push({ ...ofInner, start, end, edit: write(given => `${given}: ${name}`) });
      if (ofOwner) found.push({ ...ofOwner, start, end, edit: write(given => `${name}: ${given}`) });
    }
  }
  return found;
}

/** The offset of an attribute's value. */
function startOfValue(text: string, { startOffset, endOffset }: Token.Location): number {
  const written = text.slice(startOffset, endOffset);
  const [before = ''] = /^[^=]*=?\s*["']?/.exec(written) ?? [];
  return startOffset + before.length;
}
