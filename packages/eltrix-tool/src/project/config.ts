import { existsSync, readFileSync, statSync } from 'node:fs';
import { join, posix, relative, resolve, sep } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { pathToFileURL } from 'node:url';
import { type Configuration, options } from './config-options.ts';
import { nearest } from './nearest.ts';
import { configurationFiles, place } from './place.ts';
import { sourceError } from './source-error.ts';
import { excerptOf, ToolError } from './tool-error.ts';

export type { Bytes, Configuration } from './config-options.ts';

export type ReadConfiguration = Required<Omit<Configuration, 'budget' | 'testPolicy' | 'conformance'>> &
  Pick<Configuration, 'budget' | 'conformance'> & { readonly testPolicy: string | undefined };

/**
 * @param option the folder of the sources, from the command line.
 * @throws ToolError for an unknown key or an invalid value.
 */
export async function readConfiguration(root: string, option?: string): Promise<ReadConfiguration> {
  const file = configurationOf(root);
  let from = 'package.json, "eltrix"';
  let given: unknown = {};
  if (file) {
    from = relative(root, file).replaceAll('\\', '/') || file;
    const module = await loadConfiguration(root, file, from);
    if (!('default' in module))
      throw new ToolError(
        'config-value',
        `${from} has no default export, so it says nothing. Write export default { source: 'src' };`,
        { file: from },
      );
    given = module.default;
  } else given = readPackage(root)['eltrix'] ?? {};
  if (typeof given !== 'object' || given === null || Array.isArray(given))
    throw new ToolError(
      'config-value',
      `${from}: ${describe(given)} is no object of options. Write ${from.startsWith('package') ? '"eltrix": { "source": "src" }' : from.endsWith('json') ? '{ "source": "src" }' : "export default { source: 'src' };"}`,
      { file: from.replace(/,.*$/, '') },
    );
  for (const [key, value] of Object.entries(given)) {
    // The key with the path of the schema, for editors.
    if (key === '$schema') continue;
    const kinds = (options as Readonly<Record<string, { readonly types: readonly string[] }>>)[key]?.types;
    if (!kinds) {
      const near = nearest(key, Object.keys(options));
      throw new ToolError(
        'config-key',
        `${from}: "${key}" is not an option.${near ? ` Did you mean "${near}"?` : ''} Options are ${Object.keys(options).join(', ')}.`,
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

/** The time limit for loading a configuration, in milliseconds. */
const patience = 10_000;

/** The file of `--config`, or the configuration in the project's folder. @throws ToolError if there are several. */
export function configurationOf(root: string): string | undefined {
  const { configuration } = place;
  if (configuration !== undefined) {
    if (existsSync(configuration)) return configuration;
    throw new ToolError(
      'config-missing',
      `There is no file ${configuration}. Name the configuration with --config, for example --config eltrix.config.ts.`,
      undefined,
      undefined,
      2,
    );
  }
  const found = configurationFiles.filter(name => existsSync(join(root, name)));
  if (found.length > 1)
    throw new ToolError(
      'config-twice',
      `There are several configurations: ${found.join(' and ')}. Keep one of them, or name one with --config.`,
      undefined,
      undefined,
      2,
    );
  return found[0] && join(root, found[0]);
}

async function loadConfiguration(root: string, file: string, name: string): Promise<{ readonly default?: unknown }> {
  if (name.endsWith('.json')) return { default: readJson(file, name) };
  const late = new AbortController();
  const tooLate = sleep(patience, undefined, { signal: late.signal }).then(() => {
    throw new ToolError(
      'config-hangs',
      `${name} has not loaded within ${patience / 1000} s: it waits at its top level for what does not come.`,
      { file: name },
    );
  });
  try {
    const module = (await Promise.race([load(root, file), tooLate])) as { readonly default?: unknown };
    return 'default' in module ? { default: await Promise.race([module.default, tooLate]) } : {};
  } catch (error) {
    const code = readFileSync(file, 'utf8');
    // Imported here, since only this function needs the parser.
    const { syntaxError } = await import('./syntax.ts');
    const wrong = error instanceof ToolError ? undefined : syntaxError(file, code);
    if (!wrong) throw sourceError(error, root);
    const { message, line, column } = wrong;
    throw new ToolError('source-error', message, { file: name, line, column }, excerptOf(code, line, column));
  } finally {
    tooLate.catch(() => {});
    late.abort();
  }
}

/** Evaluates a configuration; TypeScript is bundled first, with its imports. */
async function load(root: string, file: string): Promise<{ readonly default?: unknown }> {
  // Node caches modules by URL, so a changed file needs another URL.
  if (!/\.m?ts$/.test(file)) return import(`${pathToFileURL(file).href}?${statSync(file).mtimeMs}`);
  const { loadConfigFromFile } = await import('vite');
  const found = await loadConfigFromFile({ command: 'build', mode: 'production' }, file, root, 'silent');
  return found ? { default: found.config } : {};
}

function readJson(file: string, name: string): unknown {
  const text = readFileSync(file, 'utf8').replace(/^\uFEFF/, '');
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new ToolError('config-value', `${name} is no JSON: ${(error as Error).message}.`, { file: name });
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

/** A folder's path without `./` and a final slash. */
const tidied = (folder: string): string => posix.normalize(folder.replaceAll('\\', '/')).replace(/(?<=.)\/$/, '');

/** @throws ToolError for a source folder that does not exist, or that is the root or the home folder. */
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
  const read = readJson(file, 'package.json');
  if (typeof read === 'object' && read !== null && !Array.isArray(read)) return read as Record<string, unknown>;
  throw new ToolError(
    'config-value',
    `package.json contains ${describe(read)}, and it has to be an object: { "type": "module" }`,
    {
      file: 'package.json',
    },
  );
}
