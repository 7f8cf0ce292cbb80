/** The syntax tree of a module, from the bundler's parser. */
import { parseSync } from './parser.ts';
import { refuseTooDeep } from './readable-modules.ts';
import { positionIn, type TextPosition } from './text-position.ts';

/** A node. Positions are UTF-16 offsets; other fields depend on the type (ESTree, with TypeScript's nodes). */
export interface Node {
  readonly type: string;
  readonly start: number;
  readonly end: number;
  // biome-ignore lint/suspicious/noExplicitAny: fields differ by type.
  readonly [field: string]: any;
}

export class ParsedModule {
  readonly program: Node;
  #bound: ReadonlyMap<string, readonly Range[]> | undefined;

  constructor(program: Node) {
    this.program = program;
  }

  /** Every name that is bound outside imports (parameters, variables, functions, classes, enums), with its scopes. */
  get bound(): ReadonlyMap<string, readonly Range[]> {
    this.#bound ??= boundIn(this.program);
    return this.#bound;
  }
}

/** A range of text, as offsets. */
export type Range = readonly [start: number, end: number];

/** Caches the last parsed modules by text: compiling and describing parse the same ones. */
const recent = new Map<string, ParsedModule>();
let kept = 150;

/** Enlarges the cache, for a process that runs for long. */
export function keepModules(count: number): void {
  kept = count;
}

/** @returns null for a module with a syntax error, which the bundler reports. */
export function parseModule(file: string, code: string): ParsedModule | null {
  const known = recent.get(code);
  if (known) return known;
  const parsed = parse(file, code);
  if (parsed) {
    recent.set(code, parsed);
    for (const first of recent.keys()) {
      if (recent.size <= kept) break;
      recent.delete(first);
    }
  }
  return parsed;
}

function parse(file: string, code: string): ParsedModule | null {
  refuseTooDeep(file, code);
  const { program, errors } = parseSync(file.replace(/\?.*$/, ''), code);
  return errors.length > 0 ? null : new ParsedModule(program as unknown as Node);
}

function boundIn(program: Node): ReadonlyMap<string, readonly Range[]> {
  const bound = new Map<string, Range[]>();
  const bind = (pattern: Node, { start, end }: Node) => {
    for (const name of namesOf(pattern)) {
      const ranges = bound.get(name);
      if (ranges) ranges.push([start, end]);
      else bound.set(name, [[start, end]]);
    }
  };
  walk(program, (node, parents) => {
    if (node.type.startsWith('Import')) return false;
    // The enclosing function is used as the scope, even for names of a block.
    const around = () => parents.findLast(({ type }) => /Function/.test(type)) ?? program;
    if (node.type === 'VariableDeclarator') bind(node['id'], around());
    else if (/Function/.test(node.type)) {
      if (node['id']) bind(node['id'], around());
      for (const param of node['params'] ?? []) bind(param, node);
    } else if (/^(?:Class|TSEnumDeclaration)/.test(node.type) && node['id']) bind(node['id'], around());
    else if (node.type === 'CatchClause' && node['param']) bind(node['param'], around());
    return true;
  });
  return bound;
}

/** The scope of `bound` to which a name belongs; undefined if it binds the name twice, or none does. */
export function scopeOfName(bound: ReadonlyMap<string, readonly Range[]>, { name, start }: Node): Range | undefined {
  const around = (bound.get(name as string) ?? []).filter(([from, to]) => from <= start && start < to);
  const from = Math.max(...around.map(([from]) => from));
  const [scope, ...others] = around.filter(range => range[0] === from);
  return others.length > 0 ? undefined : scope;
}

/** The position and message of a syntax error; undefined without one. Line and column from 1. */
export function syntaxError(file: string, code: string): ({ message: string } & TextPosition) | undefined {
  refuseTooDeep(file, code);
  const [error] = parseSync(file, code).errors;
  if (!error) return undefined;
  return { message: error.message, ...positionIn(code, error.labels[0]?.start ?? 0) };
}

/** The members that `const { a, b: c } = …` reads, where a node stands on its right side; undefined elsewhere. */
export function membersRead(node: Node, above: Node | undefined): readonly string[] | undefined {
  const pattern = above?.type === 'VariableDeclarator' && above['init'] === node ? (above['id'] as Node) : undefined;
  if (pattern?.type !== 'ObjectPattern') return undefined;
  const properties = pattern['properties'] as Node[];
  if (!properties.every(({ type, computed, key }) => type === 'Property' && !computed && key.type === 'Identifier'))
    return undefined;
  return properties.map(({ key }) => key['name'] as string);
}

