/** The contract in a call with literal arguments: the facts that a build keeps. */
import { kebabCase } from '../../../eltrix/src/contract/names.ts';
import { digest } from '../../../eltrix/src/element/fingerprint.ts';
import { factsOf, isKind } from '../project/kinds/index.ts';
import { bare, fieldsOf, type Node, walk } from '../project/syntax.ts';
import { typeOfData } from './type-of-value.ts';

export interface StatedMember {
  readonly name: string;
  readonly attribute: string | undefined;
  /** The kind's name, or `data` or `live`. */
  readonly kind: string;
  /** The code that creates it. */
  readonly code: string;
  /** The code of its conversions, if the attribute is its only state. */
  readonly rule: string | undefined;
  /** Of a property without an attribute: the code of the function that makes its value, and its type as written. */
  readonly make?: string;
  readonly type?: Node | undefined;
  /** Whether its value is a primitive or null. */
  readonly plain: boolean;
  /** Whether it may be null. */
  readonly nullable: boolean;
  /** The values of a choice, if all are written out. */
  readonly choices: readonly string[] | undefined;
}

export interface StatedContract {
  readonly tag: string;
  readonly members: readonly StatedMember[];
  readonly surface: string;
  readonly parts: ReadonlySet<string>;
  /** The code of further options; empty if there are none. */
  readonly more: string;
  readonly base: string | undefined;
  readonly events: ReadonlySet<string>;
}

/** The reason why a call cannot be compiled. */
export class Unknowable extends Error {
  constructor(
    readonly node: Node,
    message: string,
  ) {
    super(message);
  }
}

/** The name of a runtime export in compiled code. */
export const runtime = '$eltrix';

const commonOptions = new Set(['about', 'deprecated', 'attribute', 'reflect']);

/** What a declaration is read with. */
export interface Reading {
  text(node: Node): string;
  /** The export of the library that an expression names. */
  nameOf(node: Node): string | undefined;
  /** The value of a constant of the module; other nodes themselves, without TypeScript syntax around them. */
  resolve(node: Node): Node;
  /** Whether the module is TypeScript, where a value has the type of the literal that it is made from. */
  readonly isTyped: boolean;
}

/**
 * @param everyEvent whether all events are kept, so that development can reject undeclared ones.
 * @throws Unknowable for arguments that are not literal.
 */
