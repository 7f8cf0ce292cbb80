import { Command } from 'commander';
import { complainOf, type Output } from './output.ts';

/** `eltrix language-server`: for editors. */
export function languageServerCommand(output: Output): Command {
  return new Command('language-server')
    .option('--stdio', 'use standard input and output, as it always does')
    .action(async () => {
      try {
        const { serveEditor } = await import('../editor/server.ts');
        await serveEditor();
      } catch (error) {
        process.exitCode = complainOf(error, output);
      }
    });
}
