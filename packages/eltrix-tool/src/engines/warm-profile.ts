/**
 * What Firefox compiles at the first start with a profile takes longer than the rest of the start. It is kept in the
 * user's cache folder and given to the next profiles. Firefox uses it only if it is of the same build, by
 * `compatibility.ini`; without it, it starts as ever.
 */
import { createHash, randomBytes } from 'node:crypto';
import { cpSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { join } from 'node:path';

const build = 'compatibility.ini';
const compiled = 'startupCache';

export class WarmProfile {
  readonly #profile: string;
  readonly #kept: string;

  /**
   * Fills the folder of a new profile.
   * @param program the path of Firefox.
   */
  constructor(profile: string, program: string) {
    this.#profile = profile;
    this.#kept = join(cacheFolder(), `firefox-${createHash('sha256').update(program).digest('hex').slice(0, 12)}`);
    const kept = buildOf(this.#kept);
    if (kept === undefined) return;
    const inProfile = join(profile, compiled);
    try {
      cpSync(join(this.#kept, compiled), inProfile, { recursive: true });
      if (buildOf(this.#kept) !== kept) throw new Error('replaced meanwhile');
      writeFileSync(join(profile, build), kept);
    } catch {
      // Another process replaces it with that of another build: Firefox compiles again.
      rmSync(inProfile, { recursive: true, force: true });
    }
  }

  /** Whether the running browser, which has written its build into the profile, is the one that is kept. */
  get isKept(): boolean {
    const running = buildOf(this.#profile);
    return running !== undefined && running === buildOf(this.#kept);
  }

  /** Keeps what the browser, which has ended, has compiled. */
  keep(): void {
    const made = `${this.#kept}-${randomBytes(6).toString('hex')}`;
    try {
      mkdirSync(made, { recursive: true, mode: 0o700 });
    } catch {
      // Without a folder for caches each start takes longer.
      return;
    }
    try {
      for (const name of [build, compiled]) cpSync(join(this.#profile, name), join(made, name), { recursive: true });
      rmSync(this.#kept, { recursive: true, force: true });
      renameSync(made, this.#kept);
    } catch {
      // The browser has not compiled anything, or another process did the same.
      rmSync(made, { recursive: true, force: true });
    }
  }
}

/** The folder for caches of the tool that all projects of a user share. */
function cacheFolder(): string {
  const { XDG_CACHE_HOME, LOCALAPPDATA } = process.env;
  const own =
    process.platform === 'win32'
      ? LOCALAPPDATA
      : process.platform === 'darwin'
        ? join(homedir(), 'Library/Caches')
        : XDG_CACHE_HOME;
  return join(own || join(homedir(), '.cache'), 'eltrix');
}

function buildOf(folder: string): string | undefined {
  try {
    return readFileSync(join(folder, build), 'utf8');
  } catch {
    return undefined;
  }
}
