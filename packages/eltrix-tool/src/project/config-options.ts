/** The options of a configuration, in one place for types, checks and the JSON schema. */

/** Bytes: a number, or text such as `"3 kB"`. */
export type Bytes = number | string;

/** The options in `eltrix.config.*`, or under `eltrix` in package.json. */
export interface Configuration {
  /** The folder of the sources, relative to the project; `src` unless given. */
  readonly source?: string;
  /** The folder that `eltrix build` writes, relative to the project; `dist` unless given. */
  readonly out?: string;
  /** The oldest language version that the output may need, as in Vite's `build.target`; `es2022` unless given. */
  readonly target?: string;
  /**
   * The maximum compressed size (brotli) of an element with everything that it loads: for every element, or by tag
   * (`*` for the others).
   */
  readonly budget?: Bytes | Readonly<Record<string, Bytes>>;
  /** Whether `eltrix build` also writes `classic.js`, for pages that cannot load modules. */
  readonly classic?: boolean;
  /**
   * Whether elements adopt views that a server has rendered, and `eltrix build` writes `server.js`, which renders
   * them; false unless given. A string is the URL path of the built files, `/` unless given.
   */
  readonly render?: boolean | string;
  /** Whether `eltrix build` writes source maps; true unless given. */
  readonly sourcemap?: boolean;
  /** The content security policy of the pages in which `eltrix test` runs tests; none unless given. */
  readonly testPolicy?: string;
  /** Rules of the conformance check from which elements are exempt, by tag, each with the reason. */
  readonly conformance?: Readonly<Record<string, { readonly exempt?: Readonly<Record<string, string>> }>>;
}

interface Option {
  readonly types: readonly ('string' | 'number' | 'boolean' | 'object')[];
  readonly about: string;
  readonly example: unknown;
}

export const options: Readonly<Record<keyof Configuration, Option>> = {
  source: { types: ['string'], about: 'The folder of the sources. Default: "src".', example: 'src' },
  out: { types: ['string'], about: 'The folder that "eltrix build" writes. Default: "dist".', example: 'dist' },
  target: {
    types: ['string'],
    about: 'The oldest language version of the output. Default: "es2022".',
    example: 'es2022',
  },
  budget: {
    types: ['string', 'number', 'object'],
    about:
      'The maximum compressed size (brotli) of an element, shared files included; one for all, or by tag ("*" for the others).',
    example: { 'hive-card': '3 kB', '*': '6 kB' },
  },
  classic: {
    types: ['boolean'],
    about: 'Also write classic.js, for pages that cannot load modules. Default: false.',
    example: true,
  },
  render: {
    types: ['boolean', 'string'],
    about:
      'Elements adopt views rendered on a server, and "eltrix build" writes server.js. A text is the address of the built files. Default: false.',
    example: true,
  },
  sourcemap: { types: ['boolean'], about: 'Write source maps. Default: true.', example: false },
  testPolicy: {
    types: ['string'],
    about: 'The content security policy of the pages in which "eltrix test" runs tests. Default: none.',
    example: "default-src 'self'; require-trusted-types-for 'script'",
  },
  conformance: {
    types: ['object'],
    about: 'By tag, rules of the conformance check from which an element is exempt, each with the reason.',
    example: { 'year-clock': { exempt: { 'made-alike': 'shows the time' } } },
  },
};

/**
 * The JSON schema (draft 2020-12) of `eltrix.config.json`, and of `eltrix` in package.json.
 * @example writeFileSync('schema.json', JSON.stringify(configurationSchema()));
 */
export function configurationSchema(): object {
  const property = ({ types, about, example }: Option) => ({
    description: about,
    ...(types.length === 1 ? { type: types[0] } : { type: types }),
    ...(types.includes('object')
      ? {
          additionalProperties:
            example && 'hive-card' in (example as object) ? { type: ['string', 'number'] } : { type: 'object' },
        }
      : {}),
    examples: [example],
  });
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: 'Configuration of Eltrix',
    type: 'object',
    additionalProperties: false,
    properties: {
      $schema: { type: 'string', description: 'Where this schema is.' },
      ...Object.fromEntries(Object.entries(options).map(([name, option]) => [name, property(option)])),
    },
  };
}
