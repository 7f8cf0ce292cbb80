/** Infers the types of values without running the code: text, number, boolean or null. */
import { bare, type Node, thisMember } from '../project/syntax.ts';
import type { RowOf } from './data-types.ts';
import { isAny } from './known-functions.ts';

/** The facts about names where an expression stands. */
export interface Known {
  /** Whether `this.name` is a primitive. */
  isPlainMember(name: string): boolean;
  /**
   * The flags of `this.data`, or of a member of its value, by its type; undefined for other expressions.
   * @param rowOf as in `DataTypes.resultFlagsOf`; without it only what runs no code of the author.
   */
  dataFlags(expression: Node, rowOf?: RowOf): number | undefined;
  /** Whether `this.name` is a method. */
  isMethod(name: string): boolean;
  /** Whether a name is a global of the language. */
  isGlobal(name: string): boolean;
}

/** No facts. */
export const unknown: Known = {
  isPlainMember: () => false,
  dataFlags: () => undefined,
  isMethod: () => false,
  isGlobal: () => false,
};

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
    return statement.type === 'ExpressionStatement' || statement.type === 'VariableDeclaration';
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
      return node['name'] === 'undefined' && known.isGlobal('undefined');
    case 'CallExpression': {
      const flags = known.dataFlags(node);
      if (flags !== undefined) return !(flags & isAny);
      const callee = bare(node['callee']);
      if (callee.type === 'Identifier') return textFunctions.test(callee['name']) && known.isGlobal(callee['name']);
      if (callee.type !== 'MemberExpression' || callee['computed']) return false;
      const object = bare(callee['object']);
      if (object.type === 'Identifier' && object['name'] === 'Math') return known.isGlobal('Math');
      return textMethods.test(callee['property']['name']) && isPlainValue(object, known);
    }
    case 'ChainExpression':
    case 'MemberExpression': {
      const flags = known.dataFlags(node);
      if (flags !== undefined) return !(flags & isAny);
      if (node.type === 'ChainExpression') return isPlainValue(node['expression'], known);
      const name = thisMember(node);
      if (name !== undefined) return known.isPlainMember(name);
      return !node['computed'] && node['property']['name'] === 'length' && isPlainValue(node['object'], known);
    }
    default:
      return false;
  }
}

/** Whether an expression is certainly a function. */
export function isFunction(expression: Node, known: Known): boolean {
  const node = bare(expression);
  if (/^(?:Arrow)?FunctionExpression$/.test(node.type)) return true;
  const name = thisMember(node);
  return name !== undefined && known.isMethod(name);
}

/** Whether a type annotation contains only primitives. */
export function isPlainType(annotation: Node | undefined | null): boolean {
  const type = annotation?.type === 'TSTypeAnnotation' ? (annotation['typeAnnotation'] as Node) : annotation;
  if (!type) return false;
  if (type.type === 'TSUnionType') return (type['types'] as Node[]).every(isPlainType);
  if (type.type === 'TSLiteralType') return true;
  return /^TS(?:String|Number|Boolean|BigInt|Null|Undefined|Void)Keyword$/.test(type.type);
}
