/** The installation folders of the tool and the library. */
import { existsSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { basename, dirname, join, relative, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The path of a file in this tool's package. */
export function toolFile(path: string): string {
  let folder = dirname(fileURLToPath(import.meta.url));
  while (!existsSync(join(folder, 'package.json'))) folder = dirname(folder);
  return join(folder, path);
}

let library: string | undefined;

/** The folder of the library that this tool uses, with symbolic links resolved. */
export function libraryFolder(): string {
  library ??= dirname(createRequire(import.meta.url).resolve('eltrix/package.json'));
  return library;
}

const escaped = (path: string) => path.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** The modules of the library and of this tool, by their paths, also where they are linked and not below node_modules. */
export const ownModules = new RegExp(
  `^(?:${[join(libraryFolder(), 'dist'), toolFile('dist')].map(escaped).join('|')})[\\\\/]`,
);

/**
 * How this tool was installed, if from a file or URL: another project cannot find it in the registry then.
 * @param from the folder of the other project.
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

/** The version of the tool and the library, which are published together. */
export function toolVersion(): string {
  return (JSON.parse(readFileSync(toolFile('package.json'), 'utf8')) as { version: string }).version;
}

/** The script of axe-core for pages. */
export const axeFile = (): string => toolFile('dist/axe.cjs');
