/** Functions of the language that always return the same for the same arguments, and the types of what they return. */
import { bare, type Node } from '../project/syntax.ts';

/** Flags: the possible types of a value, and whether evaluating it may throw. */
export const isText = 1;
export const isNumber = 2;
export const isFlag = 4;
export const isNothing = 8;
export const mayThrow = 16;
/** Any value, also an object. */
export const isAny = 32;
/** All types. */
export const types = isText | isNumber | isFlag | isNothing | isAny;

export const mathematics =
  /^(?:abs|ceil|floor|round|trunc|sign|max|min|sqrt|cbrt|pow|hypot|sin|cos|tan|atan2?|log(?:2|10)?|exp)$/;
export const textMethods: Readonly<Record<string, number>> = {
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
  toLocaleLowerCase: isText | mayThrow,
  toLocaleUpperCase: isText | mayThrow,
  toLowerCase: isText,
  toString: isText,
  toUpperCase: isText,
  trim: isText,
  trimEnd: isText,
  trimStart: isText,
};
export const numberMethods: Readonly<Record<string, number>> = {
  toFixed: isText | mayThrow,
  toLocaleString: isText | mayThrow,
  toPrecision: isText | mayThrow,
  toString: isText | mayThrow,
};
export const functions: Readonly<Record<string, number>> = {
  Boolean: isFlag,
  Number: isNumber,
  String: isText,
  encodeURIComponent: isText | mayThrow,
  isNaN: isFlag,
  parseFloat: isNumber,
  parseInt: isNumber,
};
export const numberFunctions = /^is(?:Finite|Integer|NaN|SafeInteger)$/;

/** The methods of the language's formatters that return text. */
export const formatters: Readonly<Record<string, RegExp>> = {
  NumberFormat: /^format$/,
  DateTimeFormat: /^format$/,
  PluralRules: /^select$/,
  RelativeTimeFormat: /^format$/,
};

/** Whether a method that may throw cannot throw with these arguments. */
export function cannotThrow(name: string, args: readonly Node[]): boolean {
  if (args.length === 0) return true;
  const [first] = args.map(bare);
  const value: unknown = first!.type === 'Literal' ? first!['value'] : undefined;
  if (typeof value !== 'number' || !Number.isInteger(value)) return false;
  if (name === 'toFixed') return value >= 0 && value <= 100;
  if (name === 'toString') return value >= 2 && value <= 36;
  return name !== 'toPrecision' && value >= 0 && value < 1000;
}
