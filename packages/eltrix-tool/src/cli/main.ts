#!/usr/bin/env node
import { Command } from 'commander';
import { toolVersion } from '../project/library.ts';
import { commandsFor } from './commands.ts';
import { terminal } from './output.ts';

// Stacks lead to the user's TypeScript.
process.setSourceMapsEnabled(true);

const program = new Command('eltrix')
  .description('Author, see, test, prove and build standards-based custom elements.')
  .version(toolVersion())
  .configureHelp({ subcommandTerm: command => `${command.name()} ${command.usage()}`.trimEnd() })
  .showHelpAfterError('Run eltrix --help for what there is.')
  .exitOverride(error => process.exit(error.exitCode === 0 ? 0 : 2));
for (const command of await commandsFor(process.argv.slice(2), terminal))
  program.addCommand(command.exitOverride(error => process.exit(error.exitCode === 0 ? 0 : 2)));

// What is half done is taken away when the process exits.
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(130));

await program.parseAsync();
// What was printed into a pipe may still be on its way.
for (const stream of [process.stdout, process.stderr]) await new Promise(resolve => stream.write('', resolve));
// Bundlers leave workers behind; the work is done.
process.exit();
