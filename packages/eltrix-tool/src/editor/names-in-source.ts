import { join } from 'node:path';
import type { ElementDescription } from '../describe/description.ts';
import { elementsOfClasses } from '../describe/element-class.ts';
import { type Imported, LibraryNames } from '../project/library-names.ts';
import { importedBy } from '../project/passed-names.ts';
import { singleQuoted } from '../project/single-quoted.ts';
import { bare, fieldsOf, type Node, parseModule, walk } from '../project/syntax.ts';
import { blank, templateText } from '../project/template-text.ts';
import { placeholder } from '../project/unknown-text.ts';
import type { ContractName, Sighting } from './contract-name.ts';
import { cssNames } from './names-in-css.ts';
import { htmlNames } from './names-in-html.ts';
import type { EditorProject } from './project.ts';

/** Finds names of contracts in a source: declarations, names in markup and style sheets, and arguments of calls. */
export function sourceNames(project: EditorProject, file: string, text: string): Sighting[] {
  const parsed = parseModule(file, text);
  if (!parsed) return [];
  const found: Sighting[] = [];
  const names = new LibraryNames(parsed, importedFrom(join(project.root, file)));
  const elementOf = elementsOfClasses(
    parsed.program,
    project.elements.filter(element => element.file === file),
  );
  walk(parsed.program, (node, parents) => {
    const Class = parents.findLast(({ type }) => /^Class(?:Declaration|Expression)$/.test(type));
    const owner = Class && elementOf.get(Class)?.element;
    switch (node.type) {
      case 'CallExpression':
        if (names.nameOf(node['callee']) === 'contract') found.push(...declared(project, file, node, parents));
        else found.push(...called(project, node, owner, names));
        break;
      case 'TaggedTemplateExpression': {
        const { quasi } = node as Node & { quasi: Node };
        const name = names.templateOf(node);
        if (name === 'markup')
          found.push(...inside(quasi, htmlNames(project, file, masked(text, quasi, placeholder), owner, true)));
        else if (name === 'stylesheet')
          found.push(...inside(quasi, cssNames(project, masked(text, quasi, 'x'), 0, owner)));
        break;
      }
      case 'TSPropertySignature': {
        // declare global { interface HTMLElementTagNameMap { 'hive-card': HiveCard } }
        const isMap = parents.at(-2)?.['id']?.name === 'HTMLElementTagNameMap';
        const element = isMap && project.element(node['key'].value as string);
        if (element) found.push(literal(element, 'tag', node['key']));
        break;
      }
    }
  });
  return found;
}

/** What imports lead to, of both packages with all entries. */
function importedFrom(file: string): Imported {
  const imported = importedBy(file);
  return specifier => (/^eltrix(?:-tool)?(?:\/|$)/.test(specifier) ? name => name : imported(specifier));
}

const inside = ({ start, end }: Node, sightings: readonly Sighting[]) =>
  sightings.filter(sighting => sighting.start > start && sighting.end < end);

/** The text of a template alone, with the same offsets. */
const masked = (text: string, quasi: Node, filler: string) =>
  blank(text.slice(0, quasi.start)) + templateText(text, quasi, filler);

/** A string literal that is a name. */
function literal(element: ElementDescription, kind: Sighting['kind'], { start, end, value }: Node): Sighting {
  return { element, kind, name: value as string, start: start + 1, end: end - 1 };
}

const groups = { events: 'event', slots: 'slot', parts: 'part', states: 'state', cssProperties: 'property' } as const;

/** The names that a contract declares. */
function declared(project: EditorProject, file: string, call: Node, parents: readonly Node[]): Sighting[] {
  const [tag, given] = call['arguments'] as Node[];
  const element =
    tag?.type === 'Literal'
      ? project.elements.find(one => one.file === file && one.tag === (tag['value'] as string))
      : undefined;
  if (!element || parents.length === 0) return [];
  const found: Sighting[] = [{ ...literal(element, 'tag', tag!), isDeclaration: true }];
  const declaration = given && fieldsOf(bare(given));
  for (const [group, kind] of Object.entries(groups))
    for (const [name, member] of membersOf(declaration?.get(group)))
      found.push(keySighting({ element, kind, name }, member['key']));
  for (const [name, member] of membersOf(declaration?.get('attributes'))) {
    const attribute = element.properties.find(property => property.name === name)?.attribute;
    if (attribute !== undefined) found.push(attributeSighting({ element, kind: 'attribute', name: attribute }, member));
  }
  return found;
}

