/** Where the tool and the browser library are installed. */
import { existsSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** A file of this tool, by its path in the package. */
export function toolFile(path: string): string {
  let folder = dirname(fileURLToPath(import.meta.url));
  while (!existsSync(join(folder, 'package.json'))) folder = dirname(folder);
  return join(folder, path);
}

/** The folder of the browser library that this tool works with, with symbolic links resolved. */
export function libraryFolder(): string {
  return dirname(createRequire(import.meta.url).resolve('eltrix/package.json'));
}

/** The version of the tool and the library: they are published together. */
export function toolVersion(): string {
  return (JSON.parse(readFileSync(toolFile('package.json'), 'utf8')) as { version: string }).version;
}

/** The script of axe-core, as a page loads it. */
export const axeFile = (): string => toolFile('dist/axe.cjs');
