import { Command } from 'commander';
import { startGallery } from '../gallery/index.ts';
import { readConfiguration } from '../project/config.ts';
import { complainOf, type Output, paint } from './output.ts';
import { host, port } from './whole.ts';

/** `eltrix serve`: the gallery. */
export function serveCommand(output: Output): Command {
  return new Command('serve')
    .option('--port <number>', 'the port on 127.0.0.1; 0 takes any that is free', port, 5180)
    .option('--host <address>', 'the address to listen on; 0.0.0.0 admits other machines', host, '127.0.0.1')
    .option('--open', 'open it in the browser')
    .option('--source <folder>', 'the folder of the sources (default: "src")')
    .action(async (options: { port: number; host: string; open?: boolean; source?: string }) => {
      try {
        const root = process.cwd();
        const { source, out, target } = await readConfiguration(root, options.source);
        const start = performance.now();
        const gallery = await startGallery(root, {
          source,
          out,
          target,
          port: options.port,
          host: options.host,
        });
        const took = ((performance.now() - start) / 1000).toFixed(2);
        const count = `${gallery.count} element${gallery.count === 1 ? '' : 's'}`;
        output.print(`${paint(output, 'bold', gallery.address)}  ${count}, ready in ${took} s. Press Ctrl+C to stop.`);
        if (!/^(?:127\.|localhost$|::1$)/.test(options.host))
          output.complain(
            `${paint(output, 'yellow', 'Warning')} (listens-beyond): the gallery listens on ${options.host}, so other machines can read the sources of this project. Leave out --host to serve this machine only.`,
          );
        if (options.open) {
          const { default: open } = await import('open');
          await open(gallery.address);
        }
        const { problem } = gallery;
        if (problem) {
          output.print(`${problem.file}:${problem.line}:${problem.column} (source-error): ${problem.message}`);
          output.print('The gallery shows the mistake, and the elements once it is fixed.');
        }
        await new Promise(() => {});
      } catch (error) {
        process.exitCode = complainOf(error, output);
      }
    });
}
