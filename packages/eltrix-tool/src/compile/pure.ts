/**
 * Pure expressions: made of literals, properties of the element and members of their values, operators and functions of
 * the language that always return the same for the same arguments.
 */
import { factsOf } from '../project/kinds/index.ts';
import { bare, type Node, ownMember, thisMember } from '../project/syntax.ts';
import type { StatedMember } from './declaration.ts';
import {
  cannotThrow,
  formatters,
  functions,
  isAny,
  isFlag,
  isNothing,
  isNumber,
  isText,
  mathematics,
  mayThrow,
  numberFunctions,
  numberMethods,
  textMethods,
  types,
} from './known-functions.ts';
import { isMemberOf, type Made, type Names, recordOf } from './module-values.ts';

/** What an expression of a view may use. */
export interface Scope {
  readonly names: Names;
  readonly members: readonly StatedMember[];
  /** The flags of a property without an attribute, or of a member of its value. */
  dataFlags(expression: Node): number | undefined;
  /** The members that the class declares itself; private ones with `#` before their names. */
  readonly own: ReadonlyMap<string, Node>;
  /** Whether a member of the class is a function made by `matches`. */
  isMatcher(member: Node): boolean;
}

const primitives = { text: isText, number: isNumber, flag: isFlag };

/** @returns undefined for an expression that is not known to be pure. */
export function pure(expression: Node, scope: Scope): number | undefined {
  return new Reader(scope).value(expression);
}

/** The same for an expression that always has the same value, since it does not use the element. */
export function constant(expression: Node, scope: Scope): number | undefined {
  return new Reader(scope, false).value(expression);
}

/** The same for the result of a function without parameters, with the element as `this`. */
export function pureResult(fn: Node, scope: Scope): number | undefined {
  return new Reader(scope).result({ node: fn, names: scope.names }, [], true);
}

/** The variables of the function that is being read. */
interface Frame {
  readonly variables: Map<string, number>;
  /** Where it is written. */
  readonly names: Names;
  /** Whether `this` is the element. */
  readonly isMethod: boolean;
}

class Reader {
  /** Functions that are being read, to stop at recursion. */
  readonly #inside = new Set<Node>();
  #frame: Frame;

  constructor(
    readonly scope: Scope,
    isMethod = true,
  ) {
    this.#frame = { variables: new Map(), names: scope.names, isMethod };
  }

