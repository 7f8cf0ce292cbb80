/** Where the tool and the browser library are installed. */
import { existsSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { basename, dirname, join, relative, resolve } from 'node:path';
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

/**
 * How a package is asked for where this tool is installed, if that is by a file or an address: another project cannot find it
 * in the registry then.
 * @param from the folder of the project that asks.
 */
export function installedFrom(name: string, from: string): string | undefined {
  const folder = toolFile('');
  if (basename(dirname(folder)) !== 'node_modules') return undefined;
  const project = dirname(dirname(folder));
  try {
    const { dependencies = {}, devDependencies = {} } = JSON.parse(
      readFileSync(join(project, 'package.json'), 'utf8'),
    ) as Partial<Record<'dependencies' | 'devDependencies', Record<string, string>>>;
    const spec = dependencies[name] ?? devDependencies[name] ?? '';
    if (/^https?:/.test(spec)) return spec;
    return spec.startsWith('file:')
      ? `file:${relative(from, resolve(project, spec.slice('file:'.length))).replaceAll('\\', '/')}`
      : undefined;
  } catch {
    return undefined;
  }
}

/** The version of the tool and the library: they are published together. */
export function toolVersion(): string {
  return (JSON.parse(readFileSync(toolFile('package.json'), 'utf8')) as { version: string }).version;
}

/** The script of axe-core, as a page loads it. */
export const axeFile = (): string => toolFile('dist/axe.cjs');
