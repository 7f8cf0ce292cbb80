/** A separate process: it knows what the tool holds, and ends it when the pipe from the tool closes. */
import { createInterface } from 'node:readline';
import { endOf, type Held } from './held-end.ts';

const all = new Map<number, Held>();
// What ends the tool by a signal to all is not to end this first.
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
