/** The folder where the tool was called, and the project's folder. */
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';

export const configurationFiles = ['ts', 'mts', 'js', 'mjs', 'json'].map(ending => `eltrix.config.${ending}`);

interface Place {
  /** The folder in which the command was called, or that of `--cwd`. */
  startedIn: string;
  /** The file of `--config`, absolute. */
  configuration?: string;
}

export const place: Place = { startedIn: process.cwd() };

/** A folder and its ancestors. */
function* upwards(folder: string): Generator<string> {
  for (let at = folder; ; at = dirname(at)) {
    yield at;
    if (dirname(at) === at) return;
  }
}

const saysSomething = (folder: string): boolean => {
  if (configurationFiles.some(name => existsSync(join(folder, name)))) return true;
  try {
    return 'eltrix' in JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8'));
  } catch {
    // Mistakes in it are reported when it is read.
    return false;
  }
};

/**
 * The project of a folder: the nearest ancestor with a configuration, else the nearest with a package.json, else the
 * folder itself.
 */
export function projectFolder(from: string): string {
  const folders = [...upwards(from)];
  return folders.find(saysSomething) ?? folders.find(folder => existsSync(join(folder, 'package.json'))) ?? from;
}

/** Converts a path or pattern of an argument, relative to where the command was called, to the project's folder. */
export function fromProject(path: string, root = process.cwd()): string {
  if (path === '-' || place.startedIn === root) return path;
  return relative(root, resolve(place.startedIn, path)).replaceAll('\\', '/') || '.';
}
