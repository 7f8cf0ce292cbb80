// Runs the test files named as arguments with Node's own runner, as many at once as there are processors, in this order.
import { availableParallelism } from 'node:os';
import { resolve } from 'node:path';
import { run } from 'node:test';
import { spec } from 'node:test/reporters';

process.exitCode = 0;
run({ files: process.argv.slice(2).map(file => resolve(file)), concurrency: availableParallelism() })
  .on('test:fail', ({ todo }) => {
    if (todo === undefined || todo === false) process.exitCode = 1;
  })
  .compose(spec)
  .pipe(process.stdout);
