import { join } from 'node:path';
import type { ElementDescription } from '../describe/description.ts';
import { elementsOfClasses } from '../describe/element-class.ts';
import { type Imported, LibraryNames } from '../project/library-names.ts';
import { type Constant, constantsOf, valueIn } from '../project/module-constants.ts';
import { importedBy } from '../project/passed-names.ts';
import { singleQuoted } from '../project/single-quoted.ts';
import { bare, keyOf, type Node, parseModule, walk } from '../project/syntax.ts';
import { blank, templateText, writtenText } from '../project/template-text.ts';
import { placeholder } from '../project/unknown-text.ts';
import type { ContractName, Sighting } from './contract-name.ts';
import { isSame } from './declared-by.ts';
import { cssNames, selectorNames } from './names-in-css.ts';
import { htmlNames } from './names-in-html.ts';
import { jsxNames } from './names-in-jsx.ts';
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
  const constants = constantsOf(parsed.program['body']);
  walk(parsed.program, (node, parents) => {
    const Class = parents.findLast(({ type }) => /^Class(?:Declaration|Expression)$/.test(type));
    const owner = Class && elementOf.get(Class)?.element;
    switch (node.type) {
      case 'CallExpression':
        if (names.nameOf(node['callee']) === 'contract') found.push(...declared(project, file, node, constants, names));
        else found.push(...called(project, file, text, node, owner, names));
        break;
      case 'BinaryExpression':
      case 'SwitchCase':
        if (owner) found.push(...compared(text, node, parents, owner));
        break;
      case 'TaggedTemplateExpression': {
        const { quasi } = node as Node & { quasi: Node };
        const name = names.templateOf(node);
        if (name === 'markup')
          found.push(...inside(quasi, htmlNames(project, file, masked(text, quasi, placeholder), owner, true)));
        else if (name === 'stylesheet')
          found.push(...inside(quasi, cssNames(project, masked(text, quasi, 'x'), 0, owner)).map(inString));
        break;
      }
      case 'JSXOpeningElement':
      case 'JSXClosingElement':
        found.push(...jsxNames(project, text, node, parents));
        break;
      case 'TSPropertySignature': {
        // declare global { interface HTMLElementTagNameMap { 'hive-card': HiveCard } }
        const isMap = parents.at(-2)?.['id']?.name === 'HTMLElementTagNameMap';
        const element = isMap && project.element(node['key'].value as string);
        if (element) found.push(quoted(element, 'tag', element.tag, node['key']));
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

/** A backslash that CSS needs is written twice in a string or template of a source. */
function inString({ edit, ...sighting }: Sighting): Sighting {
  if (!edit) return sighting;
  return {
    ...sighting,
    edit: name => {
      const made = edit(name);
      return { ...made, text: made.text.replaceAll('\\', '\\\\') };
    },
  };
}

/** The text of a template alone, with the same offsets. */
const masked = (text: string, quasi: Node, filler: string) =>
  blank(text.slice(0, quasi.start)) + templateText(text, quasi, filler);

/** A text in quotes that is a name. */
function quoted(element: ElementDescription, kind: Sighting['kind'], name: string, { start, end }: Node): Sighting {
  return { element, kind, name, start: start + 1, end: end - 1 };
}

const groups = { events: 'event', slots: 'slot', parts: 'part', states: 'state', cssProperties: 'property' } as const;

/** The names that a contract declares. */
function declared(
  project: EditorProject,
  file: string,
  call: Node,
  constants: ReadonlyMap<string, Constant>,
  names: LibraryNames,
): Sighting[] {
  const [first, given] = call['arguments'] as Node[];
  const tag = first && valueIn(constants, first);
  const name: unknown = tag?.type === 'Literal' ? tag['value'] : undefined;
  const element = project.elements.find(one => one.file === file && one.tag === name);
  if (!element) return [];
  const found: Sighting[] = [{ ...quoted(element, 'tag', element.tag, tag!), isDeclaration: true }];
  const declaration = membersOf(given && bare(given));
  for (const [group, kind] of Object.entries(groups))
    for (const [name, member] of membersIn(declaration, group))
      found.push(keySighting({ element, kind, name }, member));
  for (const [name, member] of membersIn(declaration, 'attributes')) {
    const attribute = element.properties.find(property => property.name === name)?.attribute;
    if (attribute !== undefined)
      found.push(attributeSighting({ element, kind: 'attribute', name: attribute }, member, names));
  }
  return found;
}

const membersIn = (declaration: ReadonlyMap<string, Node>, group: string) => {
  const member = declaration.get(group);
  return membersOf(member && bare(member['value']));
};

/** The members that an object literal has itself, beside what is spread into it. */
function membersOf(object: Node | undefined): Map<string, Node> {
  const properties = object?.type === 'ObjectExpression' ? (object['properties'] as Node[]) : [];
  const named = properties.filter(member => member.type === 'Property' && member['kind'] === 'init');
  return new Map(named.flatMap(member => (keyOf(member) === undefined ? [] : [[keyOf(member)!, member]])));
}

function keySighting(name: ContractName, { key, shorthand }: Node): Sighting {
  const { start, end } = key as Node;
  const write = (key: string) => (/^[A-Za-z_$][\w$]*$/.test(key) ? key : singleQuoted(key));
  // { badge } becomes { sticker: badge }.
  const rest = shorthand ? `: ${name.name}` : '';
  return { ...name, start, end, isDeclaration: true, edit: key => ({ start, end, text: write(key) + rest }) };
}

/**
 * The name of an attribute is derived from its property, unless the kind gives it. Renaming writes it into the kind,
 * so that the property keeps its name. A kind that is not written there cannot get it.
 */
function attributeSighting(name: ContractName, { key, value }: Node, names: LibraryNames): Sighting {
  const kind = bare(value);
  const { start, end } = key as Node;
  const given = kind.type === 'CallExpression' ? (kind['arguments'] as Node[]) : [];
  const args = given.map(bare);
  const options = args.at(-1)?.type === 'ObjectExpression' ? args.at(-1) : undefined;
  const said = membersOf(options).get('attribute')?.['value'] as Node | undefined;
  if (said?.type === 'Literal') return { ...quoted(name.element, name.kind, name.name, said), isDeclaration: true };
  const isWhole =
    kind.type === 'CallExpression' &&
    (options
      ? !said && (options['properties'] as Node[]).every(({ type }) => type === 'Property')
      : args.length === (names.nameOf(kind['callee']) === 'choice' ? 1 : 0));
  if (!isWhole) return { ...name, start, end };
  // A trailing comma may follow the last argument.
  const at = options ? options.start + 1 : (given.at(-1)?.end ?? kind.end - 1);
  const text = (attribute: string) => {
    const option = `attribute: ${singleQuoted(attribute)}`;
    if (!options) return `${args.length > 0 ? ', ' : ''}{ ${option} }`;
    return ` ${option}${(options['properties'] as Node[]).length > 0 ? ',' : ' '}`;
  };
  return { ...name, start, end, isDeclaration: true, edit: to => ({ start: at, end: at, text: text(to) }) };
}

const ofOwnAttributes = /^(?:get|set|has|remove|toggle)Attribute$/;
const withSelector = /^(?:querySelector(?:All)?|closest|matches)$/;
const withTag = /^(?:createElement|whenDefined)$/;

/** Calls with names as arguments: the element's (`emit`, `slotted`, states), tags, selectors, and HTML of tests. */
function called(
  project: EditorProject,
  file: string,
  code: string,
  { callee, arguments: args }: Node,
  owner: ElementDescription | undefined,
  names: LibraryNames,
): Sighting[] {
  const [first, second] = (args as Node[]).slice(0, 2).map(bare);
  const value = writtenText(code, first);
  const ofLibrary = names.nameOf(callee);
  const method = callee.type === 'MemberExpression' && !callee.computed ? (callee.property.name as string) : '';
  const target = method ? bare(callee.object) : undefined;
  if (value !== undefined) {
    const own = owner && target && ownName(owner, target, method, value);
    if (own) return [quoted(owner, own, value, first!)];
    const isRegistry = target?.type === 'Identifier' && target['name'] === 'customElements';
    if (withTag.test(method) || (isRegistry && method === 'get') || ofLibrary === 'standIn') {
      const element = project.element(value);
      if (element) return [quoted(element, 'tag', value, first!)];
    }
    const isDeep = ofLibrary === 'deep' || ofLibrary === 'deepAll';
    if (isDeep || withSelector.test(method))
      // What a helper of tests finds in a shadow root is another tree.
      return selectorNames(project, isDeep ? value.replaceAll('>>>', '  ~') : value, first!.start + 1, owner).map(
        inString,
      );
    if (ofLibrary === 'stage')
      return inside(
        first!,
        htmlNames(project, file, `${blank(code.slice(0, first!.start + 1))}${value}`, undefined, true),
      );
  }
  const isListening = ofLibrary === 'on' || /^(?:add|remove)EventListener$/.test(method);
  const isAwaiting = ofLibrary === 'nextEvent' || ofLibrary === 'recordEvents';
  const type = isListening ? first : method === 'on' || isAwaiting ? second : undefined;
  const types = type?.type === 'ArrayExpression' ? (type['elements'] as Node[]) : [type];
  return types.flatMap(type => {
    const event = writtenText(code, type);
    // The target may be any element, so the name has to belong to only one contract.
    const senders = project.elements.filter(({ events }) => events.some(one => one.type === event));
    const [sender, ...others] = senders.map(element => ({ element, kind: 'event', name: event! }) as const);
    const isOne = sender && others.every(other => isSame(project, sender, other));
    return isOne ? [quoted(sender.element, 'event', event!, type!)] : [];
  });
}

/** What the argument of a call on `this`, or on its states, names. */
function ownName(owner: ElementDescription, target: Node, method: string, name: string): Sighting['kind'] | undefined {
  const isThis = (node: Node | undefined) => node?.type === 'ThisExpression';
  if (isThis(target)) {
    if (method === 'emit' && owner.events.some(({ type }) => type === name)) return 'event';
    if ((method === 'slotted' || method === 'isFilled') && owner.slots.some(slot => slot.name === name)) return 'slot';
    if (ofOwnAttributes.test(method) && owner.properties.some(({ attribute }) => attribute === name))
      return 'attribute';
  }
  // this.states, this.internals.states
  if (target.type !== 'MemberExpression' || target['property']['name'] !== 'states') return undefined;
  const inner = bare(target['object']);
  const isOwn = isThis(inner) || (inner['property']?.['name'] === 'internals' && isThis(inner['object']));
  return isOwn && owner.states.some(state => state.name === name) ? 'state' : undefined;
}

/** In `attributeChanged(name)`: what its first parameter is compared with. */
function compared(code: string, node: Node, parents: readonly Node[], owner: ElementDescription): Sighting[] {
  const method = parents.findLast(({ type }) => type === 'MethodDefinition');
  const name: unknown = method?.['value']['params'][0]?.['name'];
  if (name === undefined || (method!['key']['name'] as string) !== 'attributeChanged') return [];
  const isCase = node.type === 'SwitchCase';
  const sides = (isCase ? [parents.at(-1)!['discriminant'], node['test']] : [node['left'], node['right']]) as Node[];
  if (!sides.some(side => side?.type === 'Identifier' && side['name'] === name)) return [];
  return sides.flatMap(side => {
    const text = writtenText(code, side);
    const isAttribute = owner.properties.some(({ attribute }) => attribute === text);
    return text !== undefined && isAttribute ? [quoted(owner, 'attribute', text, side)] : [];
  });
}
