/**
 * Pure expressions: made of literals, attributes of the element, operators and functions of the language that always
 * return the same for the same arguments.
 */
import { factsOf } from '../project/kinds/index.ts';
import { bare, keyOf, type Node, thisMember } from '../project/syntax.ts';
import type { StatedMember } from './declaration.ts';

/** Flags: the possible types of a value, and whether evaluating it may throw. */
export const isText = 1;
export const isNumber = 2;
export const isFlag = 4;
export const isNothing = 8;
export const mayThrow = 16;
const types = isText | isNumber | isFlag | isNothing;

/** The meaning of names where an expression stands. */
export interface Scope {
  readonly members: readonly StatedMember[];
  /** The members that the class declares itself. */
  readonly own: ReadonlyMap<string, Node>;
  /** The literal value of a constant of the module. */
  constant(name: Node): Node | undefined;
  /** Whether a name is a global of the language. */
  isGlobal(name: Node): boolean;
}

const mathematics =
  /^(?:abs|ceil|floor|round|trunc|sign|max|min|sqrt|cbrt|pow|hypot|sin|cos|tan|atan2?|log(?:2|10)?|exp)$/;
const textMethods: Readonly<Record<string, number>> = {
  at: isText | isNothing,
  charAt: isText,
  endsWith: isFlag,
  includes: isFlag,
  indexOf: isNumber,
  lastIndexOf: isNumber,
  padEnd: isText | mayThrow,
  padStart: isText | mayThrow,
  repeat: isText | mayThrow,
  replace: isText,
  replaceAll: isText,
  slice: isText,
  startsWith: isFlag,
  substring: isText,
  toLowerCase: isText,
  toString: isText,
  toUpperCase: isText,
  trim: isText,
  trimEnd: isText,
  trimStart: isText,
};
const numberMethods: Readonly<Record<string, number>> = {
  toFixed: isText | mayThrow,
  toPrecision: isText | mayThrow,
  toString: isText | mayThrow,
};
const functions: Readonly<Record<string, number>> = {
  Boolean: isFlag,
  Number: isNumber,
  String: isText,
  encodeURIComponent: isText | mayThrow,
  isNaN: isFlag,
  parseFloat: isNumber,
  parseInt: isNumber,
};
const numberFunctions = /^is(?:Finite|Integer|NaN|SafeInteger)$/;

const primitives = { text: isText, number: isNumber, flag: isFlag };

/** @returns undefined for an expression that is not known to be pure. */
export function pure(expression: Node, scope: Scope): number | undefined {
  return new Reader(scope).value(expression);
}

class Reader {
  /** Getters that are being read, to stop at recursion. */
  readonly #inside = new Set<string>();

  constructor(readonly scope: Scope) {}

  value(expression: Node): number | undefined {
    const node = bare(expression);
    switch (node.type) {
      case 'Literal':
        return literal(node);
      case 'Identifier':
        return this.#identifier(node);
      case 'TemplateLiteral':
        return this.#all(node['expressions'], isText);
      case 'UnaryExpression':
        return this.#unary(node);
      case 'BinaryExpression':
        return this.#binary(node);
      case 'LogicalExpression':
        return this.#union([node['left'], node['right']]);
      case 'ConditionalExpression': {
        const test = this.value(node['test']);
        const either = this.#union([node['consequent'], node['alternate']]);
        return test === undefined || either === undefined ? undefined : either | (test & mayThrow);
      }
      case 'MemberExpression':
        return this.#member(node);
      case 'CallExpression':
        return this.#call(node);
      default:
        return undefined;
    }
  }

