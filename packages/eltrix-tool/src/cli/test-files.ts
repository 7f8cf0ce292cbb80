/** The test files and engines of a call. */
import { statSync } from 'node:fs';
import { join, relative, resolve } from 'node:path';
import { glob } from 'tinyglobby';
import { startGridSession } from '../engines/grid.ts';
import { engines, foundEngines } from '../engines/index.ts';
import type { Place } from '../engines/run/run.ts';
import { needPackage } from '../project/optional-package.ts';
import { ToolError } from '../project/tool-error.ts';
import { enginesFor } from './engine-choice.ts';
import type { Output } from './output.ts';
import type { TestOptions } from './test-options.ts';

export async function findTests(root: string, patterns: readonly string[], out: string): Promise<string[]> {
  const tests = '*.test.{ts,js,mts,mjs}';
  const wanted = patterns.map(pattern => {
    const path = relative(root, resolve(root, pattern)).replaceAll('\\', '/');
    return statSync(join(root, path), { throwIfNoEntry: false })?.isDirectory()
      ? `${path ? `${path}/` : ''}**/${tests}`
      : path;
  });
  const found = await glob(wanted.length > 0 ? wanted : [`**/${tests}`], {
    cwd: root,
    ignore: ['**/node_modules/**', `${out}/**`],
  });
  const files = found.filter(file => /\.[cm]?[jt]s$/.test(file)).sort();
  if (files.length > 0) return files;
  throw new ToolError(
    'no-test-files',
    patterns.length > 0
      ? `No file matches ${patterns.map(pattern => `"${pattern}"`).join(', ')}. Name a test file, or a glob in quotes: "src/**/*.test.ts".`
      : 'There is no test file here. Write one beside its element, for example src/hive-card.test.ts.',
    undefined,
    undefined,
    2,
  );
}

export function placesFor(options: TestOptions, output: Output): Place[] {
  if (options.grid) {
    needPackage('selenium-webdriver', 'A WebDriver server');
    const { grid, capabilities = { browserName: 'chrome' }, sessions } = options;
    if (!URL.canParse(grid) || !/^https?:$/.test(new URL(grid).protocol))
      throw new ToolError(
        'grid-session',
        `--grid ${grid} is no address. Write that of a WebDriver server, for example --grid http://grid.example:4444.`,
        undefined,
        undefined,
        2,
      );
    return [
      { kind: 'sessions', name: grid, start: () => startGridSession(grid, capabilities), count: Math.max(1, sessions) },
    ];
  }
  if (options.in === undefined) {
    const found = foundEngines();
    if (found.length > 0) {
      // To stderr: stdout may be machine-readable.
      for (const { name, install } of Object.values(engines).filter(engine => !found.includes(engine)))
        output.complain(`${name} is not installed, so the tests do not run there. ${install}`);
      return found.map(engine => ({ kind: 'engine', engine }));
    }
    output.print(
      'No browser engine was found, so the tests run in the simulated DOM (jsdom): no layout, no trusted input.',
    );
    for (const { install } of Object.values(engines)) output.print(`  ${install}`);
    needPackage('jsdom', 'The simulated DOM');
    return [{ kind: 'simulated' }];
  }
  return enginesFor(options.in, ['simulated']).map(engine => {
    if (typeof engine !== 'string') return { kind: 'engine', engine };
    needPackage('jsdom', 'The simulated DOM');
    return { kind: 'simulated' };
  });
}
