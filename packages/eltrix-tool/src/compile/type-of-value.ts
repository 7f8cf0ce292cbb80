/** The types of properties and signals, as a source writes them. */
import { bare, type Node } from '../project/syntax.ts';
import { literals } from './module-types.ts';

/**
 * The type of a property, as written: of the call of `data`, or of its function's result.
 * @param isTyped whether the module is TypeScript, where a value has the type of the literal that it is made from.
 */
export function typeOfData(call: Node, isTyped: boolean): Node | undefined {
  const make = bare(call['arguments'][0]);
  const result = make.type === 'ArrowFunctionExpression' && !make['async'] ? make['body'] : undefined;
  return typeGiven(call) ?? make['returnType'] ?? (result && typeOfValue(result, isTyped));
}

/** The same for a signal. */
export function typeOfSignal(call: Node, isTyped: boolean): Node | undefined {
  const [value] = call['arguments'] as Node[];
  return typeGiven(call) ?? (value && typeOfValue(value, isTyped));
}

const typeGiven = (call: Node) => (call['typeArguments']?.params as Node[] | undefined)?.[0];

function typeOfValue(value: Node, isTyped: boolean): Node | undefined {
  if (value.type === 'ParenthesizedExpression') return typeOfValue(value['expression'], isTyped);
  if (value.type === 'TSAsExpression') return value['typeAnnotation'];
  const literal = bare(value);
  const name = literal.type === 'Literal' ? typeof literal['value'] : '';
  return isTyped && Object.hasOwn(literals, name)
    ? { ...literal, type: `TS${name[0]!.toUpperCase()}${name.slice(1)}Keyword` }
    : undefined;
}
