import { Command } from 'commander';
import { buildElements } from '../compile/build.ts';
import { readConfiguration } from '../project/config.ts';
import { discover } from '../project/discover.ts';
import { ToolError } from '../project/tool-error.ts';
import { bytes, complainOf, type Output, paint, table } from './output.ts';

/** `eltrix build`: dependency-free files. */
export function buildCommand(output: Output): Command {
  return new Command('build')
    .description('write one dependency-free ES module an element, and all.js')
    .option('--out <folder>', 'the folder to write, from the project folder (default: "dist")')
    .option('--source <folder>', 'the folder of the sources (default: "src")')
    .option('--json', 'print the files and sizes as JSON')
    .action(async (options: { out?: string; source?: string; json?: boolean }) => {
      try {
        const root = process.cwd();
        const configuration = await readConfiguration(root);
        const source = options.source ?? configuration.source;
        const out = options.out ?? configuration.out;
        const elements = await discover(root, source);
        if (elements.length === 0) {
          throw new ToolError(
            'no-elements',
            `There is no exported element class under "${source}". Export one: export class MyCard extends contract('my-card', {}) {}`,
          );
        }
        const files = await buildElements(root, elements, out);
        if (options.json) output.print(JSON.stringify({ out, files }, null, 2));
        else {
          const [head, ...rows] = table(
            [`${out}/`, 'raw', 'brotli'],
            files.map(({ file, raw, brotli }) => [file, bytes(raw), bytes(brotli)]),
          );
          output.print(paint(output, 'bold', head!));
          for (const row of rows) output.print(row);
          output.print(`\n${elements.length} element${elements.length === 1 ? '' : 's'}, no imports beyond ${out}/.`);
        }
      } catch (error) {
        process.exitCode = complainOf(error, output);
      }
    });
}
