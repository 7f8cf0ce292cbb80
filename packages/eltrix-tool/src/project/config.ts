import { existsSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { pathToFileURL } from 'node:url';
import { nearest } from './nearest.ts';
import { sourceError } from './source-error.ts';
import { ToolError } from './tool-error.ts';

/** Bytes: a number, or text such as `"3 kB"`. */
export type Bytes = number | string;

/** What `eltrix` in package.json or the default export of eltrix.config.js may say. */
export interface Configuration {
  /** The folder of the sources, from the project's; `src` unless given. */
  readonly source?: string;
  /** The folder that `eltrix build` writes, from the project's; `dist` unless given. */
  readonly out?: string;
  /** The oldest language that the output may need, as Vite's `build.target`; `es2022` unless given. */
  readonly target?: string;
  /** What an element may weigh in brotli with all that it loads: for every element, or by tag (`*` for the others). */
  readonly budget?: Bytes | Readonly<Record<string, Bytes>>;
  /** Whether `eltrix build` also writes `classic.js`, for pages that cannot load modules. */
  readonly classic?: boolean;
  /** Whether `eltrix build` writes source maps; true unless given. */
  readonly sourcemap?: boolean;
  /** The content security policy of the pages in which `eltrix test` runs tests; none unless given. */
  readonly testPolicy?: string;
}

const known: Record<keyof Configuration, readonly string[]> = {
  source: ['string'],
  out: ['string'],
  target: ['string'],
  budget: ['string', 'number', 'object'],
  classic: ['boolean'],
  sourcemap: ['boolean'],
  testPolicy: ['string'],
};

export type ReadConfiguration = Required<Omit<Configuration, 'budget' | 'testPolicy'>> &
  Pick<Configuration, 'budget'> & { readonly testPolicy: string | undefined };

/** @throws ToolError for a key or value that cannot be. */
export async function readConfiguration(root: string): Promise<ReadConfiguration> {
  const file = join(root, 'eltrix.config.js');
  let from = 'package.json, "eltrix"';
  let given: unknown = {};
  if (existsSync(file)) {
    from = 'eltrix.config.js';
    given = (await loadConfiguration(root, file)).default ?? {};
  } else given = readPackage(root)['eltrix'] ?? {};
  for (const [key, value] of Object.entries(given as object)) {
    const kinds = (known as Record<string, readonly string[]>)[key];
    if (!kinds) {
      const near = nearest(key, Object.keys(known));
      throw new ToolError(
        'config-key',
        `${from}: "${key}" is not an option.${near ? ` Did you mean "${near}"?` : ''} Options are ${Object.keys(known).join(', ')}.`,
      );
    }
    if (!kinds.includes(typeof value) || value === null)
      throw new ToolError(
        'config-value',
        `${from}: "${key}" takes a ${kinds.join(' or ')}, and ${JSON.stringify(value)} is none.`,
      );
  }
  return {
    source: 'src',
    out: 'dist',
    target: 'es2022',
    classic: false,
    sourcemap: true,
    testPolicy: undefined,
    ...(given as Configuration),
  };
}

/** How long a configuration may take to load, in milliseconds. */
const patience = 10_000;

async function loadConfiguration(root: string, file: string): Promise<{ readonly default?: unknown }> {
  const late = new AbortController();
  const tooLate = sleep(patience, undefined, { signal: late.signal }).then(() => {
    throw new ToolError(
      'config-hangs',
      `eltrix.config.js has not loaded within ${patience / 1000} s: it waits at its top level for what does not come.`,
      { file: 'eltrix.config.js' },
    );
  });
  try {
    // A module is kept for good by its address: what was saved since is another one.
    const address = `${pathToFileURL(file).href}?${statSync(file).mtimeMs}`;
    return (await Promise.race([import(address), tooLate])) as { readonly default?: unknown };
  } catch (error) {
    throw sourceError(error, root);
  } finally {
    tooLate.catch(() => {});
    late.abort();
  }
}

/** The project's package.json; empty if there is none. */
export function readPackage(root: string): Record<string, unknown> {
  const file = join(root, 'package.json');
  if (!existsSync(file)) return {};
  try {
    return JSON.parse(readFileSync(file, 'utf8')) as Record<string, unknown>;
  } catch (error) {
    throw new ToolError('config-value', `package.json is no JSON: ${(error as Error).message}.`, {
      file: 'package.json',
    });
  }
}
