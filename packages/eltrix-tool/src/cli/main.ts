#!/usr/bin/env node
import { Command } from 'commander';
import { toolVersion } from '../project/library.ts';
import { commandsFor } from './commands.ts';
import { globalHelp, takeGlobalOptions } from './global-options.ts';
import { complainOf, complainOfFault, settings, terminal } from './output.ts';

// Source maps, so that stacks lead to the user's TypeScript.
process.setSourceMapsEnabled(true);

let args: string[] = [];
try {
  args = takeGlobalOptions(process.argv.slice(2));
} catch (error) {
  process.exit(complainOf(error, terminal));
}
if (settings.verbose) terminal.complain(`eltrix-tool ${toolVersion()}, Node ${process.version}, in ${process.cwd()}`);

const program = new Command('eltrix')
  .description('Author, see, test, prove and build standards-based custom elements.')
  .version(toolVersion())
  .configureHelp({ subcommandTerm: command => `${command.name()} ${command.usage()}`.trimEnd() })
  .showHelpAfterError('Run eltrix --help for what there is.')
  .exitOverride(error => process.exit(error.exitCode === 0 ? 0 : 2));
for (const command of await commandsFor(args, terminal))
  program.addCommand(command.exitOverride(error => process.exit(error.exitCode === 0 ? 0 : 2)));

// The reader of a pipe may close it early.
for (const stream of [process.stdout, process.stderr])
  stream.on('error', (error: NodeJS.ErrnoException) => {
    process.exit(error.code === 'EPIPE' ? (process.exitCode ?? 0) : complainOfFault(error, terminal));
  });
for (const event of ['uncaughtException', 'unhandledRejection'] as const)
  process.on(event, (error: unknown) => process.exit(complainOfFault(error, terminal)));

// Temporary files are removed when the process exits.
for (const [signal, code] of [
  ['SIGINT', 130],
  ['SIGTERM', 143],
] as const)
  process.on(signal, () => process.exit(code));

program.addHelpText('after', globalHelp);
await program.parseAsync(args, { from: 'user' });
// Output in a pipe may be pending.
for (const stream of [process.stdout, process.stderr]) await new Promise(resolve => stream.write('', resolve));
// Bundlers leave workers running.
process.exit();
