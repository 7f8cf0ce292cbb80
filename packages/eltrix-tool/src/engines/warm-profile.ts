/**
 * What Firefox compiles of its own interface at the first start with a profile takes longer than the rest of the start.
 * It is kept in the user's cache folder and given to the next profiles. Firefox uses it only if it is of the same
 * build, by `compatibility.ini`; without it, it starts as ever.
 */
import { createHash, randomBytes } from 'node:crypto';
import { cpSync, mkdirSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { homedir } from 'node:os';
import { join } from 'node:path';

const build = 'compatibility.ini';
const compiled = 'startupCache';

function folderFor(program: string): string {
  const caches =
    process.env['XDG_CACHE_HOME'] ||
    (process.platform === 'win32' && process.env['LOCALAPPDATA']) ||
    join(homedir(), process.platform === 'darwin' ? 'Library/Caches' : '.cache');
  return join(caches, 'eltrix', `firefox-${createHash('sha256').update(program).digest('hex').slice(0, 12)}`);
}

/** Fills the folder of a new profile. */
export function warmProfile(profile: string, program: string): void {
  const kept = folderFor(program);
  try {
    cpSync(join(kept, compiled), join(profile, compiled), { recursive: true });
    cpSync(join(kept, build), join(profile, build));
  } catch {
    // There is none yet, or another process replaces it: Firefox compiles again.
  }
}

/** Keeps what a profile has more than there was; the browser has ended. */
export function keepWarm(profile: string, program: string): void {
  const kept = folderFor(program);
  const made = `${kept}-${randomBytes(6).toString('hex')}`;
  try {
    if (buildOf(kept) === buildOf(profile)) return;
    mkdirSync(made, { recursive: true, mode: 0o700 });
    for (const name of [build, compiled]) cpSync(join(profile, name), join(made, name), { recursive: true });
    rmSync(kept, { recursive: true, force: true });
    renameSync(made, kept);
  } catch {
    // Without a folder for caches, or after another process that did the same, the next start takes longer.
    rmSync(made, { recursive: true, force: true });
  }
}

function buildOf(folder: string): string | undefined {
  try {
    return readFileSync(join(folder, build), 'utf8');
  } catch {
    return undefined;
  }
}
