// Loaded into each test process by scripts/test.js: writes how long the file took, from start to exit, and ends a file that
// does not end.
import { appendFileSync } from 'node:fs';
import { relative } from 'node:path';
import { root } from './prepare.js';
import { budgets, usual } from './test-budgets.js';

const to = process.env['ELTRIX_TEST_TIMES'];
const file = process.argv[1];
if (to && file?.endsWith('.test.ts')) {
  const name = relative(root, file).replaceAll('\\', '/');
  process.once('exit', () => {
    appendFileSync(to, `${JSON.stringify({ file: name, seconds: process.uptime() })}\n`);
  });
  const limit = 2 * (budgets[name] ?? usual);
  setTimeout(() => {
    const kept = process.getActiveResourcesInfo().join(', ');
    console.error(`${name} did not end within ${limit} s, twice its budget. Still active: ${kept}.`);
    process.exit(1);
  }, limit * 1000).unref();
}
