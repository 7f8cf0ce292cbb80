/** How what is held is ended. */
import { spawnSync } from 'node:child_process';
import { rmSync } from 'node:fs';

export interface Held {
  /** A folder, absolute; `hasProcesses` for the profile of a browser, of which each process names it. */
  readonly folder?: string;
  readonly hasProcesses?: boolean;
  /** A process that was started as the leader of a group. */
  readonly group?: number;
}

export function endOf({ folder, hasProcesses, group }: Held): void {
  if (group !== undefined) kill(process.platform === 'win32' ? group : -group);
  if (folder === undefined) return;
  if (hasProcesses) for (const pid of processesOf(folder)) kill(pid);
  try {
    rmSync(folder, { recursive: true, force: true, maxRetries: 5 });
  } catch {
    // Whoever still writes there is being ended.
  }
}

function kill(pid: number): void {
  try {
    process.kill(pid, 'SIGKILL');
  } catch {
    // It has ended.
  }
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
