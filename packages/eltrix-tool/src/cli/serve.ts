import { Command } from 'commander';
import { startGallery } from '../gallery/index.ts';
import { readConfiguration } from '../project/config.ts';
import { complainOf, type Output, paint } from './output.ts';
import { port } from './whole.ts';

/** `eltrix serve`: the gallery. */
export function serveCommand(output: Output): Command {
  return new Command('serve')
    .option('--port <number>', 'the port on 127.0.0.1; 0 takes any that is free', port, 5180)
    .option('--source <folder>', 'the folder of the sources (default: "src")')
    .action(async (options: { port: number; source?: string }) => {
      try {
        const root = process.cwd();
        const { source, out, target } = await readConfiguration(root, options.source);
        const start = performance.now();
        const gallery = await startGallery(root, {
          source,
          out,
          target,
          port: options.port,
        });
        const took = ((performance.now() - start) / 1000).toFixed(2);
        const count = `${gallery.count} element${gallery.count === 1 ? '' : 's'}`;
        output.print(`${paint(output, 'bold', gallery.address)}  ${count}, ready in ${took} s. Press Ctrl+C to stop.`);
        const { problem } = gallery;
        if (problem) {
          output.print(`${problem.file}:${problem.line}:${problem.column} (source-error): ${problem.message}`);
          output.print('The gallery shows it, and the elements come when it is mended.');
        }
        await new Promise(() => {});
      } catch (error) {
        process.exitCode = complainOf(error, output);
      }
    });
}
