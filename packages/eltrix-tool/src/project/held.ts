/**
 * Temporary folders, browsers and profiles that must not outlive the tool. A second process waits for the end of this
 * one, so that they are removed even if this process is killed.
 */
import { type ChildProcess, spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Writable } from 'node:stream';
import { endOf, type Held } from './held-end.ts';
import { toolFile } from './library.ts';

const all = new Map<number, Held>();
let count = 0;
let guard: ChildProcess | undefined;

/** Sends a message to the guard, which gets the earlier ones when it starts. */
function report(message: object): void {
  const pipe = guard?.stdin as (Writable & { unref?(): void }) | null | undefined;
  pipe?.write(`${JSON.stringify(message)}\n`);
}

function start(): void {
  if (guard) return;
  process.once('exit', () => {
    for (const held of all.values()) endOf(held);
  });
  // In a separate process group, which a signal to this one's group does not reach.
  guard = spawn(process.execPath, [toolFile('dist/tool/project/held-guard.js')], {
    detached: true,
    stdio: ['pipe', 'ignore', 'ignore'],
  });
  guard.unref();
  const pipe = guard.stdin as unknown as Writable & { unref(): void };
  pipe.unref();
  // Without the guard, only a kill leaves something behind.
  for (const part of [guard, pipe]) part.on('error', () => {});
}

/** @returns a function that cleans up now. */
export function hold(held: Held): () => void {
  start();
  const id = ++count;
  all.set(id, held);
  report({ id, held });
  return () => {
    if (!all.delete(id)) return;
    endOf(held);
    report({ id });
  };
}

/** A temporary folder, removed at the latest when this process ends. */
export function temporaryFolder(name: string, hasProcesses = false): { readonly folder: string; remove(): void } {
  const folder = join(tmpdir(), `eltrix-${name}-${randomBytes(6).toString('hex')}`);
  // Registered first: a kill between the two steps leaves nothing.
  const remove = hold({ folder, hasProcesses });
  mkdirSync(folder, { mode: 0o700 });
  return { folder, remove };
}
