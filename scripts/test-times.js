// Loaded into each test process by scripts/test.js: writes how long the file took, from start to exit, and ends a file that
// does not end.
import { appendFileSync, readFileSync } from 'node:fs';
import { relative } from 'node:path';
import { root } from './prepare.js';
import { budgets, usual } from './test-budgets.js';

const to = process.env['ELTRIX_TEST_TIMES'];
const file = process.argv[1];
if (to && file?.endsWith('.test.ts')) {
  const name = relative(root, file).replaceAll('\\', '/');
  const before = processorTime();
  const times = () => {
    const { wanted, stolen } = processorTime();
    const share = (stolen - before.stolen) / Math.max(1, wanted - before.wanted);
    return { seconds: process.uptime() * (1 - share), stolen: process.uptime() * share };
  };
  process.once('exit', () => {
    appendFileSync(to, `${JSON.stringify({ file: name, ...times() })}\n`);
  });
  const limit = 2 * (budgets[name] ?? usual);
  setInterval(() => {
    if (times().seconds < limit) return;
    const kept = process.getActiveResourcesInfo().join(', ');
    console.error(`${name} did not end within ${limit} s, twice its budget. Still active: ${kept}.`);
    process.exit(1);
  }, 1000).unref();
}

/**
 * Reads how much time of processors this machine wanted since its start, and how much of that its host gave to other
 * virtual machines: https://docs.kernel.org/filesystems/proc.html, "stat". Elsewhere than on Linux, nothing is stolen.
 */
function processorTime() {
  let line = '';
  try {
    line = readFileSync('/proc/stat', 'utf8').split('\n')[0];
  } catch {}
  const [user = 0, nice = 0, system = 0, , , interrupts = 0, soft = 0, stolen = 0] = (line.match(/\d+/g) ?? []).map(
    Number,
  );
  return { wanted: user + nice + system + interrupts + soft + stolen, stolen };
}
