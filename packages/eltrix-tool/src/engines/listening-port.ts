/** The port that a driver chose when it was started with `--port=0`. */
import type { ChildProcess } from 'node:child_process';
import { readdirSync, readFileSync, readlinkSync } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';

/** The state of a listening socket in /proc/net/tcp (include/net/tcp_states.h: TCP_LISTEN). */
const listening = '0A';

/**
 * Waits until a child process listens on a TCP port of IPv4. Linux only: it reads /proc.
 * @param program its name in messages.
 * @param printed its output so far, for the message.
 * @throws Error as soon as the process ends, or if it does not listen within `milliseconds`.
 */
export async function listeningPort(
  child: ChildProcess,
  program: string,
  printed: () => string,
  milliseconds = 30_000,
): Promise<number> {
  let failed: Error | undefined;
  child.once('error', error => {
    failed = error;
  });
  for (const limit = performance.now() + milliseconds; ; await pause(20)) {
    if (failed) throw failed;
    if (child.exitCode !== null || child.signalCode !== null)
      throw new Error(
        `${program} ended with ${child.exitCode ?? child.signalCode} before it listened on a port.\n${printed()}`,
      );
    const port = portOf(child.pid!);
    if (port !== undefined) return port;
    if (performance.now() > limit)
      throw new Error(`${program} does not listen on a port after ${milliseconds / 1000} s.\n${printed()}`);
  }
}

function portOf(pid: number): number | undefined {
  try {
    const sockets = new Set(
      readdirSync(`/proc/${pid}/fd`).map(fd => {
        try {
          return /^socket:\[(\d+)\]$/.exec(readlinkSync(`/proc/${pid}/fd/${fd}`))?.[1];
        } catch {
          // The descriptor was closed meanwhile.
          return undefined;
        }
      }),
    );
    for (const line of readFileSync(`/proc/${pid}/net/tcp`, 'utf8').trim().split('\n').slice(1)) {
      const [, local = '', , state, , , , , , inode] = line.trim().split(/\s+/);
      if (state === listening && sockets.has(inode)) return Number.parseInt(local.slice(local.indexOf(':') + 1), 16);
    }
  } catch {
    // The process has ended, and its exit code is reported.
  }
  return undefined;
}
