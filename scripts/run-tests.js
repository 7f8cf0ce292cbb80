// Runs the test files named as arguments with Node's own runner and reports them as one run. Files that drive several
// engines run one after the other, with the others beside them: a browser test waits for half of its time.
import { availableParallelism } from 'node:os';
import { resolve } from 'node:path';
import { run } from 'node:test';
import { spec } from 'node:test/reporters';
import { alone } from './test-budgets.js';

const given = process.argv.slice(2);
const waiting = given.filter(file => !alone.includes(file));
const busy = given.filter(file => alone.includes(file));
const totals = new Map();
const reporter = new spec();
reporter.pipe(process.stdout);
process.exitCode = 0;

async function lane(first = []) {
  const next = () => first.shift() ?? waiting.shift();
  for (let file = next(); file !== undefined; file = next()) await report(file);
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
await Promise.all([lane(busy), ...Array.from({ length: Math.max(1, availableParallelism() - 1) }, () => lane())]);
totals.set('duration_ms', performance.now() - began);
for (const [name, count] of totals)
  reporter.write({ type: 'test:diagnostic', data: { nesting: 0, message: `${name} ${count}`, level: 'info' } });
reporter.end();
