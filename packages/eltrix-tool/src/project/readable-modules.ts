/** Modules that bundlers would not survive, or of which they would not say what is wrong. */
import { spawnSync } from 'node:child_process';
import { relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Plugin } from 'vite';
import { excerptOf, ToolError } from './tool-error.ts';

/** Brackets inside each other: no parser has been seen to fail below, and no source has so many. */
const usual = 1500;

/** @throws ToolError for a source that the parser does not survive. */
export function refuseTooDeep(path: string, code: string): void {
  if (code.length < 2 * usual || depthOf(code) < usual) return;
  // Brackets in texts may have been counted: another process, with the stack of a thread, tries it.
  const parser = fileURLToPath(import.meta.resolve('vite'));
  const trial = `import { Worker } from 'node:worker_threads';
const code = await new Response(process.stdin).text();
new Worker(\`import('node:worker_threads').then(async ({ workerData }) => { const { parseSync } = await import(\${JSON.stringify(${JSON.stringify(parser)})}); parseSync('a.ts', workerData); })\`, { eval: true, workerData: code });`;
  const { status } = spawnSync(process.execPath, ['--input-type=module', '-e', trial], {
    input: code,
    stdio: ['pipe', 'ignore', 'ignore'],
  });
  if (status === 0) return;
  const file = relative(process.cwd(), path.replace(/\?.*$/, '')).replaceAll('\\', '/');
  throw new ToolError('source-deep', 'This file is nested too deeply to be parsed. Is it data? Keep that as JSON.', {
    file,
  });
}

/** The deepest nesting of brackets, strings and comments included. */
function depthOf(code: string): number {
  let depth = 0;
  let most = 0;
  for (let at = 0; at < code.length; at++) {
    const sign = code.charCodeAt(at);
    if (sign === 40 || sign === 91 || sign === 123) most = Math.max(most, ++depth);
    else if (sign === 41 || sign === 93 || sign === 125) depth = Math.max(0, depth - 1);
  }
  return most;
}

/** For bundlers: it looks at each module before they parse it, and says what they would not. */
export function readableModules(root: string): Plugin {
  return {
    name: 'eltrix-readable-modules',
    enforce: 'pre',
    transform: {
      order: 'pre',
      filter: { id: /\.(?:[cm]?[jt]sx?|json)$/ },
      handler(code, id) {
        if (id.endsWith('.json')) refuseBrokenJson(root, id, code);
        else refuseTooDeep(id, code);
      },
    },
  };
}

function refuseBrokenJson(root: string, id: string, code: string): void {
  try {
    JSON.parse(code);
  } catch (error) {
    const { message } = error as Error;
    const offset = Number(/position (\d+)/.exec(message)?.[1] ?? code.length);
    const before = code.slice(0, offset).split('\n');
    const [line, column] = [before.length, before.at(-1)!.length + 1];
    const file = relative(root, id).replaceAll('\\', '/');
    throw new ToolError(
      'source-error',
      `This is no JSON: ${message.replace(/ in JSON at.*$/, '')}.`,
      { file, line, column },
      excerptOf(code, line, column),
    );
  }
}
