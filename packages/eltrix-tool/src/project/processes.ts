/** Lists the processes of this machine. Synchronous, since it is also called while the tool exits. */
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';

export interface RunningProcess {
  readonly pid: number;
  readonly parent: number;
  /** With its arguments. */
  readonly command: string;
}

export function runningProcesses(platform: NodeJS.Platform = process.platform): RunningProcess[] {
  if (platform === 'linux') return ofProc();
  if (platform === 'win32') return fromPowershell(output('powershell', ['-NoProfile', '-Command', windowsQuery]));
  return fromPs(output('ps', ['-A', '-ww', '-o', 'pid=,ppid=,args=']));
}

function output(program: string, args: readonly string[]): string {
  return spawnSync(program, args, { encoding: 'utf8', windowsHide: true, maxBuffer: 1 << 26 }).stdout ?? '';
}

function ofProc(): RunningProcess[] {
  return readdirSync('/proc').flatMap(name => {
    if (!/^\d+$/.test(name)) return [];
    try {
      // The second field is a file name in parentheses, which may itself contain spaces and parentheses.
      const stat = readFileSync(`/proc/${name}/stat`, 'utf8');
      const parent = Number(
        stat
          .slice(stat.lastIndexOf(')') + 1)
          .trim()
          .split(' ')[1],
      );
      const command = readFileSync(`/proc/${name}/cmdline`, 'utf8').replaceAll('\0', ' ').trim();
      return [{ pid: Number(name), parent, command }];
    } catch {
      // It has ended meanwhile.
      return [];
    }
  });
}

/** `pid parent command`, one process a line. */
export function fromPs(text: string): RunningProcess[] {
  return text.split(/\r?\n/).flatMap(line => {
    const [, pid, parent, command] = /^\s*(\d+)\s+(\d+)\s+(.*)$/.exec(line) ?? [];
    return command === undefined ? [] : [{ pid: Number(pid), parent: Number(parent), command }];
  });
}

const windowsQuery =
  'Get-CimInstance Win32_Process | Select-Object ProcessId, ParentProcessId, CommandLine | ConvertTo-Json -Compress';

interface WindowsProcess {
  readonly ProcessId: number;
  readonly ParentProcessId: number;
  /** Null for processes of other users. */
  readonly CommandLine: string | null;
}

export function fromPowershell(json: string): RunningProcess[] {
  if (json.trim() === '') return [];
  return [JSON.parse(json) as WindowsProcess | WindowsProcess[]].flat().map(one => ({
    pid: one.ProcessId,
    parent: one.ParentProcessId,
    command: one.CommandLine ?? '',
  }));
}

/** The descendants of a process, parents first. */
export function descendantsOf(first: number, all = runningProcesses()): number[] {
  const found = [first];
  for (const pid of found) found.push(...all.filter(({ parent }) => parent === pid).map(({ pid }) => pid));
  return found.slice(1);
}
