import { existsSync } from 'node:fs';
import { join } from 'node:path';

/** The source file of an import. */
export function resolveSource(path: string): string | undefined {
  const candidates = [
    path,
    path.replace(/\.([cm]?)js$/, '.$1ts'),
    path.replace(/\.([cm]?)js$/, '.d.$1ts'),
    path.replace(/\.jsx?$/, '.tsx'),
    `${path}.ts`,
    `${path}.tsx`,
    `${path}.d.ts`,
    `${path}.js`,
    join(path, 'index.ts'),
    join(path, 'index.js'),
  ];
  return candidates.find(candidate => /\.[cm]?[jt]sx?$/.test(candidate) && existsSync(candidate));
}
