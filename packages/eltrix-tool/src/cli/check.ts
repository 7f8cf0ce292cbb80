import { Command } from 'commander';
import { readConfiguration } from '../project/config.ts';
import { checkAll } from './check-elements.ts';
import { checkPages } from './check-pages.ts';
import { complainOf, type Output } from './output.ts';
import { whole } from './whole.ts';

interface Options {
  readonly source?: string;
  readonly manifest?: readonly string[];
  readonly module?: readonly string[];
  readonly element?: readonly string[];
  readonly without?: readonly string[];
  readonly in?: string;
  readonly timeout: number;
  readonly report?: string;
  readonly pictures?: boolean;
  readonly accept?: boolean;
  readonly fix?: boolean;
  readonly json?: boolean;
  readonly sarif?: boolean;
}

const collect = (value: string, before: readonly string[] = []) => [...before, ...value.split(',')];

/** `eltrix check`: proof that elements keep what they declare, and that pages use them rightly. */
export function checkCommand(output: Output): Command {
  return new Command('check')
    .argument(
      '[pages...]',
      'HTML and CSS files, folders or globs, or - for stdin (default: check the elements themselves)',
    )
    .option('--in <engines>', 'elements: chromium, firefox, webkit; several with commas (default: all that are found)')
    .option('--element <tags>', 'elements: only these, with commas', collect)
    .option('--without <rules>', 'elements: leave rules out, with commas', collect)
    .option('--timeout <milliseconds>', 'elements: how long one element may take', whole('--timeout', 1), 60_000)
    .option('--report <file>', 'elements: a report as one HTML page, with pictures of each specimen in each engine')
    .option('--pictures', 'elements: only compare pictures of each specimen with those that were accepted')
    .option('--accept', 'with --pictures: store what differs, or is new')
    .option('--fix', 'pages: mend what has one sure answer')
    .option('--sarif', 'as SARIF 2.1.0')
    .option(
      '--manifest <files>',
      'a custom-elements.json, or several with commas, in place of this project’s own elements',
      collect,
    )
    .option('--module <files>', 'elements: with --manifest, the modules that define them', collect)
    .option('--source <folder>', 'the folder of the sources (default: "src")')
    .option('--json', 'as JSON')
    .action(async (pages: string[], options: Options) => {
      try {
        const root = process.cwd();
        const configuration = await readConfiguration(root, options.source);
        const all = { ...options, source: configuration.source, out: configuration.out };
        process.exitCode =
          pages.length > 0
            ? await checkPages(root, pages, all, output)
            : await checkAll(root, configuration, all, output);
      } catch (error) {
        process.exitCode = complainOf(error, output);
      }
    });
}
