/** Checks an attribute's text against the attribute's kind. */
import { type JsonSyntaxError, parseJson } from '../../../../eltrix/src/contract/parse-json.ts';
import { nearest } from '../../project/nearest.ts';
import type { KnownAttribute } from './vocabulary.ts';

export interface ValueProblem {
  readonly code: string;
  readonly message: string;
  /** Its offset in the text, in UTF-16 units. */
  readonly offset?: number;
  /** The replacement, if there is exactly one; null removes the attribute. */
  readonly instead?: string | null;
}

const quoted = (text: string) => JSON.stringify(text.length > 60 ? `${text.slice(0, 59)}…` : text);
const least: Readonly<Record<string, number>> = { nonNegative: 0, unsigned: 0, positive: 1 };
/** HTML §2.3.4: the ranges of the integer kinds. */
const most: Readonly<Record<string, number>> = { unsigned: 4294967295 };

export function valueProblem(attribute: KnownAttribute, text: string): ValueProblem | undefined {
  const { name, kind, values, aliases, range } = attribute;
  switch (kind) {
    case 'flag':
      if (/^(?:false|0|no|off)$/i.test(text.trim()))
        return {
          code: 'flag-false',
          message: `${name}=${quoted(text)} means yes: a flag is true whenever it is there. Leave ${name} out.`,
          instead: null,
        };
      if (text === '' || text.toLowerCase() === name || text === 'true') return undefined;
      return {
        code: 'flag-value',
        message: `${name}=${quoted(text)}: a boolean attribute is true with any value. Write ${name} alone, or remove it.`,
      };
    case 'integer':
    case 'nonNegative':
    case 'unsigned':
    case 'positive':
    case 'clamped':
      return wholeProblem(name, text, range ?? [least[kind] ?? -2147483648, most[kind] ?? 2147483647]);
    case 'decimal':
    case 'positiveDecimal': {
      if (!/^[\t\n\f\r ]*[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?[\t\n\f\r ]*$/i.test(text)) return noNumber(name, text);
      return kind === 'positiveDecimal' && Number(text) <= 0
        ? {
            code: 'number-range',
            message: `${name}=${quoted(text)} is not above 0, so the default is used. Write a number above 0.`,
          }
        : undefined;
    }
    case 'choice': {
      const words = [...values, ...aliases];
      if (words.some(word => word.toLowerCase() === text.toLowerCase())) return undefined;
      const near = nearest(text, values);
      return {
        code: 'choice-invalid',
        message: `${name}=${quoted(text)} is none of ${values.map(quoted).join(', ')}.${near !== undefined ? ` Did you mean ${quoted(near)}?` : ''}`,
        ...(near !== undefined ? { instead: near } : {}),
      };
    }
    case 'tokens': {
      const unknown = values.length > 0 ? text.split(/\s+/).find(token => token && !values.includes(token)) : undefined;
      if (unknown === undefined) return undefined;
      const near = nearest(unknown, values);
      return {
        code: 'choice-invalid',
        message: `${name}: ${quoted(unknown)} is not among the tokens ${values.map(quoted).join(', ')}.${near ? ` Did you mean ${quoted(near)}?` : ''}`,
        offset: text.indexOf(unknown),
        ...(near ? { instead: text.replace(unknown, near) } : {}),
      };
    }
    case 'json':
      try {
        parseJson(text);
        return undefined;
      } catch (error) {
        const { message, offset } = error as JsonSyntaxError;
        return {
          code: 'json-invalid',
          message: `${name} is no JSON, so the element keeps its default: ${message}. In HTML, put the attribute in single quotes and JSON's own strings in double ones.`,
          offset,
        };
      }
    default:
      return undefined;
  }
}

function noNumber(name: string, text: string): ValueProblem {
  return {
    code: 'number-invalid',
    message: `${name}=${quoted(text)} is no number, so the default is used. Write digits, for example ${name}="3".`,
  };
}

function wholeProblem(name: string, text: string, [min, max]: readonly [number, number]): ValueProblem | undefined {
  const whole = /^[\t\n\f\r ]*([+-]?\d+)/.exec(text);
  if (!whole) return noNumber(name, text);
  const number = Number(whole[1]);
  if (whole[0].length < text.trimEnd().length)
    return {
      code: 'number-invalid',
      message: `${name}=${quoted(text)} is read as ${number}: what follows the digits does not count. Write ${name}="${number}".`,
    };
  if (number >= min && number <= max) return undefined;
  const near = Math.min(Math.max(number, min), max);
  return {
    code: 'number-range',
    message: `${name}=${quoted(text)} is not between ${min} and ${max}. Write ${name}="${near}", or what is meant.`,
  };
}
