/** Modules on which bundlers crash, or fail without a useful message. */
import { spawnSync } from 'node:child_process';
import { relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Plugin } from 'vite';
import { positionIn } from './text-position.ts';
import { excerptOf, ToolError } from './tool-error.ts';

/** The depth of nested brackets below which no parser has failed; real sources have less. */
const usual = 1500;

/** @throws ToolError for a source on which the parser crashes. */
export function refuseTooDeep(path: string, code: string): void {
  if (code.length < 2 * usual || depthOf(code) < usual) return;
  // The count includes brackets in strings, so another process with a thread's stack size tries to parse it.
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

/** The maximum depth of brackets, including those in strings and comments. */
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

/** A bundler plugin that checks each module before it is parsed, and reports what the bundler would not. */
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

function refuseBrokenJson(root: string, id: string, text: string): void {
  const code = text.replace(/^\uFEFF/, '');
  try {
    JSON.parse(code);
  } catch (error) {
    const { message } = error as Error;
    const offset = Number(/position (\d+)/.exec(message)?.[1] ?? code.length);
    const { line, column } = positionIn(code, offset);
    const file = relative(root, id).replaceAll('\\', '/');
    throw new ToolError(
      'source-error',
      `This is no JSON: ${message.replace(/ in JSON at.*$/, '')}.`,
      { file, line, column },
      excerptOf(code, line, column),
    );
  }
}
