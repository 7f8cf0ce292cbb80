import { type JsonSyntaxError, parseJson } from '../../../../eltrix/src/contract/parse-json.ts';
import { nearest } from '../nearest.ts';
import { singleQuoted } from '../single-quoted.ts';
import { call, type KindFacts, quoted } from './kind-facts.ts';

export const text: KindFacts = {
  positional: 0,
  rule: (given, options) => (options.own.size === 0 ? 'plainText' : call('textRule')(given, options)),
  state: 'attribute',
  primitive: 'text',
  type: ({ nullable }) => (nullable ? 'string | null' : 'string'),
  control: () => 'text',
  samples: () => ['Sorrel', '', ' two words '].map(text => ({ text, value: text })),
};

export const url: KindFacts = {
  positional: 0,
  rule: () => 'urlRule',
  state: 'attribute',
  primitive: 'text',
  type: () => 'string',
  control: () => 'url',
  samples: (_, base) => [{ text: 'field/hive.svg', value: new URL('field/hive.svg', base).href }],
};

export const choice: KindFacts = {
  positional: 1,
  rule(given, options) {
    if (![...options.own].every(key => key === 'missing' || key === 'invalid'))
      return call('choiceRule')(given, options);
    const [missing = "''", invalid = "''"] = [options.said('missing'), options.said('invalid')];
    const defaults = missing !== invalid ? [missing, invalid] : missing === "''" ? [] : [missing];
    return `plainChoiceRule(${[...given, ...defaults].join(', ')})`;
  },
  state: 'attribute',
  primitive: 'text',
  type(details) {
    const { values, missing, invalid } = details as Record<'missing' | 'invalid', string | null> & { values: string[] };
    const words = [...values, ...[missing, invalid].filter(word => word !== null && !values.includes(word))];
    const union = [...new Set(words)].map(word => singleQuoted(word!)).join(' | ');
    return missing === null || invalid === null ? `${union} | null` : union;
  },
  accepts: ({ values, aliases }) => [...values, ...aliases].map(value => JSON.stringify(value)).join(' | ') || 'Plain',
  control: () => 'choice',
  samples: ({ values }) => values.map(value => ({ text: value, value })),
  invalid: ['no-such-word'],
  problem({ name, values, aliases }, text) {
    const words = [...values, ...aliases];
    if (words.some(word => word.toLowerCase() === text.toLowerCase())) return undefined;
    const near = nearest(text, values);
    return {
      code: 'choice-invalid',
      message: `${name}=${quoted(text)} is none of ${values.map(quoted).join(', ')}.${near !== undefined ? ` Did you mean ${quoted(near)}?` : ''}`,
      ...(near !== undefined ? { instead: near } : {}),
    };
  },
};

export const tokens: KindFacts = {
  positional: 0,
  rule: call('tokensRule'),
  state: 'live',
  type: () => 'DOMTokenList',
  control: ({ values }) => (values.length > 0 ? 'tokens' : 'text'),
  samples: ({ values: [first = 'one two'] }) => [{ text: first }],
  problem({ name, values }, text) {
    const unknown = values.length > 0 ? text.split(/\s+/).find(token => token && !values.includes(token)) : undefined;
    if (unknown === undefined) return undefined;
    const near = nearest(unknown, values);
    return {
      code: 'choice-invalid',
      message: `${name}: ${quoted(unknown)} is not among the tokens ${values.map(quoted).join(', ')}.${near ? ` Did you mean ${quoted(near)}?` : ''}`,
      offset: text.indexOf(unknown),
      ...(near ? { instead: text.replace(unknown, near) } : {}),
    };
  },
};

export const json: KindFacts = {
  positional: 0,
  rule: call('jsonRule'),
  state: 'kept',
  type: () => undefined,
  control: () => 'json',
  problem({ name }, text) {
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
  },
};

export const custom: KindFacts = {
  positional: 0,
  rule: call('customRule'),
  state: 'kept',
  type: () => undefined,
  control: () => 'text',
};
