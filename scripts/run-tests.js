// Runs the test files named as arguments with Node's own runner and reports them as one run: first those that keep the
// machine busy, each alone, then as many at once as there are processors.
import { availableParallelism } from 'node:os';
import { resolve } from 'node:path';
import { run } from 'node:test';
import { spec } from 'node:test/reporters';
import { alone } from './test-budgets.js';

const given = process.argv.slice(2);
const waiting = given.filter(file => !alone.includes(file));
const totals = new Map();
const reporter = new spec();
reporter.pipe(process.stdout);
process.exitCode = 0;

async function lane() {
  for (let file = waiting.shift(); file !== undefined; file = waiting.shift()) await report(file);
}

async function report(file) {
  for (const event of await runFile(file)) reporter.write(event);
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
for (const file of given.filter(file => alone.includes(file))) await report(file);
await Promise.all(Array.from({ length: availableParallelism() }, lane));
totals.set('duration_ms', performance.now() - began);
for (const [name, count] of totals)
  reporter.write({ type: 'test:diagnostic', data: { nesting: 0, message: `${name} ${count}`, level: 'info' } });
reporter.end();
