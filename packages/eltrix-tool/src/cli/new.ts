import { relative, resolve } from 'node:path';
import { Command } from 'commander';
import { writeProject } from '../project/scaffold.ts';
import { complainOf, type Output, paint } from './output.ts';

/** A path as a shell takes it. */
const quoted = (path: string) => (/^[\w@%+=:,./-]+$/.test(path) ? path : `'${path.replaceAll("'", "'\\''")}'`);

/** `eltrix new`: a ready project. */
export function newCommand(output: Output): Command {
  return new Command('new').argument('<folder>', 'where to make it').action((folder: string) => {
    try {
      const path = resolve(folder);
      const files = writeProject(path);
      output.print(`${paint(output, 'bold', relative(process.cwd(), path) || '.')}/`);
      for (const file of files) output.print(`  ${file}`);
      output.print('\nGo on with:');
      for (const command of [`cd ${quoted(relative(process.cwd(), path) || '.')}`, 'npm install', 'npx eltrix serve'])
        output.print(`  ${paint(output, 'cyan', command)}`);
    } catch (error) {
      process.exitCode = complainOf(error, output);
    }
  });
}
