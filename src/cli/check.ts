import { Command } from 'commander';
import { readConfiguration } from '../project/config.ts';
import { checkPages } from './check-pages.ts';
import { complainOf, type Output } from './output.ts';

interface Options {
  readonly source?: string;
  readonly manifest?: string;
  readonly fix?: boolean;
  readonly json?: boolean;
  readonly sarif?: boolean;
}

/** `eltrix check`: proof that elements keep what they declare, and that pages use them rightly. */
export function checkCommand(output: Output): Command {
  return new Command('check')
    .description('prove that each element keeps what it declares; with pages: check every use in them')
    .argument('[pages...]', 'HTML files, folders or globs, or - for stdin (default: check the elements themselves)')
    .option('--fix', 'pages: mend what has one sure answer')
    .option('--manifest <file>', 'a custom-elements.json to check against, in place of this project')
    .option('--source <folder>', 'the folder of the sources (default: "src")')
    .option('--json', 'as JSON')
    .option('--sarif', 'pages: as SARIF 2.1.0')
    .action(async (pages: string[], options: Options) => {
      try {
        const root = process.cwd();
        const configuration = await readConfiguration(root);
        const all = { ...options, source: options.source ?? configuration.source, out: configuration.out };
        process.exitCode = await checkPages(root, pages, all, output);
      } catch (error) {
        process.exitCode = complainOf(error, output);
      }
    });
}
