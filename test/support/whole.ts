/** A project that is watched, beside one with the same sources that is built from nothing each time. */
import assert from 'node:assert/strict';
import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { eltrix, project, running } from './project.ts';

export function watchedPair(files: Record<string, string>) {
  const root = project(files);
  const copy = project(files);
  const watcher = running(root, 'build', '--watch', '--no-look', '--json');
  const contents = (root: string): Record<string, string> =>
    Object.fromEntries(
      readdirSync(join(root, 'dist')).map(file => [file, readFileSync(join(root, 'dist', file), 'utf8')]),
    );
  const built = async () => {
    const [json] = /^\{[^]*?^\}$/m.exec(await watcher.until(/^\}$/m))!;
    return JSON.parse(json) as { anew: string[] };
  };
  return {
    watcher,
    built,
    async begun(): Promise<void> {
      // Standard output and standard error arrive in any order.
      await watcher.until(/^(?=[^]*^\}$)(?=[^]*Watching)/m);
    },
    read: (file: string) => readFileSync(join(root, file), 'utf8'),
    write(file: string, text: string): void {
      for (const folder of [copy, root]) writeFileSync(join(folder, file), text);
    },
    /** The names of files that a build from nothing writes otherwise. */
    unlike(): string[] {
      rmSync(join(copy, 'node_modules/.cache'), { recursive: true, force: true });
      const { status, stderr } = eltrix(copy, 'build', '--no-look');
      assert.equal(status, 0, stderr);
      const [a, b] = [contents(root), contents(copy)];
      return [...new Set([...Object.keys(a), ...Object.keys(b)])].filter(name => a[name] !== b[name]);
    },
  };
}