export function statedContract(call: Node, reading: Reading, everyEvent = false): StatedContract {
  const { text, nameOf, resolve } = reading;
  const [tagNode, declarationNode, parentNode] = call['arguments'] as Node[];
  if (declarationNode) refuseInside(declarationNode, nameOf);
  const tag = tagNode && resolve(tagNode);
  if (tag?.type !== 'Literal' || typeof tag['value'] !== 'string')
    throw new Unknowable(tagNode ?? call, 'the tag is not written out');
  const fields = declarationNode && fieldsOf(declarationNode, resolve);
  if (!fields) throw new Unknowable(declarationNode ?? call, 'the declaration is not one object written out');
  const fieldValue = (fields: ReadonlyMap<string, Node>, key: string) => {
    const field = fields.get(key);
    return field && resolve(field['value']);
  };
  const group = (key: string): ReadonlyMap<string, Node> => {
    const value = fieldValue(fields, key);
    const found = value && fieldsOf(value, resolve);
    if (value && !found) throw new Unknowable(value, `"${key}" is not an object written out`);
    return found ?? new Map();
  };
  const parts = new Set<string>();
  const members = [
    ...[...group('attributes')].map(([name, node]) => attributeMember(name, resolve(node['value']), reading)),
    ...[...group('properties')].map(([name, node]) => propertyMember(name, resolve(node['value']), reading)),
  ];
  const twice = [...group('properties')].find(([name]) => group('attributes').has(name));
  if (twice) throw new Unknowable(twice[1], `"${twice[0]}" is declared in attributes and in properties`);
  const events = group('events');
  const slots = group('slots');
  const flags = [...events].flatMap(([type, node]) => {
    const code = eventFlags(resolve(node['value']), reading);
    return [`${JSON.stringify(type)}: {${code}}`];
  });
  const saysEvents = everyEvent || flags.some(flags => !flags.endsWith('{}'));
  if (saysEvents && events.size > 0) parts.add('emitPart');
  else if (events.size > 0) parts.add(parentNode ? 'emitPart' : 'plainEmitPart');
  const states = group('states');
  if (states.size > 0) parts.add('statesPart');
  const conditions = [...states].flatMap(([name, node]) => {
    const value = resolve(node['value']);
    if (value.type === 'Literal' || value.type === 'TemplateLiteral') return [];
    const when = fieldsOf(value, resolve)?.get('when');
    if (!when)
      throw new Unknowable(value, `the state "${name}" is neither a text nor an object written out with "when"`);
    return [`${JSON.stringify(name)}: { ${text(when)} }`];
  });
  const semantics = [...group('semantics').values()].map(text);
  const bound = [
    ...(conditions.length > 0 ? [`states: { ${conditions.join(', ')} }`] : []),
    ...(semantics.length > 0 ? [`semantics: { ${semantics.join(', ')} }`] : []),
  ];
  if (bound.length > 0) parts.add('boundPart');
  const form = fieldValue(fields, 'form');
  if (form && form.type !== 'Literal') throw new Unknowable(form, '"form" is not written out');
  if (form?.['value'] === true) parts.add('formPart');
  const extended = literal(fieldValue(fields, 'extends'), 'extends');
  const shadow = fieldValue(fields, 'shadow');
  if (shadow && shadow.type !== 'Literal' && !fieldsOf(shadow, resolve))
    throw new Unknowable(shadow, '"shadow" is not written out');
  const light = extended !== undefined || shadow?.['value'] === 'none';
  if (light) parts.add('lightPart');
  else if (shadow) parts.add('rootPart');
  const more = [
    ...(saysEvents ? [`declaration: { events: {${flags.join(', ')}} }`] : []),
    ...(light ? [`shadow: 'none'`] : shadow ? [`shadow: ${text(shadow)}`] : []),
    ...(extended === undefined ? [] : [`extends: ${JSON.stringify(extended)}`]),
    ...(bound.length > 0 ? [`bound: { ${bound.join(', ')} }`] : []),
  ];
  const surface = digest(
    JSON.stringify([
      tag['value'],
      members.map(({ name, attribute, kind }) => [name, attribute, kind]),
      [...events.keys()],
      [...slots.keys()],
    ]),
  );
  return {
    tag: tag['value'],
    members,
    surface,
    parts,
    more: more.length > 0 ? `{ ${more.join(', ')} }` : '',
    base: parentNode
      ? text(parentNode)
      : extended === undefined
        ? undefined
        : `${runtime}.builtInBase(${JSON.stringify(extended)})`,
    events: new Set(events.keys()),
  };
}

/** Nested compiled code changes, so it cannot be copied as text. */
function refuseInside(declaration: Node, nameOf: Reading['nameOf']): void {
  walk(declaration, node => {
    if (node.type === 'TaggedTemplateExpression') throw new Unknowable(node, 'it contains a template');
    if (called(node, nameOf) === 'contract') throw new Unknowable(node, 'it contains another contract');
  });
}

function literal(node: Node | undefined, what: string): string | undefined {
  if (!node) return undefined;
  if (node.type !== 'Literal' || typeof node['value'] !== 'string')
    throw new Unknowable(node, `"${what}" is not written out`);
  return node['value'];
}

/** The name of the library's function that a node calls. */
function called(node: Node, nameOf: Reading['nameOf']): string | undefined {
  return node.type === 'CallExpression' ? nameOf(node['callee']) : undefined;
}

