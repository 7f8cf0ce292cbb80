/**
 * A separate process that knows the tool's temporary folders and processes, and cleans up when the pipe from the tool
 * closes.
 */
import { createInterface } from 'node:readline';
import { endOf, type Held } from './held-end.ts';

const all = new Map<number, Held>();
// Ignores signals that end the tool's whole process group.
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => {});
createInterface({ input: process.stdin })
  .on('line', line => {
    const { id, held } = JSON.parse(line) as { id: number; held?: Held };
    if (held) all.set(id, held);
    else all.delete(id);
  })
  .on('close', () => {
    for (const held of all.values()) endOf(held);
  });
