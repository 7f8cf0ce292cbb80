// Runs the test files named as arguments with Node's own runner and reports them as one run. As many run at once as there
// are processors, in the order given; of those that keep all engines busy, one at a time.
import { availableParallelism } from 'node:os';
import { resolve } from 'node:path';
import { run } from 'node:test';
import { spec } from 'node:test/reporters';
import { inAllEngines } from './test-budgets.js';

const waiting = process.argv.slice(2);
const totals = new Map();
const reporter = new spec();
reporter.pipe(process.stdout);
process.exitCode = 0;

let heavy = false;
async function lane() {
  for (;;) {
    const at = waiting.findIndex(file => !heavy || !inAllEngines.includes(file));
    if (at < 0) return;
    const [file] = waiting.splice(at, 1);
    const isHeavy = inAllEngines.includes(file);
    heavy ||= isHeavy;
    const events = await runFile(file);
    if (isHeavy) heavy = false;
    for (const event of events) reporter.write(event);
  }
}

/** Runs one file; its totals are added to those of the whole run. */
async function runFile(file) {
  const events = [];
  for await (const event of run({ files: [resolve(file)], concurrency: 1 })) {
    const { type, data } = event;
    if (type === 'test:fail' && (data.todo === undefined || data.todo === false)) process.exitCode = 1;
    const [, name, count] =
      (type === 'test:diagnostic' &&
        data.nesting === 0 &&
        /^(tests|suites|pass|fail|cancelled|skipped|todo|duration_ms) ([\d.]+)$/.exec(data.message)) ||
      [];
    if (name) totals.set(name, (totals.get(name) ?? 0) + Number(count));
    else events.push(event);
  }
  return events;
}

const began = performance.now();
await Promise.all(Array.from({ length: availableParallelism() }, lane));
// A lane that found only heavy files left has ended before the last of them began.
await lane();
totals.set('duration_ms', performance.now() - began);
for (const [name, count] of totals)
  reporter.write({ type: 'test:diagnostic', data: { nesting: 0, message: `${name} ${count}`, level: 'info' } });
reporter.end();
