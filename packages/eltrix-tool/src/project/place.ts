/** Where a call of the tool began, and which folder is the project's. */
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';

export const configurationFiles = ['ts', 'mts', 'js', 'mjs', 'json'].map(ending => `eltrix.config.${ending}`);

interface Place {
  /** The folder in which the command was called, or that of `--cwd`. */
  startedIn: string;
  /** The file of `--config`, as a whole path. */
  configuration?: string;
}

export const place: Place = { startedIn: process.cwd() };

/** The folders from one upwards. */
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
    // Its faults are reported when it is read.
    return false;
  }
};

/**
 * The project of a folder: the nearest folder upwards with a configuration; else the nearest with a package.json; else the
 * folder itself.
 */
export function projectFolder(from: string): string {
  const folders = [...upwards(from)];
  return folders.find(saysSomething) ?? folders.find(folder => existsSync(join(folder, 'package.json'))) ?? from;
}

/** A path or pattern of an argument, which is meant from where the command was called, from the project's folder. */
export function fromProject(path: string, root = process.cwd()): string {
  if (path === '-' || place.startedIn === root) return path;
  return relative(root, resolve(place.startedIn, path)).replaceAll('\\', '/') || '.';
}
