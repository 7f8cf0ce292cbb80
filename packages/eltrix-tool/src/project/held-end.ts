/** Cleans up temporary folders and processes. */
import { existsSync, rmSync } from 'node:fs';
import { descendantsOf, runningProcesses } from './processes.ts';

export interface Held {
  /** An absolute folder. `hasProcesses`: the profile of a browser, whose processes have it in their command lines. */
  readonly folder?: string;
  readonly hasProcesses?: boolean;
  /** A process and its descendants. */
  readonly process?: number;
}

/**
 * Ends processes and removes folders. Process groups would be simpler, but pages in WebKitGTK hung more often when the
 * driver was started in a group; the cause is unknown.
 */
export function endOf({ folder, hasProcesses, process: first }: Held): void {
  if (first !== undefined) for (const pid of [first, ...descendantsOf(first)]) kill(pid);
  if (folder === undefined) return;
  // A process that is ending may still write there, and start another one.
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

/** Synchronous, since a process that exits cannot wait. */
const clock = new Int32Array(new SharedArrayBuffer(4));

function kill(pid: number): void {
  try {
    process.kill(pid, 'SIGKILL');
  } catch {
    // It has ended.
  }
}

/** A browser has several processes, and any of them may still write into its profile. */
function processesOf(profile: string): number[] {
  return runningProcesses()
    .filter(({ pid, command }) => pid !== process.pid && command.includes(profile))
    .map(({ pid }) => pid);
}