  /** The result of calling a function. @param given the flags of its arguments. */
  result({ node: fn, names }: Made, given: readonly number[], isMethod: boolean): number | undefined {
    if (!/Function/.test(fn.type) || fn['async'] || fn['generator'] || this.#inside.has(fn)) return undefined;
    const outer = this.#frame;
    this.#frame = { variables: new Map(), names, isMethod };
    this.#inside.add(fn);
    try {
      for (const [at, parameter] of (fn['params'] as Node[]).entries()) {
        const isDefault = parameter.type === 'AssignmentPattern';
        const name = isDefault ? (parameter['left'] as Node) : parameter;
        const fallback = isDefault ? this.value(parameter['right']) : isNothing;
        // TypeScript's `this` is no parameter, so the arguments would be counted wrongly.
        if (name.type !== 'Identifier' || name['name'] === 'this' || fallback === undefined) return undefined;
        const type = given[at] ?? fallback;
        this.#frame.variables.set(name['name'], isDefault && type & isNothing ? type | fallback : type);
      }
      const { body } = fn as Node & { body: Node };
      if (body.type !== 'BlockStatement') return this.value(body);
      const done = this.#statements(body['body']);
      return done && (done.ends ? done.flags : done.flags | isNothing);
    } finally {
      this.#frame = outer;
      this.#inside.delete(fn);
    }
  }

  /** What statements may return, and whether they surely do. */
  #statements(list: readonly Node[]): { readonly flags: number; readonly ends: boolean } | undefined {
    let flags = 0;
    for (const statement of list) {
      if (statement.type === 'ReturnStatement') {
        const value = statement['argument'] ? this.value(statement['argument']) : isNothing;
        return value === undefined ? undefined : { flags: flags | value, ends: true };
      }
      if (statement.type === 'VariableDeclaration' && statement['kind'] === 'const') {
        for (const { id, init } of statement['declarations'] as { id: Node; init: Node }[]) {
          const value = id.type === 'Identifier' ? this.value(init) : undefined;
          if (value === undefined) return undefined;
          this.#frame.variables.set(id['name'], value);
          flags |= value & mayThrow;
        }
      } else if (statement.type === 'IfStatement') {
        const test = this.value(statement['test']);
        const [yes, no] = [statement['consequent'], statement['alternate']].map(branch => this.#branch(branch));
        if (test === undefined || !yes || !no) return undefined;
        flags |= (test & mayThrow) | yes.flags | no.flags;
        if (yes.ends && no.ends) return { flags, ends: true };
      } else return undefined;
    }
    return { flags, ends: false };
  }

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
        return this.#logical(node);
      case 'ConditionalExpression': {
        const test = this.value(node['test']);
        const either = this.#union([node['consequent'], node['alternate']]);
        return test === undefined || either === undefined ? undefined : either | (test & mayThrow);
      }
      case 'ChainExpression':
        return this.#data(node) ?? this.#chain(node['expression']);
      case 'MemberExpression':
        return this.#data(node) ?? this.#member(node);
      case 'CallExpression':
        return this.#data(node) ?? this.#call(node);
      default:
        return undefined;
    }
  }

  /** The flags of a result whose operands are all known. An object could run code when it is converted. */
  #all(nodes: readonly Node[], result: number): number | undefined {
    const union = this.#union(nodes);
    return union === undefined || union & isAny ? undefined : result | (union & mayThrow);
  }

  #data(node: Node): number | undefined {
    return this.#frame.isMethod ? this.scope.dataFlags(node) : undefined;
  }

  /** An optional chain may end before. */
  #chain(inner: Node): number | undefined {
    const value = inner.type === 'CallExpression' ? this.#call(inner) : this.#member(inner);
    return value === undefined ? undefined : value | isNothing;
  }

  #logical(node: Node): number | undefined {
    const [left, right] = [this.value(node['left']), this.value(node['right'])];
    if (left === undefined || right === undefined) return undefined;
    if (node['operator'] !== '&&') return (left & ~isNothing) | right;
    // What is falsy is no object.
    return left & isAny ? ((left | types) & ~isAny) | right : left | right;
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

  #branch(branch: Node | null) {
    if (!branch) return nowhere;
    const { variables } = this.#frame;
    const outside = new Map(variables);
    const done = this.#statements(branch.type === 'BlockStatement' ? branch['body'] : [branch]);
    variables.clear();
    for (const [name, flags] of outside) variables.set(name, flags);
    return done;
  }

  #identifier(node: Node): number | undefined {
    const name = node['name'] as string;
    const { variables, names } = this.#frame;
    const variable = variables.get(name);
    if (variable !== undefined) return variable;
    if (names.isGlobal(node)) {
      if (name === 'undefined') return isNothing;
      return name === 'NaN' || name === 'Infinity' ? isNumber : undefined;
    }
    const local = names.local?.(node);
    return local ? this.#constant({ node: local, names }, true) : this.#constant(names.made(node));
  }

  /** The value of a constant. It has been evaluated before, so it cannot throw any more. */
  #constant(made: Made | undefined, isMethod = false): number | undefined {
    if (!made || this.#inside.has(made.node)) return undefined;
    const value = this.#apart(made, isMethod, () => this.value(made.node));
    return value === undefined ? undefined : value & ~mayThrow;
  }

  #unary(node: Node): number | undefined {
    const result = { '!': isFlag, typeof: isText, void: isNothing, '-': isNumber, '+': isNumber, '~': isNumber };
    const operator = node['operator'] as keyof typeof result;
    const type = result[operator] as number | undefined;
    if (type === undefined) return undefined;
    if (!/^(?:!|typeof|void)$/.test(operator)) return this.#all([node['argument']], type);
    const value = this.value(node['argument']);
    return value === undefined ? undefined : type | (value & mayThrow);
  }

  #binary(node: Node): number | undefined {
    const [left, right] = [this.value(node['left']), this.value(node['right'])];
    if (left === undefined || right === undefined) return undefined;
    const throws = (left | right) & mayThrow;
    const operator = node['operator'] as string;
    const isLoose = /^[=!]=$/.test(operator);
    // Nothing is converted.
    if (/^[=!]==$/.test(operator) || (isLoose && [left, right].includes(isNothing))) return isFlag | throws;
    if ((left | right) & isAny) return undefined;
    if (isLoose || /^[<>]=?$/.test(operator)) return isFlag | throws;
    if (operator === 'in' || operator === 'instanceof') return undefined;
    if (operator !== '+') return isNumber | throws;
    const texts = (left | right) & isText;
    const surely = (left & types) === isText || (right & types) === isText;
    return (texts ? (surely ? isText : isText | isNumber) : isNumber) | throws;
  }

  #member(node: Node): number | undefined {
    if (node['optional']) return this.#length(node);
    const constant = this.#constant(this.#frame.names.made(node));
    if (constant !== undefined) return constant;
    if (node['computed']) return this.#entry(node['object'], node['property']);
    const name = this.#frame.isMethod ? ownMember(node) : undefined;
    if (name === undefined) return this.#length(node);
    const own = this.scope.own.get(name);
    if (own) return this.#getter(own);
    const member = this.scope.members.find(member => member.name === name);
    if (!member?.plain) return undefined;
    return primitives[factsOf(member.kind).primitive!] | (member.nullable ? isNothing : 0);
  }

  /** The length of a text. */
  #length({ object, property, computed, optional }: Node): number | undefined {
    if (computed || property.type !== 'Identifier' || property['name'] !== 'length') return undefined;
    const on = this.value(object);
    if (on === undefined || (on & types & ~isNothing) !== isText) return undefined;
    return isNumber | (on & mayThrow) | (on & isNothing && !optional ? mayThrow : 0);
  }

  /** A value of a record of the module, by an attribute with a choice of values. */
  #entry(object: Node, key: Node): number | undefined {
    const name = this.#frame.isMethod ? thisMember(key) : undefined;
    const member = this.scope.members.find(member => member.name === name);
    if (!member?.choices || member.nullable || this.scope.own.has(member.name)) return undefined;
    const made = this.#frame.names.made(object);
    // An enum also has its members' names, by their numbers.
    if (!made || made.node.type === 'TSEnumDeclaration') return undefined;
    const fields = recordOf(made);
    if (!fields) return undefined;
    // A name of Object.prototype would be found there.
    if (member.choices.some(choice => choice in {} && !fields.has(choice))) return undefined;
    // The attribute may have no value, or a fallback that is no choice.
    const values = this.#apart(made, false, () =>
      this.#union([...fields.values()].map(field => field['value'] as Node)),
    );
    return values === undefined ? undefined : values | isNothing;
  }

  /** Reads a part of the module, without the variables of the function that is being read. */
  #apart<T>({ node, names }: Made, isMethod: boolean, read: () => T): T {
    const outer = this.#frame;
    this.#frame = { variables: new Map(), names, isMethod };
    this.#inside.add(node);
    try {
      return read();
    } finally {
      this.#frame = outer;
      this.#inside.delete(node);
    }
  }

  #getter(member: Node): number | undefined {
    if (member.type !== 'MethodDefinition' || member['kind'] !== 'get') return undefined;
    return this.result({ node: member['value'], names: this.scope.names }, [], true);
  }

  #called(fn: Made, args: readonly Node[], isMethod: boolean): number | undefined {
    const given = args.map(node => this.value(node));
    if (given.some(flags => flags === undefined)) return undefined;
    const flags = given as number[];
    const result = this.result(fn, flags, isMethod);
    return result === undefined ? undefined : flags.reduce((all, one) => all | (one & mayThrow), result);
  }

  /** `NumberFormat` for `formatter.format` and `const formatter = new Intl.NumberFormat(…)`. */
  #formatter(object: Node, name: string): string | undefined {
    const made = this.#frame.names.made(object);
    const callee = made?.node.type === 'NewExpression' ? bare(made.node['callee']) : undefined;
    if (!callee || !isMemberOf(callee, 'Intl', made!.names)) return undefined;
    const Class = callee['property']['name'] as string;
    return formatters[Class]?.test(name) ? Class : undefined;
  }

  #isSurely(node: Node | undefined, type: number): boolean {
    return node !== undefined && ((this.value(node) ?? 0) & ~mayThrow) === type;
  }

  #call(node: Node): number | undefined {
    const args = node['arguments'] as Node[];
    const callee = bare(node['callee']);
    const { names, isMethod } = this.#frame;
    if (node['optional'] || args.some(({ type }) => type === 'SpreadElement')) return undefined;
    if (callee.type === 'Identifier') {
      if (names.isGlobal(callee))
        return Object.hasOwn(functions, callee['name']) ? this.#all(args, functions[callee['name']]!) : undefined;
      const local = this.#frame.variables.has(callee['name']) ? undefined : names.local?.(callee);
      if (local) return this.#called({ node: local, names }, args, local.type === 'ArrowFunctionExpression');
    }
    const fn = names.made(callee);
    if (fn) return this.#called(fn, args, false);
    if (callee.type !== 'MemberExpression' || callee['computed']) return undefined;
    if (callee['optional']) return this.#method(callee, args);
    const object = bare(callee['object']);
    const own = ownMember(callee);
    const name = callee['property']['name'] as string;
    if (own !== undefined) {
      const method = isMethod ? this.scope.own.get(own) : undefined;
      if (method && this.scope.isMatcher(method)) {
        const given = this.#union(args);
        return given === undefined ? undefined : isFlag | (given & mayThrow);
      }
      return method?.type === 'MethodDefinition' && method['kind'] === 'method'
        ? this.#called({ node: method['value'], names: this.scope.names }, args, true)
        : undefined;
    }
    if (callee['property'].type === 'PrivateIdentifier') return undefined;
    const formats = this.#formatter(object, name);
    // Without a date it formats the present time.
    if (formats !== undefined && (formats !== 'DateTimeFormat' || this.#isSurely(args[0], isNumber)))
      return this.#all(args, isText | mayThrow);
    if (object.type === 'Identifier' && names.isGlobal(object)) {
      if (object['name'] === 'Math' && mathematics.test(name)) return this.#all(args, isNumber);
      if (object['name'] === 'Number' && numberFunctions.test(name)) return this.#all(args, isFlag);
    }
    return this.#method(callee, args);
  }

  /** A method of a text or number. */
  #method({ object, property, optional }: Node, args: readonly Node[]): number | undefined {
    const name = property['name'] as string;
    const on = this.value(object);
    const given = this.#union(args);
    if (on === undefined || given === undefined || given & isAny) return undefined;
    const throws = ((on | given) & mayThrow) | (on & isNothing && !optional ? mayThrow : 0);
    const type = on & types & ~isNothing;
    const methods = type === isText ? textMethods : type === isNumber ? numberMethods : undefined;
    if (!methods || !Object.hasOwn(methods, name)) return undefined;
    const result = methods[name]!;
    return (cannotThrow(name, args) ? result & ~mayThrow : result) | throws;
  }
}

/** The missing branch of a condition. */
const nowhere = { flags: 0, ends: false };

function literal(node: Node): number | undefined {
  if (node['regex'] || node['bigint']) return undefined;
  if (node['value'] === null) return isNothing;
  return { string: isText, number: isNumber, boolean: isFlag }[typeof node['value'] as string];
}
