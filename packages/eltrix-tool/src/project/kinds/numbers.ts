import { type Declared, type KindFacts, quoted, type ValueProblem } from './kind-facts.ts';

/** HTML §2.3.4: whole numbers of a range. */
function whole(name: string, [min, max]: readonly [number, number], samples: readonly number[]): KindFacts {
  return {
    ...number(name, samples),
    whole: true,
    ...(min > -2147483648 ? { least: min } : {}),
    invalid: ['', 'many', '-'],
    problem: (declared, text) => wholeProblem(declared.name, text, declared.range ?? [min, max]),
  };
}

function number(name: string, samples: readonly number[]): KindFacts {
  return {
    positional: 0,
    rule: numericRule(name),
    state: 'attribute',
    primitive: 'number',
    type: () => 'number',
    accepts: () => 'number | bigint | `${number}`',
    control: ({ range }) => (range ? 'range' : 'number'),
    samples: () => numbered(samples),
    invalid: ['', 'many', 'NaN'],
    problem: ({ name }, text) => (isNumber(text) ? undefined : noNumber(name, text)),
  };
}

const numbered = (values: readonly number[]) => values.map(value => ({ text: String(value), value }));

/** Arguments in the order of the kind's parameters; trailing defaults are omitted. */
const numericRule =
  (name: string): KindFacts['rule'] =>
  (given, options) => {
    const [missing, fallback] = [options.said('default'), options.said('fallback')];
    const defaults =
      fallback !== undefined ? [missing ?? 'undefined', fallback] : missing === undefined ? [] : [missing];
    return `${name}Rule(${[...given, ...defaults].join(', ')})`;
  };

export const integer = whole('integer', [-2147483648, 2147483647], [7, 0, -3]);
export const nonNegative = whole('nonNegative', [0, 2147483647], [7, 0]);
export const unsigned = whole('unsigned', [0, 4294967295], [7, 0]);
export const positive = whole('positive', [1, 2147483647], [7, 1]);
export const clamped: KindFacts = {
  ...integer,
  positional: 2,
  rule: numericRule('clamped'),
  samples: ({ range }) => numbered(range!),
};
export const decimal = number('decimal', [1.5, 0, -2]);
export const positiveDecimal: KindFacts = {
  ...number('positiveDecimal', [1.5, 3]),
  least: 0,
  problem({ name }: Declared, text: string): ValueProblem | undefined {
    if (!isNumber(text)) return noNumber(name, text);
    if (Number(text) > 0) return undefined;
    return {
      code: 'number-range',
      message: `${name}=${quoted(text)} is not above 0, so the default is used. Write a number above 0.`,
    };
  },
};

const isNumber = (text: string) => /^[\t\n\f\r ]*[+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?[\t\n\f\r ]*$/i.test(text);

function noNumber(name: string, text: string): ValueProblem {
  return {
    code: 'number-invalid',
    message: `${name}=${quoted(text)} is no number, so the default is used. Write digits, for example ${name}="3".`,
  };
}

function wholeProblem(name: string, text: string, [min, max]: readonly [number, number]): ValueProblem | undefined {
  const found = /^[\t\n\f\r ]*([+-]?\d+)/.exec(text);
  if (!found) return noNumber(name, text);
  const read = Number(found[1]);
  if (found[0].length < text.trimEnd().length)
    return {
      code: 'number-invalid',
      message: `${name}=${quoted(text)} is read as ${read}: what follows the digits does not count. Write ${name}="${read}".`,
    };
  if (read >= min && read <= max) return undefined;
  const near = Math.min(Math.max(read, min), max);
  return {
    code: 'number-range',
    message: `${name}=${quoted(text)} is not between ${min} and ${max}. Write ${name}="${near}", or another number.`,
  };
}
