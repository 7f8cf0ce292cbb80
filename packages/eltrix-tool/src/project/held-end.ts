/** How what is held is ended. */
import { spawnSync } from 'node:child_process';
import { existsSync, rmSync } from 'node:fs';

export interface Held {
  /** A folder, absolute; `hasProcesses` for the profile of a browser, of which each process names it. */
  readonly folder?: string;
  readonly hasProcesses?: boolean;
  /** A process, with all that it has started. */
  readonly process?: number;
}

export function endOf({ folder, hasProcesses, process: first }: Held): void {
  if (first !== undefined) for (const pid of [first, ...startedBy(first)]) kill(pid);
  if (folder === undefined) return;
  // A process that is just ending may still write there, and start another one.
  for (let tries = 0; tries < 40; tries++) {
    const running = hasProcesses ? processesOf(folder) : [];
    for (const pid of running) kill(pid);
    try {
      rmSync(folder, { recursive: true, force: true });
      if (running.length === 0 && !existsSync(folder)) return;
    } catch {
      // It is tried again.
    }
    Atomics.wait(clock, 0, 0, 50);
  }
}

/** Nothing else can wait while a process exits. */
const clock = new Int32Array(new SharedArrayBuffer(4));

function kill(pid: number): void {
  try {
    process.kill(pid, 'SIGKILL');
  } catch {
    // It has ended.
  }
}

/**
 * The descendants of a process. Its own process group would be simpler, but WebKitGTK pages hung more often when their
 * driver was started in one; the cause is unknown.
 */
function startedBy(first: number): number[] {
  const { stdout } = spawnSync('ps', ['-eo', 'pid=,ppid='], { encoding: 'utf8' });
  const all = (stdout ?? '').split('\n').map(line => line.trim().split(/\s+/).map(Number));
  const found = [first];
  // Whoever comes later was started by one before.
  for (const pid of found) found.push(...all.flatMap(([child, parent]) => (parent === pid ? [child!] : [])));
  return found.slice(1);
}

/** A browser is several processes, and any of them may still write into the profile that only it has. */
function processesOf(profile: string): number[] {
  const { stdout } = spawnSync('ps', ['-eo', 'pid=,args='], { encoding: 'utf8' });
  return (stdout ?? '')
    .split('\n')
    .filter(line => line.includes(profile))
    .map(line => Number.parseInt(line, 10))
    .filter(pid => pid !== process.pid);
}
