#!/usr/bin/env node
import { Command } from 'commander';
import { libraryVersion } from '../project/library.ts';
import { buildCommand } from './build.ts';
import { checkCommand } from './check.ts';
import { describeCommand } from './describe.ts';
import { newCommand } from './new.ts';
import { terminal } from './output.ts';
import { serveCommand } from './serve.ts';
import { sketchCommand } from './sketch.ts';
import { testCommand } from './test.ts';

// Stacks lead to the user's TypeScript.
process.setSourceMapsEnabled(true);

const program = new Command('eltrix')
  .description('Author, see, test, prove and build standards-based custom elements.')
  .version(libraryVersion())
  .addCommand(newCommand(terminal))
  .addCommand(sketchCommand(terminal))
  .addCommand(serveCommand(terminal))
  .addCommand(testCommand(terminal))
  .addCommand(checkCommand(terminal))
  .addCommand(buildCommand(terminal))
  .addCommand(describeCommand(terminal))
  .showHelpAfterError('Run eltrix --help for what there is.')
  .exitOverride(error => process.exit(error.exitCode === 0 ? 0 : 2));
for (const command of program.commands) command.exitOverride(error => process.exit(error.exitCode === 0 ? 0 : 2));

// What is half done is taken away when the process exits.
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(130));

await program.parseAsync();
// What was printed into a pipe may still be on its way.
for (const stream of [process.stdout, process.stderr]) await new Promise(resolve => stream.write('', resolve));
// Bundlers leave workers behind; the work is done.
process.exit();