function membersOf(group: Node | undefined): [string, Node][] {
  const fields = group && fieldsOf(bare(group['value']));
  return fields ? [...fields] : [];
}

function keySighting(name: ContractName, { start, end }: Node): Sighting {
  const write = (key: string) => (/^[A-Za-z_$][\w$]*$/.test(key) ? key : singleQuoted(key));
  return { ...name, start, end, isDeclaration: true, edit: key => ({ start, end, text: write(key) }) };
}

/**
 * The name of an attribute is derived from its property, unless the kind gives it. Renaming writes it into the kind,
 * so that the property keeps its name.
 */
function attributeSighting(name: ContractName, { key, value }: Node): Sighting {
  const kind = bare(value);
  const args = kind.type === 'CallExpression' ? (kind['arguments'] as Node[]) : [];
  const options = args.map(bare).findLast(({ type }) => type === 'ObjectExpression');
  const said = options && fieldsOf(options)?.get('attribute');
  if (said?.['value'].type === 'Literal')
    return { ...literal(name.element, name.kind, said['value']), isDeclaration: true };
  const option = (given: string) => `attribute: ${singleQuoted(given)}`;
  const at = options ? options.start + 1 : kind.end - 1;
  const text = (given: string) => {
    if (!options) return `${args.length > 0 ? ', ' : ''}{ ${option(given)} }`;
    return ` ${option(given)}${(options['properties'] as Node[]).length > 0 ? ',' : ' '}`;
  };
  const { start, end } = key as Node;
  return { ...name, start, end, isDeclaration: true, edit: given => ({ start: at, end: at, text: text(given) }) };
}

/** Calls with names as arguments: the element's (`emit`, `slotted`, states), and tags. */
function called(
  project: EditorProject,
  { callee, arguments: args }: Node,
  owner: ElementDescription | undefined,
  names: LibraryNames,
): Sighting[] {
  const first = (args as Node[])[0];
  const isText = (node: Node | undefined): node is Node =>
    node?.type === 'Literal' && typeof node['value'] === 'string';
  const method = callee.type === 'MemberExpression' && !callee.computed ? (callee.property.name as string) : undefined;
  const isOwn = method !== undefined && callee.object.type === 'ThisExpression';
  if (owner && isOwn && isText(first)) {
    const value = first['value'] as string;
    if (method === 'emit' && owner.events.some(({ type }) => type === value)) return [literal(owner, 'event', first)];
    if ((method === 'slotted' || method === 'isFilled') && owner.slots.some(({ name }) => name === value))
      return [literal(owner, 'slot', first)];
  }
  const isStates =
    callee.type === 'MemberExpression' &&
    callee.object.type === 'MemberExpression' &&
    callee.object.object.type === 'ThisExpression' &&
    callee.object.property.name === 'states';
  if (owner && isStates && isText(first) && owner.states.some(({ name }) => name === first['value']))
    return [literal(owner, 'state', first)];
  const takesTag = method !== undefined && /^(?:createElement|whenDefined)$/.test(method);
  if ((takesTag || names.nameOf(callee) === 'standIn') && isText(first)) {
    const element = project.element(first['value'] as string);
    if (element) return [literal(element, 'tag', first)];
  }
  // The target may be any element, so the name has to belong to only one.
  const isListening = names.nameOf(callee) === 'on' || /^(?:add|remove)EventListener$/.test(method ?? '');
  const type = isListening ? first : method === 'on' ? (args as Node[])[1] : undefined;
  if (!isText(type)) return [];
  const senders = project.elements.filter(({ events }) => events.some(event => event.type === type['value']));
  return senders.length === 1 ? [literal(senders[0]!, 'event', type)] : [];
}
