/** What can be known of a value without running it: whether it is text, a number, a truth value or nothing. */
import { bare, type Node } from '../project/syntax.ts';

/** What is known where an expression stands. */
export interface Known {
  /** Whether `this.name` is text, a number, a truth value or nothing. */
  isPlainMember(name: string): boolean;
  /** Whether `this.name` is a method. */
  isMethod(name: string): boolean;
}

/** Methods that give text or a number whatever they are called on, by convention of the language. */
const textMethods =
  /^(?:to(?:String|Fixed|Precision|Exponential|LocaleString|LocaleDateString|LocaleTimeString|UpperCase|LowerCase|ISOString)|pad(?:Start|End)|trim(?:Start|End)?)$/;
const textFunctions = /^(?:String|Number|Boolean|BigInt|parseInt|parseFloat|encodeURIComponent|isNaN)$/;

/** Whether an expression's value, or what it returns if it is a function, is no object and no function. */
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
  // Only straight code: a body that is one return, or conditions that each return.
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
      // What is falsy is plain, so only the right side of `&&` counts.
      return isPlainValue(node['right'], known) && (node['operator'] === '&&' || isPlainValue(node['left'], known));
    case 'ConditionalExpression':
      return isPlainValue(node['consequent'], known) && isPlainValue(node['alternate'], known);
    case 'SequenceExpression':
      return isPlainValue((node['expressions'] as Node[]).at(-1)!, known);
    case 'Identifier':
      return node['name'] === 'undefined';
    case 'CallExpression': {
      const callee = bare(node['callee']);
      if (callee.type === 'Identifier') return textFunctions.test(callee['name']);
      if (callee.type !== 'MemberExpression' || callee['computed']) return false;
      const object = bare(callee['object']);
      return (
        textMethods.test(callee['property']['name']) || (object.type === 'Identifier' && object['name'] === 'Math')
      );
    }
    case 'MemberExpression':
      return (
        bare(node['object']).type === 'ThisExpression' &&
        !node['computed'] &&
        known.isPlainMember(node['property']['name'])
      );
    default:
      return false;
  }
}

/** Whether an expression is certainly a function. */
export function isFunction(expression: Node, known: Known): boolean {
  const node = bare(expression);
  if (/^(?:Arrow)?FunctionExpression$/.test(node.type)) return true;
  return (
    node.type === 'MemberExpression' &&
    bare(node['object']).type === 'ThisExpression' &&
    !node['computed'] &&
    known.isMethod(node['property']['name'])
  );
}

/** Whether a type annotation names only text, numbers, truth values and nothing. */
export function isPlainType(annotation: Node | undefined | null): boolean {
  const type = annotation?.type === 'TSTypeAnnotation' ? (annotation['typeAnnotation'] as Node) : annotation;
  if (!type) return false;
  if (type.type === 'TSUnionType') return (type['types'] as Node[]).every(isPlainType);
  if (type.type === 'TSLiteralType') return true;
  return /^TS(?:String|Number|Boolean|BigInt|Null|Undefined|Void)Keyword$/.test(type.type);
}
