import { Command, Option } from 'commander';
import { readConfiguration } from '../project/config.ts';
import { fromProject } from '../project/place.ts';
import { ToolError } from '../project/tool-error.ts';
import { checkAll } from './check-elements.ts';
import { checkPages } from './check-pages.ts';
import { checkMarkupTypes } from './check-types.ts';
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
  readonly types?: boolean;
  readonly json?: boolean;
  readonly sarif?: boolean;
}

const collect = (value: string, before: readonly string[] = []) => [...before, ...value.split(',')];

/** `eltrix check`: checks that elements keep their contracts, and that pages use them correctly. */
export function checkCommand(output: Output): Command {
  return new Command('check')
    .argument(
      '[pages...]',
      'HTML and CSS files, folders or globs, or - for stdin (default: check the elements themselves)',
    )
    .optionsGroup('For elements:')
    .option('--in <engines>', 'chromium, firefox, webkit; comma-separated (default: all installed ones)')
    .option('--element <tags>', 'only these elements, comma-separated', collect)
    .option('--without <rules>', 'skip rules, separated by commas', collect)
    .option('--timeout <milliseconds>', 'the time limit of one element', whole('--timeout', 1), 60_000)
    .option('--report <file>', 'a report as one HTML page, with pictures of each specimen in each engine')
    .option('--pictures', 'only compare pictures of each specimen with the accepted ones')
    .option('--accept', 'with --pictures: store pictures that differ or are new')
    .option('--module <files>', 'with --manifest: the modules that define the elements', collect)
    .optionsGroup('For pages:')
    .option('--fix', 'fix findings that have exactly one fix')
    .optionsGroup('For sources:')
    .option('--types', 'only check the types of expressions in markup, by the TypeScript of the project')
    .optionsGroup('For all:')
    .option(
      '--manifest <files>',
      'a custom-elements.json, or several, comma-separated, instead of this project’s elements',
      collect,
    )
    .option('--source <folder>', 'the folder of the sources (default: "src")')
    .addOption(new Option('--sarif', 'print SARIF 2.1.0').conflicts('json'))
    .option('--json', 'print JSON')
    .optionsGroup('Options:')
    .action(async (pages: string[], options: Options, command: Command) => {
      try {
        refuseOthers(pages, options, command);
        const root = process.cwd();
        const configuration = await readConfiguration(root, options.source);
        const all = { ...options, source: configuration.source, out: configuration.out };
        process.exitCode = options.types
          ? await checkMarkupTypes(root, all, output)
          : pages.length > 0
            ? await checkPages(
                root,
                pages.map(page => fromProject(page)),
                all,
                output,
              )
            : await checkAll(root, configuration, all, output);
      } catch (error) {
        process.exitCode = complainOf(error, output);
      }
    });
}

const forElements = ['in', 'element', 'without', 'timeout', 'report', 'pictures', 'accept', 'module'];

/** @throws ToolError for incompatible options and pages. */
function refuseOthers(pages: readonly string[], { types }: Options, command: Command): void {
  const firstOf = (names: readonly string[]) => names.find(name => command.getOptionValueSource(name) === 'cli');
  const refuse = (message: string) => new ToolError('option-value', message, undefined, undefined, 2);
  if (types && pages.length > 0)
    throw refuse('--types checks sources, and pages are named. Leave out --types, or the pages.');
  const forOthers = firstOf([...forElements, 'fix']);
  if (types && forOthers !== undefined)
    throw refuse(
      `--${forOthers} and --types do not go together: --types checks only the types of markup. Leave one out.`,
    );
  const given = firstOf(pages.length > 0 ? forElements.filter(name => name !== 'element') : ['fix']);
  if (given !== undefined)
    throw refuse(
      pages.length > 0
        ? `--${given} is for the check of elements, and pages are named. Leave it out, or the pages.`
        : '--fix is for pages. Name them, for example eltrix check "site/**/*.html" --fix.',
    );
}