  /** The flags of a result whose operands are all known. */
  #all(nodes: readonly Node[], result: number): number | undefined {
    const union = this.#union(nodes);
    return union === undefined ? undefined : result | (union & mayThrow);
  }

  #union(nodes: readonly Node[]): number | undefined {
    let union = 0;
    for (const node of nodes) {
      const value = this.value(node);
      if (value === undefined) return undefined;
      union |= value;
    }
    return union;
  }

  #identifier(node: Node): number | undefined {
    const name = node['name'] as string;
    if (this.scope.isGlobal(node)) {
      if (name === 'undefined') return isNothing;
      return name === 'NaN' || name === 'Infinity' ? isNumber : undefined;
    }
    const constant = this.scope.constant(node);
    return constant && this.value(constant);
  }

  #unary(node: Node): number | undefined {
    const result = { '!': isFlag, typeof: isText, void: isNothing, '-': isNumber, '+': isNumber, '~': isNumber };
    const type = result[node['operator'] as keyof typeof result] as number | undefined;
    return type === undefined ? undefined : this.#all([node['argument']], type);
  }

  #binary(node: Node): number | undefined {
    const [left, right] = [this.value(node['left']), this.value(node['right'])];
    if (left === undefined || right === undefined) return undefined;
    const throws = (left | right) & mayThrow;
    const operator = node['operator'] as string;
    if (/^(?:[=!]==?|[<>]=?)$/.test(operator)) return isFlag | throws;
    if (operator === 'in' || operator === 'instanceof') return undefined;
    if (operator !== '+') return isNumber | throws;
    const texts = (left | right) & isText;
    const surely = (left & types) === isText || (right & types) === isText;
    return (texts ? (surely ? isText : isText | isNumber) : isNumber) | throws;
  }

  #member(node: Node): number | undefined {
    if (node['computed'] || node['optional']) return undefined;
    const name = thisMember(node);
    if (name === undefined)
      return node['property']['name'] === 'length' && this.#surelyText(node['object']) ? isNumber : undefined;
    const own = this.scope.own.get(name);
    if (own) return this.#getter(name, own);
    const member = this.scope.members.find(member => member.name === name);
    if (!member?.plain) return undefined;
    return primitives[factsOf(member.kind).primitive!] | (member.nullable ? isNothing : 0);
  }

  /** A getter of the class with a single expression. */
  #getter(name: string, member: Node): number | undefined {
    if (member.type !== 'MethodDefinition' || member['kind'] !== 'get' || this.#inside.has(name)) return undefined;
    const result = onlyReturn(member['value']['body']);
    if (!result) return undefined;
    this.#inside.add(name);
    const value = this.value(result);
    this.#inside.delete(name);
    return value;
  }

  #surelyText(node: Node): boolean {
    return ((this.value(node) ?? 0) & ~mayThrow) === isText;
  }

  #call(node: Node): number | undefined {
    const args = node['arguments'] as Node[];
    const callee = bare(node['callee']);
    if (node['optional']) return undefined;
    if (callee.type === 'Identifier')
      return this.scope.isGlobal(callee) && Object.hasOwn(functions, callee['name'])
        ? this.#all(args, functions[callee['name']]!)
        : undefined;
    if (callee.type !== 'MemberExpression' || callee['computed'] || callee['optional']) return undefined;
    const name = callee['property']['name'] as string;
    const object = bare(callee['object']);
    if (object.type === 'Identifier' && this.scope.isGlobal(object)) {
      if (object['name'] === 'Math' && mathematics.test(name)) return this.#all(args, isNumber);
      if (object['name'] === 'Number' && numberFunctions.test(name)) return this.#all(args, isFlag);
    }
    const on = this.value(object);
    const given = this.#union(args);
    if (on === undefined || given === undefined) return undefined;
    const throws = (on | given) & mayThrow;
    const methods = (on & types) === isText ? textMethods : (on & types) === isNumber ? numberMethods : undefined;
    if (!methods || !Object.hasOwn(methods, name)) return undefined;
    const result = methods[name]!;
    return (cannotThrow(name, args) ? result & ~mayThrow : result) | throws;
  }
}

function literal(node: Node): number | undefined {
  if (node['regex'] || node['bigint']) return undefined;
  if (node['value'] === null) return isNothing;
  return { string: isText, number: isNumber, boolean: isFlag }[typeof node['value'] as string];
}

/** Whether a method that may throw cannot throw with these arguments. */
function cannotThrow(name: string, args: readonly Node[]): boolean {
  if (args.length === 0) return true;
  const [first] = args.map(bare);
  const value: unknown = first!.type === 'Literal' ? first!['value'] : undefined;
  if (typeof value !== 'number' || !Number.isInteger(value)) return false;
  if (name === 'toFixed') return value >= 0 && value <= 100;
  if (name === 'toString') return value >= 2 && value <= 36;
  return name !== 'toPrecision' && value >= 0 && value < 1000;
}

/** The expression that a function returns, if its body has no other statement. */
export function onlyReturn(body: Node): Node | undefined {
  if (body.type !== 'BlockStatement') return body;
  const [statement, ...more] = body['body'] as Node[];
  if (more.length > 0 || statement?.type !== 'ReturnStatement') return undefined;
  return (statement['argument'] as Node | null) ?? undefined;
}

/** The members that a class declares itself, by name; undefined if a name is computed. */
export function ownMembers(classNode: Node): Map<string, Node> | undefined {
  const own = new Map<string, Node>();
  for (const member of classNode['body']['body'] as Node[]) {
    if (member.type === 'StaticBlock' || member['static'] || member['key']?.type === 'PrivateIdentifier') continue;
    const name = keyOf(member);
    if (name === undefined) return undefined;
    if (own.get(name)?.['kind'] !== 'get') own.set(name, member);
  }
  return own;
}
