/** The TypeScript that is installed in a project, as a program. */
import { execFile } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';

export interface TypeScript {
  /** The path of `tsc`. */
  readonly program: string;
  readonly major: number;
  readonly minor: number;
}

/** @returns undefined if the project has none. */
export function typeScriptOf(root: string): TypeScript | undefined {
  try {
    const file = createRequire(join(root, 'package.json')).resolve('typescript/package.json');
    const { bin, version } = JSON.parse(readFileSync(file, 'utf8')) as { bin: { tsc: string }; version: string };
    const [major = 0, minor = 0] = version.split('.').map(Number);
    return { program: join(dirname(file), bin.tsc), major, minor };
  } catch {
    return undefined;
  }
}

/**
 * @param timeout in milliseconds; 0 without a limit.
 * @returns the compiler's output, also if it reports errors.
 */
export function runTypeScript(
  { program }: TypeScript,
  cwd: string,
  args: readonly string[],
  timeout = 0,
): Promise<string> {
  return new Promise((resolve, reject) => {
    execFile(process.execPath, [program, ...args], { cwd, timeout, maxBuffer: 1 << 28 }, (error, stdout, stderr) => {
      if (error && typeof error.code !== 'number') reject(error);
      else resolve(stdout || stderr);
    });
  });
}
