import { existsSync, readFileSync, statSync } from 'node:fs';
import { join, posix, resolve, sep } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { pathToFileURL } from 'node:url';
import { nearest } from './nearest.ts';
import { sourceError } from './source-error.ts';
import { excerptOf, ToolError } from './tool-error.ts';

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
  /**
   * Whether elements take over views that a server has rendered, and `eltrix build` writes `server.js`, which renders them;
   * false unless given. A text is the address at which pages find the built files, `/` unless given.
   */
  readonly render?: boolean | string;
  /** Whether `eltrix build` writes source maps; true unless given. */
  readonly sourcemap?: boolean;
  /** The content security policy of the pages in which `eltrix test` runs tests; none unless given. */
  readonly testPolicy?: string;
  /** By tag, rules of the conformance check from which an element is exempt, each with the reason. */
  readonly conformance?: Readonly<Record<string, { readonly exempt?: Readonly<Record<string, string>> }>>;
}

const known: Record<keyof Configuration, readonly string[]> = {
  source: ['string'],
  out: ['string'],
  target: ['string'],
  budget: ['string', 'number', 'object'],
  classic: ['boolean'],
  render: ['boolean', 'string'],
  sourcemap: ['boolean'],
  testPolicy: ['string'],
  conformance: ['object'],
};

export type ReadConfiguration = Required<Omit<Configuration, 'budget' | 'testPolicy' | 'conformance'>> &
  Pick<Configuration, 'budget' | 'conformance'> & { readonly testPolicy: string | undefined };

/**
 * @param option the folder of the sources, as the command line names it.
 * @throws ToolError for a key or value that cannot be.
 */
export async function readConfiguration(root: string, option?: string): Promise<ReadConfiguration> {
  const file = join(root, 'eltrix.config.js');
  let from = 'package.json, "eltrix"';
  let given: unknown = {};
  if (existsSync(file)) {
    from = 'eltrix.config.js';
    const module = await loadConfiguration(root, file);
    if (!('default' in module))
      throw new ToolError(
        'config-value',
        "eltrix.config.js has no default export, so it says nothing. Write export default { source: 'src' };",
        { file: from },
      );
    given = module.default;
  } else given = readPackage(root)['eltrix'] ?? {};
  if (typeof given !== 'object' || given === null || Array.isArray(given))
    throw new ToolError(
      'config-value',
      `${from}: ${describe(given)} is no object of options. Write ${from.startsWith('package') ? '"eltrix": { "source": "src" }' : "export default { source: 'src' };"}`,
      { file: from.replace(/,.*$/, '') },
    );
  for (const [key, value] of Object.entries(given)) {
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
  const source = option ?? (given as Configuration).source;
  if (source !== undefined) refuseSource(root, source, option === undefined ? `${from}: "source"` : '--source');
  return {
    source: 'src',
    out: 'dist',
    target: 'es2022',
    classic: false,
    render: false,
    sourcemap: true,
    testPolicy: undefined,
    ...(given as Configuration),
    ...(source === undefined ? {} : { source: tidied(source) }),
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
    const module = (await Promise.race([import(address), tooLate])) as { readonly default?: unknown };
    return 'default' in module ? { default: await Promise.race([module.default, tooLate]) } : {};
  } catch (error) {
    const code = readFileSync(file, 'utf8');
    // The parser is needed for this only.
    const { syntaxError } = await import('./syntax.ts');
    const wrong = error instanceof SyntaxError ? syntaxError(file, code) : undefined;
    if (!wrong) throw sourceError(error, root);
    const { message, line, column } = wrong;
    const position = { file: 'eltrix.config.js', line, column };
    throw new ToolError('source-error', message, position, excerptOf(code, line, column));
  } finally {
    tooLate.catch(() => {});
    late.abort();
  }
}

const describe = (value: unknown): string =>
  Array.isArray(value)
    ? 'a list'
    : value === null
      ? 'null'
      : typeof value === 'function'
        ? 'a function'
        : JSON.stringify(value);

/** A folder as it is joined with others: without `./` and a last slash. */
const tidied = (folder: string): string => posix.normalize(folder.replaceAll('\\', '/')).replace(/(?<=.)\/$/, '');

/** @throws ToolError for a folder of sources that is none, or that would be half the disk. */
function refuseSource(root: string, source: string, from: string): void {
  const path = resolve(root, source);
  if (source.trim() !== '' && !root.startsWith(path.endsWith(sep) ? path : path + sep)) return;
  throw new ToolError(
    'config-value',
    `${from} is ${JSON.stringify(source)}${source.trim() === '' ? ', which is no folder' : ', and the project itself lies in there'}. Write the folder of the sources, for example "src", or "." for the whole project.`,
    undefined,
    undefined,
    2,
  );
}

/** The project's package.json; empty if there is none. */
export function readPackage(root: string): Record<string, unknown> {
  const file = join(root, 'package.json');
  if (!existsSync(file)) return {};
  let read: unknown;
  try {
    read = JSON.parse(readFileSync(file, 'utf8').replace(/^\uFEFF/, ''));
  } catch (error) {
    throw new ToolError('config-value', `package.json is no JSON: ${(error as Error).message}.`, {
      file: 'package.json',
    });
  }
  if (typeof read === 'object' && read !== null && !Array.isArray(read)) return read as Record<string, unknown>;
  throw new ToolError(
    'config-value',
    `package.json holds ${describe(read)}, and has to be an object: { "type": "module" }`,
    {
      file: 'package.json',
    },
  );
}
