import { accessSync, constants, existsSync } from 'node:fs';
import { createRequire } from 'node:module';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import { Command } from 'commander';
import { engines } from '../engines/index.ts';
import { configurationOf, readConfiguration } from '../project/config.ts';
import { toolVersion } from '../project/library.ts';
import { ToolError } from '../project/tool-error.ts';
import { complainOf, type Output, Progress, paint } from './output.ts';

interface Finding {
  /** `ok`, `missing` (a feature does not work without it), or `note`. */
  readonly state: 'ok' | 'missing' | 'note';
  readonly what: string;
  readonly found: string;
  /** The advice. */
  readonly fix?: string;
}

/** `eltrix doctor`: checks this machine and project. */
export function doctorCommand(output: Output): Command {
  return new Command('doctor')
    .option('--no-start', 'do not start the engines that are found')
    .option('--json', 'as JSON')
    .addHelpText('after', '\nExamples:\n  eltrix doctor\n  eltrix doctor --json --no-start')
    .action(async (options: { readonly start: boolean; readonly json?: boolean }) => {
      const progress = new Progress(output);
      try {
        const root = process.cwd();
        const findings = [...versions(root), ...(await configuration(root)), ...permissions(root), await port()];
        for (const engine of Object.values(engines)) {
          progress.show(`Starting ${engine.name}`);
          findings.push(await drivable(engine, options.start));
        }
        progress.end();
        if (!findings.some(({ what, state }) => what in engines && state === 'ok'))
          findings.push({
            state: 'missing',
            what: 'engines',
            found: 'none can be driven, so tests run in the simulated DOM only',
            fix: engines.chromium.install,
          });
        if (options.json) output.print(JSON.stringify({ root, findings }, null, 2));
        else print(findings, output);
        process.exitCode = findings.some(({ state }) => state === 'missing') ? 1 : 0;
      } catch (error) {
        progress.end();
        process.exitCode = complainOf(error, output);
      }
    });
}

function print(findings: readonly Finding[], output: Output): void {
  const marks = {
    ok: paint(output, 'green', '✔'),
    missing: paint(output, 'red', '✖'),
    note: paint(output, 'yellow', '–'),
  };
  const width = Math.max(...findings.map(({ what }) => what.length));
  for (const { state, what, found, fix } of findings) {
    output.print(`${marks[state]} ${what.padEnd(width)}  ${found}`);
    if (fix) output.print(`  ${' '.repeat(width)}  ${paint(output, 'dim', fix)}`);
  }
}

function versions(root: string): Finding[] {
  const require = createRequire(join(root, 'package.json'));
  const versionOf = (name: string): string | undefined => {
    try {
      return (require(`${name}/package.json`) as { version: string }).version;
    } catch {
      return undefined;
    }
  };
  const library = versionOf('eltrix');
  const [major = 0, minor = 0] = process.versions.node.split('.').map(Number);
  const isNew = major > 20 || (major === 20 && minor >= 19);
  return [
    {
      state: isNew ? 'ok' : 'missing',
      what: 'Node',
      found: `${process.version}, ${process.platform} ${process.arch}`,
      ...(isNew ? {} : { fix: 'Install Node 20.19 or later.' }),
    },
    { state: 'ok', what: 'eltrix-tool', found: toolVersion() },
    library === undefined
      ? { state: 'missing', what: 'eltrix', found: 'not installed in this project', fix: 'npm install eltrix' }
      : library === toolVersion()
        ? { state: 'ok', what: 'eltrix', found: library }
        : {
            state: 'missing',
            what: 'eltrix',
            found: `${library}, and the tool is ${toolVersion()}`,
            fix: `npm install eltrix@${toolVersion()}`,
          },
    ...(['typescript', 'vite'] as const).map((name): Finding => {
      const version = versionOf(name);
      return version
        ? { state: 'ok', what: name, found: version }
        : { state: 'note', what: name, found: 'not installed in this project, which works without it' };
    }),
  ];
}

async function configuration(root: string): Promise<Finding[]> {
  try {
    const { source, out, target, render, classic, budget } = await readConfiguration(root);
    const from = configurationOf(root);
    return [
      { state: 'ok', what: 'project', found: root },
      {
        state: 'ok',
        what: 'configuration',
        found: `${from ? relative(root, from) : 'defaults'}: ${JSON.stringify({ source, out, target, render, classic, budget })}`,
      },
      existsSync(join(root, source))
        ? { state: 'ok', what: 'sources', found: `${source}/` }
        : {
            state: 'note',
            what: 'sources',
            found: `there is no folder ${source}/`,
            fix: 'eltrix add hive-card writes a first element, or name the folder with "source".',
          },
    ];
  } catch (error) {
    if (!(error instanceof ToolError)) throw error;
    return [{ state: 'missing', what: 'configuration', found: error.message }];
  }
}

function permissions(root: string): Finding[] {
  return [root, tmpdir()].map((folder): Finding => {
    const what = folder === root ? 'writing here' : 'temporary files';
    try {
      accessSync(folder, constants.W_OK);
      return { state: 'ok', what, found: folder };
    } catch {
      return {
        state: 'missing',
        what,
        found: `${folder} cannot be written`,
        fix: 'Change its permissions, or set TMPDIR.',
      };
    }
  });
}

/** Whether the gallery's default port is free. */
function port(): Promise<Finding> {
  return new Promise(resolve => {
    const server = createServer()
      .once('error', () =>
        resolve({
          state: 'note',
          what: 'port 5180',
          found: 'taken by another program',
          fix: 'eltrix serve --port 0 takes any that is free.',
        }),
      )
      .listen(5180, '127.0.0.1', () => server.close(() => resolve({ state: 'ok', what: 'port 5180', found: 'free' })));
  });
}

async function drivable(engine: (typeof engines)[keyof typeof engines], start: boolean): Promise<Finding> {
  const { name, install } = engine;
  const found = engine.find();
  if (!found) return { state: 'note', what: name, found: 'not found', fix: install };
  if (!start) return { state: 'ok', what: name, found: `found: ${found}` };
  const began = performance.now();
  try {
    const session = await engine.start();
    const { version } = session;
    await session.close();
    return {
      state: 'ok',
      what: name,
      found: `${version}, started in ${((performance.now() - began) / 1000).toFixed(1)} s`,
    };
  } catch (error) {
    const [reason = ''] = (error as Error).message.split('\n');
    return { state: 'missing', what: name, found: `${found} does not start: ${reason}`, fix: install };
  }
}
