import { type KindFacts, quoted } from './kind-facts.ts';

export const flag: KindFacts = {
  positional: 0,
  rule: () => 'flagRule',
  state: 'attribute',
  primitive: 'flag',
  type: () => 'boolean',
  accepts: () => "boolean | ''",
  control: () => 'flag',
  samples: () => [{ text: '', value: true }],
  problem({ name }, text) {
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
  },
};
