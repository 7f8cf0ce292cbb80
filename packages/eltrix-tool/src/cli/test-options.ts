/** The options of `eltrix test`. */
import { type Command, InvalidArgumentError, Option } from 'commander';
import { type ReporterChoice, reporterChoice } from '../engines/run/reporters.ts';
import { port, whole } from './whole.ts';

export interface TestOptions {
  readonly in?: string;
  readonly report?: readonly ReporterChoice[];
  readonly match?: readonly string[];
  readonly watch?: boolean;
  readonly coverage?: boolean;
  readonly bail?: boolean;
  readonly retry: number;
  readonly shard?: readonly [part: number, of: number];
  readonly require?: string;
  readonly list?: boolean;
  readonly accept?: boolean;
  readonly open?: true | string;
  readonly port: number;
  readonly debug?: boolean;
  readonly merge?: readonly string[];
  readonly shuffle: boolean | number;
  readonly times: number;
  readonly timeout: number;
  readonly isolate?: boolean;
  readonly order?: readonly number[];
  readonly compiled?: boolean;
  readonly production?: boolean;
  readonly clean: boolean;
  readonly grid?: string;
  readonly capabilities?: Readonly<Record<string, unknown>>;
  readonly sessions: number;
}

export function withTestOptions(command: Command): Command {
  return command
    .argument('[files...]', 'test files or globs (default: every *.test.ts and *.test.js)')
    .optionsGroup('Which tests:')
    .option('--match <pattern>', 'only tests whose names match; repeatable', collect)
    .option('--shard <part>', 'only a part of the files, for example 2/5: the second of five', shard)
    .option('--order <numbers>', 'only these tests of a file, by number, in this order (printed by --isolate)', numbers)
    .option('--list', 'print the tests, and run none')
    .option('--shuffle <seed>', 'repeat the random order of an earlier run', whole('--shuffle'))
    .option('--no-shuffle', 'run tests in the order in which they are written')
    .optionsGroup('Where they run:')
    .option('--in <engines>', 'chromium, firefox, webkit, simulated; comma-separated (default: all installed ones)')
    .option('--require <engines>', 'fail if one of these engines is missing')
    .option('--compiled', 'compile the elements first, as a build does')
    .option('--production', 'compile for production, with codes instead of messages')
    .option('--grid <url>', 'a remote WebDriver server')
    .option('--capabilities <json>', 'the capabilities to request from the grid', json)
    .option('--sessions <count>', 'the number of parallel sessions of the grid', whole('--sessions', 1), 1)
    .optionsGroup('How they run:')
    .option('--bail', 'stop at the first failure')
    .option(
      '--retry <times>',
      'run a failed test again; one that passes then is reported as flaky',
      whole('--retry', 1),
      0,
    )
    .option('--times <count>', 'run each test several times', whole('--times', 1), 1)
    .option('--timeout <milliseconds>', 'the time limit of a test', whole('--timeout', 1), 20_000)
    .addOption(
      new Option('--isolate', 'find tests whose outcome depends on earlier tests').conflicts(['watch', 'merge']),
    )
    .option('--no-clean', 'allow tests to leave things behind')
    .option('--accept', 'store snapshots and pictures that differ or are new')
    .optionsGroup('Watching and debugging:')
    .addOption(new Option('--watch', 'run affected tests after each change').conflicts(['list', 'merge', 'shard']))
    .addOption(
      new Option(
        '--open [engine]',
        'show the tests as a page in a browser: run one, inspect its element, set breakpoints',
      ).conflicts(['watch', 'debug', 'list', 'merge', 'isolate', 'grid', 'coverage', 'shard']),
    )
    .option('--port <number>', 'with --open: the port on 127.0.0.1; 0 takes any that is free', port, 0)
    .addOption(
      new Option('--debug', 'one engine with a window, waiting before the first test, without time limits').conflicts([
        'list',
        'merge',
        'grid',
        'coverage',
      ]),
    )
    .optionsGroup('Reports:')
    .option(
      '--report <reporter[=file]>',
      'spec, tap, dot, junit, html=report.html, or a module as for node --test-reporter; repeatable (default: spec)',
      (text, before: readonly ReporterChoice[] = []) => [...before, reporterChoice(text)],
    )
    .option('--merge <files...>', 'report the events files of other runs as one run')
    .option('--coverage', 'coverage of the sources by lines and branches (Chromium): a table, and coverage/lcov.info')
    .optionsGroup('Options:');
}

function collect(value: string, before: readonly string[] = []): string[] {
  try {
    new RegExp(value);
  } catch (error) {
    throw new InvalidArgumentError(
      `It takes a regular expression: ${(error as Error).message}. Put a backslash before signs that are meant as they are.`,
    );
  }
  return [...before, value];
}

function shard(value: string): readonly [number, number] {
  const [, part = 0, of = 0] = (/^(\d+)\/(\d+)$/.exec(value) ?? []).map(Number);
  if (part < 1 || part > of)
    throw new InvalidArgumentError('It takes a part and how many there are, for example --shard 2/5.');
  return [part, of];
}

function numbers(value: string): number[] {
  if (!/^\d+(?:,\d+)*$/.test(value))
    throw new InvalidArgumentError('It takes comma-separated numbers, for example --order 2,5.');
  return value.split(',').map(Number);
}

function json(value: string): Record<string, unknown> {
  try {
    return JSON.parse(value) as Record<string, unknown>;
  } catch (error) {
    throw new InvalidArgumentError(`It is no JSON: ${(error as Error).message}.`);
  }
}