/** The code of an options object without descriptions, and the options that all kinds have. */
function optionsOf(node: Node | undefined, { text, resolve }: Reading) {
  const fields = node ? fieldsOf(node, resolve) : new Map<string, Node>();
  if (!fields) throw new Unknowable(node!, 'the options of a kind are not one object written out');
  const own = [...fields].filter(([key]) => !commonOptions.has(key));
  const value = (key: string) => {
    const field = fields.get(key);
    if (!field) return undefined;
    const { type, value } = resolve(field['value']) as Node & { value: unknown };
    if (type !== 'Literal') throw new Unknowable(field, `"${key}" is not written out`);
    return value;
  };
  return {
    own: new Set(own.map(([key]) => key)),
    code: `{${own.map(([, field]) => text(field)).join(', ')}}`,
    said: (key: string) => (fields.has(key) ? text(fields.get(key)!['value']) : undefined),
    attribute: value('attribute') as string | undefined,
    reflect: value('reflect') !== false,
  };
}

function attributeMember(name: string, node: Node, reading: Reading): StatedMember {
  const { text, nameOf, resolve } = reading;
  const kind = called(node, nameOf);
  if (!kind || !isKind(kind)) throw new Unknowable(node, `"${name}" is not a kind of the library`);
  const facts = factsOf(kind);
  const args = node['arguments'] as Node[];
  const options = optionsOf(args[facts.positional], reading);
  const attribute = (options.attribute ?? kebabCase(name)).replace(/[A-Z]+/g, letters => letters.toLowerCase());
  const rule = `${runtime}.${facts.rule(args.slice(0, facts.positional).map(text), options)}`;
  const state = facts.state === 'attribute' && !options.reflect ? 'kept' : facts.state;
  const maker = { attribute: 'attribute', kept: 'keptAttribute', live: 'liveAttribute' }[state];
  const more = [
    ...(attribute === name && options.reflect ? [] : [JSON.stringify(attribute)]),
    ...(options.reflect ? [] : ['false']),
  ];
  return {
    name,
    attribute,
    kind,
    code: `${JSON.stringify(name)}: ${runtime}.${maker}(${[rule, ...more].join(', ')})`,
    rule: state === 'attribute' ? rule : undefined,
    plain: facts.primitive !== undefined,
    nullable: options.own.has('nullable'),
    choices: kind === 'choice' ? textsOf(args[0], resolve) : undefined,
  };
}

/** The texts of a list that is written out. */
function textsOf(node: Node | undefined, resolve: Reading['resolve']): string[] | undefined {
  const list = node && resolve(node);
  if (list?.type !== 'ArrayExpression') return undefined;
  const texts = (list['elements'] as (Node | null)[]).map(item => item && bare(item)['value']);
  return texts.every(text => typeof text === 'string') ? (texts as string[]) : undefined;
}

function propertyMember(name: string, node: Node, { text, nameOf, isTyped }: Reading): StatedMember {
  const kind = called(node, nameOf);
  if (kind !== 'data' && kind !== 'live') throw new Unknowable(node, `"${name}" is neither data() nor live()`);
  const [make] = node['arguments'] as Node[];
  if (!make) throw new Unknowable(node, `"${name}" has no function that makes its value`);
  return {
    name,
    attribute: undefined,
    kind,
    code: `${JSON.stringify(name)}: ${runtime}.${kind}(${text(make)})`,
    make: text(make),
    type: typeOfData(node, isTyped),
    rule: undefined,
    plain: false,
    nullable: false,
    choices: undefined,
  };
}

/** The code of an event's special options. */
function eventFlags(node: Node, { text, nameOf, resolve }: Reading): string {
  if (called(node, nameOf) !== 'event') throw new Unknowable(node, 'an event is not declared with event()');
  const [options] = node['arguments'] as Node[];
  const fields = options ? fieldsOf(options, resolve) : new Map<string, Node>();
  if (!fields) throw new Unknowable(options!, "an event's options are not one object written out");
  return [...fields]
    .filter(([key, field]) => {
      if (key === 'about' || key === 'deprecated') return false;
      const value = resolve(field['value']);
      return !(value.type === 'Literal' && value['value'] === (key !== 'cancelable'));
    })
    .map(([, field]) => text(field))
    .join(', ');
}
