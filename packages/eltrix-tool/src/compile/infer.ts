/** Infers the types of values without running the code: text, number, boolean or null. */
import { bare, type Node, namesOf, thisMember } from '../project/syntax.ts';
import type { RowNames } from './data-types.ts';
import { isAny } from './known-functions.ts';
import type { Made, Names } from './module-values.ts';

/** The facts about names where an expression stands. */
export interface Known {
  /** Whether `this.name` is a primitive. */
  isPlainMember(name: string): boolean;
  /**
   * The flags of `this.data`, or of a member of its value, by its type; undefined for other expressions.
   * @param names @param mayRun as in `DataTypes.flagsOf`.
   */
  dataFlags(expression: Node, names?: RowNames, mayRun?: boolean): number | undefined;
  /** Whether it has signals, whose changes its view may follow. */
  readonly hasSignals?: boolean;
  /** Whether a parameter of the function around is a primitive, by its type. */
  isPlainParameter?(name: string): boolean;
  /** Whether `this.name` is a method. */
  isMethod(name: string): boolean;
  readonly names: Names;
}

/** No facts but the meaning of names. */
export const onlyNames = (names: Names): Known => ({
  isPlainMember: () => false,
  dataFlags: () => undefined,
  isMethod: () => false,
  names,
});

/** Methods of primitives that return primitives; other methods return lists. */
const textMethods =
  /^(?:at|char(?:At|CodeAt)|codePointAt|concat|(?:ends|starts)With|includes|(?:last)?[iI]ndexOf|localeCompare|normalize|pad(?:Start|End)|repeat|replace(?:All)?|search|slice|substring|to(?:String|Fixed|Precision|Exponential|LocaleString|(?:Locale)?(?:Upper|Lower)Case)|trim(?:Start|End)?|valueOf)$/;
const textFunctions = /^(?:String|Number|Boolean|BigInt|parseInt|parseFloat|encodeURIComponent|isNaN)$/;

/** Whether the value of an expression, or its result if it is a function, is a primitive. */
export function isPlain(expression: Node, known: Known): boolean {
  const node = bare(expression);
  if (node.type === 'ArrowFunctionExpression') {
    if (node['async'] || node['generator']) return false;
    return node['body'].type === 'BlockStatement'
      ? returnsPlain(node['body'], known)
      : isPlainValue(node['body'], known);
  }
  return isPlainValue(node, known);
}

function returnsPlain(body: Node, known: Known): boolean {
  // Only straight code: one return, or conditions that each return.
  return (body['body'] as Node[]).every(statement => {
    if (statement.type === 'ReturnStatement')
      return !statement['argument'] || isPlainValue(statement['argument'], known);
    if (statement.type === 'IfStatement') {
      const branches = [statement['consequent'], statement['alternate']].filter(Boolean) as Node[];
      return branches.every(branch =>
        returnsPlain(branch.type === 'BlockStatement' ? branch : ({ body: [branch] } as never), known),
      );
    }
    if (statement.type === 'VariableDeclaration')
      return (statement['declarations'] as Node[]).every(
        ({ id }) => ![...namesOf(id)].some(name => known.isPlainParameter?.(name)),
      );
    return statement.type === 'ExpressionStatement';
  });
}

function isPlainValue(expression: Node, known: Known): boolean {
  const node = bare(expression);
  switch (node.type) {
    case 'Literal':
      return !('regex' in node && node['regex']);
    case 'TemplateLiteral':
    case 'UnaryExpression':
    case 'BinaryExpression':
    case 'UpdateExpression':
      return true;
    case 'LogicalExpression':
      // A falsy left side of `&&` is a primitive, so only the right side counts.
      return isPlainValue(node['right'], known) && (node['operator'] === '&&' || isPlainValue(node['left'], known));
    case 'ConditionalExpression':
      return isPlainValue(node['consequent'], known) && isPlainValue(node['alternate'], known);
    case 'SequenceExpression':
      return isPlainValue((node['expressions'] as Node[]).at(-1)!, known);
    case 'Identifier':
      if (known.isPlainParameter?.(node['name'])) return true;
      if (known.names.isGlobal(node)) return node['name'] === 'undefined';
      return isPlainConstant(known.names.made(node));
    case 'CallExpression': {
      const flags = known.dataFlags(node);
      if (flags !== undefined) return !(flags & isAny);
      const callee = bare(node['callee']);
      if (callee.type === 'Identifier' && known.names.isGlobal(callee)) return textFunctions.test(callee['name']);
      const fn = known.names.made(callee);
      if (fn) return givesPlain(fn);
      if (callee.type !== 'MemberExpression' || callee['computed']) return false;
      const object = bare(callee['object']);
      if (object.type === 'Identifier' && object['name'] === 'Math') return known.names.isGlobal(object);
      return textMethods.test(callee['property']['name']) && isPlainValue(object, known);
    }
    case 'ChainExpression':
    case 'MemberExpression': {
      const flags = known.dataFlags(node);
      if (flags !== undefined) return !(flags & isAny);
      if (node.type === 'ChainExpression') return isPlainValue(node['expression'], known);
      const name = thisMember(node);
      if (name !== undefined) return known.isPlainMember(name);
      if (isPlainConstant(known.names.made(node))) return true;
      return !node['computed'] && node['property']['name'] === 'length' && isPlainValue(node['object'], known);
    }
    default:
      return false;
  }
}

/** What is being read, to stop at recursion. */
const inside = new Set<Node>();

/** Whether a constant is a primitive. */
const isPlainConstant = (made: Made | undefined) =>
  made !== undefined && isPlainInside(made, known => isPlainValue(made.node, known));

/** Whether calling a function always gives a primitive. */
function givesPlain(made: Made): boolean {
  const { node } = made;
  if (!/Function/.test(node.type) || node['async'] || node['generator']) return false;
  const { returnType, params, body } = node;
  if (isPlainType(returnType)) return true;
  const plain = (params as Node[]).filter(({ typeAnnotation }) => isPlainType(typeAnnotation));
  const isPlainParameter = (name: string) => plain.some(parameter => parameter['name'] === name);
  return isPlainInside(made, names => {
    const known = { ...names, isPlainParameter };
    return body.type === 'BlockStatement' ? returnsPlain(body, known) : isPlainValue(body, known);
  });
}

function isPlainInside({ node, names }: Made, judge: (known: Known) => boolean): boolean {
  if (inside.has(node)) return false;
  inside.add(node);
  try {
    return judge(onlyNames(names));
  } finally {
    inside.delete(node);
  }
}

/** Whether an expression is certainly a function. */
export function isFunction(expression: Node, known: Known): boolean {
  const node = bare(expression);
  if (/^(?:Arrow)?FunctionExpression$/.test(node.type)) return true;
  const name = thisMember(node);
  if (name !== undefined) return known.isMethod(name);
  return /Function/.test(known.names.made(node)?.node.type ?? '');
}

/** Whether a type annotation contains only primitives. */
export function isPlainType(annotation: Node | undefined | null): boolean {
  const type = annotation?.type === 'TSTypeAnnotation' ? (annotation['typeAnnotation'] as Node) : annotation;
  if (!type) return false;
  if (type.type === 'TSUnionType') return (type['types'] as Node[]).every(isPlainType);
  if (type.type === 'TSLiteralType') return true;
  return /^TS(?:String|Number|Boolean|BigInt|Null|Undefined|Void)Keyword$/.test(type.type);
}
