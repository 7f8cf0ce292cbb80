import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { ToolError } from './tool-error.ts';

/** What `eltrix` in package.json or the default export of eltrix.config.js may say. */
export interface Configuration {
  /** The folder of the sources, from the project's; `src` unless given. */
  readonly source?: string;
  /** The folder that `eltrix build` writes, from the project's; `dist` unless given. */
  readonly out?: string;
}

const known: Record<keyof Configuration, 'string'> = { source: 'string', out: 'string' };

/** @throws ToolError for a key or value that cannot be. */
export async function readConfiguration(root: string): Promise<Required<Configuration>> {
  const file = join(root, 'eltrix.config.js');
  let from = 'package.json, "eltrix"';
  let given: unknown = {};
  if (existsSync(file)) {
    from = 'eltrix.config.js';
    given = ((await import(pathToFileURL(file).href)) as { default?: unknown }).default ?? {};
  } else if (existsSync(join(root, 'package.json'))) {
    given = (JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as { eltrix?: unknown }).eltrix ?? {};
  }
  for (const [key, value] of Object.entries(given as object)) {
    const kind = (known as Record<string, string>)[key];
    if (!kind)
      throw new ToolError(
        'config-key',
        `${from}: "${key}" is not an option. Options are ${Object.keys(known).join(', ')}.`,
      );
    if (typeof value !== kind)
      throw new ToolError('config-value', `${from}: "${key}" takes a ${kind}, and ${JSON.stringify(value)} is none.`);
  }
  return { source: 'src', out: 'dist', ...(given as Configuration) };
}
