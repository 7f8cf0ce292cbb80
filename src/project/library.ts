import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The folder of the library itself, wherever it is linked from. */
export function libraryFolder(): string {
  let folder = dirname(fileURLToPath(import.meta.url));
  while (!existsSync(join(folder, 'package.json'))) folder = dirname(folder);
  return folder;
}

/** A file of the library, by its place in the package. */
export function libraryFile(path: string): string {
  return join(libraryFolder(), path);
}

export function libraryVersion(): string {
  const text = readFileSync(join(libraryFolder(), 'package.json'), 'utf8');
  return (JSON.parse(text) as { version: string }).version;
}
