// Loaded into each test process by scripts/test.js: writes how long the file took, from start to exit.
import { appendFileSync } from 'node:fs';
import { relative } from 'node:path';
import { root } from './prepare.js';

const to = process.env['ELTRIX_TEST_TIMES'];
const file = process.argv[1];
if (to && file?.endsWith('.test.ts')) {
  process.once('exit', () => {
    const seconds = process.uptime();
    appendFileSync(to, `${JSON.stringify({ file: relative(root, file).replaceAll('\\', '/'), seconds })}\n`);
  });
}