/** The names that a pattern binds. */
export function namesOf(pattern: Node): Set<string> {
  const found = new Set<string>();
  walk(pattern, node => {
    if (node.type === 'Identifier') found.add(node['name']);
    // Defaults and computed keys are included: too many names do no harm.
    return !node.type.startsWith('TSType');
  });
  return found;
}

/** Calls `enter` for each node, parents first; false skips a node's children. */
export function walk(node: Node, enter: (node: Node, parents: readonly Node[]) => unknown, parents: Node[] = []): void {
  if (enter(node, parents) === false) return;
  parents.push(node);
  // The nodes of a type have other fields in TypeScript than in JavaScript.
  for (const key in node) {
    const value = node[key] as unknown;
    if (typeof value !== 'object' || value === null) continue;
    if (Array.isArray(value)) {
      for (const item of value) if (isNode(item)) walk(item, enter, parents);
    } else if (isNode(value)) walk(value, enter, parents);
  }
  parents.pop();
}

function isNode(value: unknown): value is Node {
  return typeof value === 'object' && value !== null && typeof (value as Node).type === 'string';
}

/** An expression without parentheses and TypeScript syntax around it. */
export function bare(node: Node): Node {
  let inner = node;
  while (/^(?:TSAsExpression|TSSatisfiesExpression|TSNonNullExpression|ParenthesizedExpression)$/.test(inner.type))
    inner = inner['expression'];
  return inner;
}

/** The expression that a function returns, if its body has no other statement. */
export function onlyReturn(body: Node): Node | undefined {
  if (body.type !== 'BlockStatement') return body;
  const [statement, ...more] = body['body'] as Node[];
  if (more.length > 0 || statement?.type !== 'ReturnStatement') return undefined;
  return (statement['argument'] as Node | null) ?? undefined;
}

/** Whether a node is TypeScript syntax without an effect at run time. */
export function isType({ type, declare, kind }: Node): boolean {
  return (
    declare === true ||
    (/^TS(?:Type|Interface)/.test(type) && type !== 'TSTypeAssertion') ||
    (kind === 'type' && /^(?:Im|Ex)port/.test(type))
  );
}

/** The name in `this.name`; undefined for other expressions, and for private fields. */
export function thisMember(expression: Node): string | undefined {
  const node = bare(expression);
  if (node.type !== 'MemberExpression' || node['computed'] || bare(node['object']).type !== 'ThisExpression')
    return undefined;
  const { property } = node;
  return property.type === 'Identifier' ? property['name'] : undefined;
}

/** The same; `#` stands before the name of a private member. */
export function ownMember(expression: Node): string | undefined {
  const node = bare(expression);
  const isPrivate =
    node.type === 'MemberExpression' &&
    node['property'].type === 'PrivateIdentifier' &&
    bare(node['object']).type === 'ThisExpression';
  return isPrivate ? `#${node['property']['name'] as string}` : thisMember(node);
}

/** The key in an object or class as text; undefined for computed and private keys. */
export function keyOf(member: Node): string | undefined {
  const key = member['key'] as Node;
  if (!key || (member['computed'] && key.type !== 'Literal')) return undefined;
  return key.type === 'Identifier' ? key['name'] : key.type === 'Literal' ? String(key['value']) : undefined;
}

/**
 * The members of an object literal by name; undefined if some are unknown.
 * @param resolve finds the object of a name, also of one that is spread.
 */
export function fieldsOf(given: Node | undefined, resolve = (node: Node) => node): Map<string, Node> | undefined {
  const node = given && resolve(given);
  if (node?.type !== 'ObjectExpression') return undefined;
  const fields = new Map<string, Node>();
  for (const property of node['properties'] as Node[]) {
    const spread = property.type === 'SpreadElement' ? fieldsOf(property['argument'], resolve) : undefined;
    for (const [key, field] of spread ?? []) fields.set(key, field);
    if (spread) continue;
    const key = property.type === 'Property' ? keyOf(property) : undefined;
    if (key === undefined || property['kind'] !== 'init') return undefined;
    fields.set(key, property);
  }
  return fields;
}
