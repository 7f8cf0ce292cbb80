/**
 * An output folder of the tool: written beside the old one, and swapped with it. Only files written by this tool are
 * replaced or removed, and only inside the project. A foreign file in the folder is an error.
 */
import { spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import {
  existsSync,
  linkSync,
  lstatSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  realpathSync,
  renameSync,
  rmdirSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { stat, writeFile } from 'node:fs/promises';
import { basename, dirname, join, relative, resolve, sep } from 'node:path';
import { ToolError } from './tool-error.ts';

/** The kind of folder, from its mark. */
type Kind = 'build' | 'gallery' | 'render';

/** The mark: a file that lists all other files written by this tool. */
export const markFile = 'eltrix-output.json';

interface Mark {
  readonly madeBy: 'eltrix';
  readonly kind: Kind;
  readonly files: readonly string[];
}

/** Files that operating systems create in folders. */
const leftBySystems = new Set(['.DS_Store', 'Thumbs.db', 'desktop.ini']);

/** The last content of each path, so that a watched build need not write it again. */
interface Written {
  readonly content: string | Uint8Array;
  readonly inode: number;
  readonly time: number;
}
const written = new Map<string, Written>();

export class OutputFolder {
  /** The final path. */
  readonly target: string;
  /** The temporary path. */
  readonly #work: string;
  readonly #root: string;
  readonly #out: string;
  readonly #kind: Kind;
  readonly #option: string;
  readonly #files = new Set<string>();

  /**
   * Removes the leftovers of killed runs, and starts.
   * @param out the folder, relative to the project or absolute.
   * @param option the option that names it on the command line, for messages.
   * @throws ToolError `out-in-use` (exit code 2) for a folder that must not be replaced; nothing is written then.
   */
  constructor(root: string, out: string, kind: Kind, option: string) {
    [this.#root, this.#out, this.#kind, this.#option] = [root, out, kind, option];
    this.target = this.#allowedTarget();
    recover(this.target);
    this.#refuseForeign();
    this.#work = `${workPrefix(this.target)}${process.pid}-${randomBytes(4).toString('hex')}`;
    process.once('exit', this.discard);
    try {
      mkdirSync(this.#work, { recursive: true });
    } catch (error) {
      throw this.#misuse(
        `The output folder "${out}" cannot be written: ${(error as Error).message}. Name another one, for example ${option} widgets.`,
      );
    }
    this.#mark();
  }

  /** The temporary folder, absolute. */
  get folder(): string {
    return this.#work;
  }

  /** Writes a file; an unchanged file from the last build is hard-linked instead. */
  async write(file: string, content: string | Uint8Array): Promise<void> {
    const path = this.pathOf(file);
    const old = join(this.target, file);
    const last = written.get(old);
    if (last?.content === content && stands(old, last)) {
      try {
        linkSync(old, path);
        return;
      } catch {
        // Not every file system supports hard links.
      }
    }
    await writeFile(path, content);
    const { ino, mtimeMs } = await stat(path);
    written.set(old, { content, inode: ino, time: mtimeMs });
  }

  /** Copies a file without its permissions. */
  copy(from: string, file: string): void {
    writeFileSync(this.pathOf(file), readFileSync(from));
  }

  /** The path for a new file, whose folder exists afterwards. */
  pathOf(file: string): string {
    const path = resolve(this.#work, file);
    if (!path.startsWith(this.#work + sep))
      throw this.#misuse(`${file} would be outside the output folder "${this.#out}".`);
    mkdirSync(dirname(path), { recursive: true });
    this.#files.add(relative(this.#work, path).replaceAll('\\', '/'));
    return path;
  }

  /** Replaces the old folder. */
  commit(): void {
    // Foreign files that were added meanwhile stop it.
    this.#refuseForeign();
    this.#mark();
    exchange(this.#work, this.target);
    this.discard();
  }

  /** Removes what is not in its final place; after `commit()` that is the old folder. */
  readonly discard = (): void => {
    process.removeListener('exit', this.discard);
    removeOwn(this.#work);
  };

  #mark(): void {
    const mark: Mark = { madeBy: 'eltrix', kind: this.#kind, files: [...this.#files].sort() };
    writeFileSync(join(this.#work, markFile), `${JSON.stringify(mark, null, 2)}\n`);
  }

  #misuse(message: string): ToolError {
    return new ToolError('out-in-use', `${message} Nothing was written.`, undefined, undefined, 2);
  }

  /** The folder with links resolved. */
  #allowedTarget(): string {
    const root = realpathSync(this.#root);
    const given = resolve(this.#root, this.#out);
    const target = real(given);
    if (root === target || root.startsWith(target + sep))
      throw this.#misuse(
        `The output folder "${this.#out}" contains the project itself, and a build replaces it as a whole. Name one inside the project, for example ${this.#option} dist.`,
      );
    if (!existsSync(target)) return target;
    if (!statSync(target).isDirectory())
      throw this.#misuse(
        `The output folder "${this.#out}" is a file. Name another one, for example ${this.#option} widgets.`,
      );
    if (!target.startsWith(root + sep) && readdirSync(target).length > 0)
      throw this.#misuse(
        `The output folder "${this.#out}" lies outside the project and is not empty, so it is not replaced. Name one inside the project, for example ${this.#option} dist, and copy it from there.`,
      );
    return target;
  }

  #refuseForeign(): void {
    if (!existsSync(this.target)) return;
    const found = filesIn(this.target);
    const mark = readMark(this.target);
    const own = new Set(mark?.kind === this.#kind ? [...mark.files, markFile] : []);
    const foreign = found.filter(file => !own.has(file) && !leftBySystems.has(basename(file)));
    if (foreign.length === 0) return;
    if (mark?.kind === this.#kind) {
      const some = foreign.slice(0, 3).map(file => `"${this.#out}/${file}"`);
      const more = foreign.length > some.length ? ` and ${foreign.length - some.length} more` : '';
      throw this.#misuse(
        `${some.join(', ')}${more} ${foreign.length === 1 ? 'was' : 'were'} not written by eltrix build, and the folder is exchanged whole. Move ${foreign.length === 1 ? 'it' : 'them'} elsewhere, or name another folder, for example ${this.#option} widgets.`,
      );
    }
    throw this.#misuse(
      `The output folder "${this.#out}" contains files that ${mark ? 'another command' : 'eltrix build'} ${mark ? 'wrote' : 'did not write'}, and it is replaced as a whole. Name another folder, for example ${this.#option} widgets, or empty this one.`,
    );
  }
}

/** Whether this tool wrote a folder. */
export function isOutput(folder: string): boolean {
  return readMark(folder) !== undefined;
}

function readMark(folder: string): Mark | undefined {
  try {
    const mark = JSON.parse(readFileSync(join(folder, markFile), 'utf8')) as Partial<Mark> | null;
    return mark?.madeBy === 'eltrix' && Array.isArray(mark.files) ? (mark as Mark) : undefined;
  } catch {
    return undefined;
  }
}

/** All files and links below a folder, relative to it, with forward slashes. */
function filesIn(folder: string): string[] {
  return readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter(entry => !entry.isDirectory())
    .map(entry => relative(folder, join(entry.parentPath, entry.name)).replaceAll('\\', '/'));
}

/** A path with links resolved, as far as it exists. */
function real(path: string): string {
  if (existsSync(path)) return realpathSync(path);
  const above = dirname(path);
  return above === path ? path : join(real(above), basename(path));
}

/** Whether a file is unchanged: not replaced, and not modified. */
function stands(path: string, { inode, time }: Written): boolean {
  const found = statSync(path, { throwIfNoEntry: false });
  return found?.ino === inode && found.mtimeMs === time;
}

// The name of a temporary folder contains its target, the process and a random number; the name of an old folder ends
// in `-old`.
const workPrefix = (target: string) => join(dirname(target), `.${basename(target)}.eltrix-`);
const workName = /^(\d+)-[0-9a-f]{8}(-old)?$/;

/** Repairs the results of killed runs before anything is read; the constructor does so as well. */
export function recoverOutput(root: string, out: string): void {
  recover(real(resolve(root, out)));
}

/** Removes temporary folders of ended processes, and restores an old folder that they had set aside. */
function recover(target: string): void {
  const folder = dirname(target);
  if (!existsSync(folder)) return;
  const prefix = basename(workPrefix(target));
  for (const entry of readdirSync(folder)) {
    if (!entry.startsWith(prefix)) continue;
    const [, pid, isOld] = workName.exec(entry.slice(prefix.length)) ?? [];
    if (pid === undefined || isAlive(Number(pid))) continue;
    const path = join(folder, entry);
    if (isOld && isOutput(path) && !existsSync(target)) renameSync(path, target);
    else removeOwn(path);
  }
}

function isAlive(pid: number): boolean {
  if (pid === process.pid) return false;
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/**
 * Removes a folder with this tool's mark, or an empty one. The mark is removed last, so that after a kill the rest is
 * still recognised.
 */
function removeOwn(folder: string): void {
  if (!lstatSync(folder, { throwIfNoEntry: false })?.isDirectory()) return;
  if (isOutput(folder)) {
    for (const entry of readdirSync(folder))
      if (entry !== markFile) rmSync(join(folder, entry), { recursive: true, force: true });
    rmSync(join(folder, markFile), { force: true });
  }
  try {
    rmdirSync(folder);
  } catch {
    // It contains foreign files.
  }
}

/** The number of the system call `renameat2` on Linux (man 2 renameat2), by architecture. */
const renameat2: Partial<Record<NodeJS.Architecture, number>> = {
  x64: 316,
  arm64: 276,
  riscv64: 276,
  arm: 382,
  ia32: 353,
  ppc64: 357,
  s390x: 347,
};

/** A program that swaps two folders in one step, which Node cannot. */
const exchangers: readonly ((a: string, b: string) => [program: string, args: string[]] | undefined)[] = [
  (a, b) => ['mv', ['--exchange', '-T', '--', a, b]],
  (a, b) => {
    const call = renameat2[process.arch];
    const code = 'exit(syscall($ARGV[0] + 0, -100, $ARGV[1], -100, $ARGV[2], 2) == 0 ? 0 : 1)';
    return call === undefined ? undefined : ['perl', ['-e', code, String(call), a, b]];
  },
];

/**
 * Swaps two folders, or moves the first one if the second does not exist. On Linux that is one step (`mv --exchange`
 * of coreutils 9.5, else the system call from perl). Elsewhere it is two steps, and for some microseconds there is no
 * folder; the next run repairs the result of a kill at that moment.
 */
function exchange(fresh: string, target: string): void {
  if (!existsSync(target) || readdirSync(target).length === 0) {
    if (existsSync(target)) rmdirSync(target);
    mkdirSync(dirname(target), { recursive: true });
    renameSync(fresh, target);
    return;
  }
  if (process.platform === 'linux')
    for (const make of exchangers) {
      const [program, args] = make(fresh, target) ?? [];
      if (program && spawnSync(program, args, { stdio: 'ignore' }).status === 0) return;
    }
  const old = `${fresh}-old`;
  renameSync(target, old);
  renameSync(fresh, target);
  renameSync(old, fresh);
}
