/** How what is held is ended. */
import { existsSync, rmSync } from 'node:fs';
import { descendantsOf, runningProcesses } from './processes.ts';

export interface Held {
  /** A folder, absolute; `hasProcesses` for the profile of a browser, of which each process names it. */
  readonly folder?: string;
  readonly hasProcesses?: boolean;
  /** A process, with all that it has started. */
  readonly process?: number;
}

/**
 * Ends what is held. A process group would be simpler than a look at all processes, but WebKitGTK pages hung more often when
 * their driver was started in one; the cause is unknown.
 */
export function endOf({ folder, hasProcesses, process: first }: Held): void {
  if (first !== undefined) for (const pid of [first, ...descendantsOf(first)]) kill(pid);
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

/** A browser is several processes, and any of them may still write into the profile that only it has. */
function processesOf(profile: string): number[] {
  return runningProcesses()
    .filter(({ pid, command }) => pid !== process.pid && command.includes(profile))
    .map(({ pid }) => pid);
}
