import { readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import { transformWithOxc } from 'vite';

/** Node's load hook: strips the types of .ts files. */
export async function load(url, context, next) {
  if (!url.startsWith('file:') || !/\.ts$/.test(new URL(url).pathname)) return next(url, context);
  const file = fileURLToPath(url);
  const { code } = await transformWithOxc(await readFile(file, 'utf8'), file, { sourcemap: false, target: 'es2022' });
  return { format: 'module', source: code, shortCircuit: true };
}
