import { relative, resolve } from 'node:path';
import { Command } from 'commander';
import { writeProject } from '../project/scaffold.ts';
import { complainOf, type Output, paint } from './output.ts';

/** A path, quoted for a shell. */
const quoted = (path: string) => (/^[\w@%+=:,./-]+$/.test(path) ? path : `'${path.replaceAll("'", "'\\''")}'`);

/** The commands of each package manager to install, and to run an installed command. */
const managers: Readonly<Record<string, readonly [install: string, run: string]>> = {
  npm: ['npm install', 'npx eltrix'],
  pnpm: ['pnpm install', 'pnpm exec eltrix'],
  yarn: ['yarn', 'yarn eltrix'],
  bun: ['bun install', 'bunx eltrix'],
};

/** The package manager that called the tool, from its user agent variable. */
const manager = (): string => /^(\w+)\//.exec(process.env['npm_config_user_agent'] ?? '')?.[1] ?? 'npm';

/** `eltrix new`: creates a project. */
export function newCommand(output: Output): Command {
  return new Command('new')
    .argument('<folder>', 'where to make it')
    .option('--js', 'in JavaScript instead of TypeScript')
    .action((folder: string, options: { js?: boolean }) => {
      try {
        const path = resolve(folder);
        const files = writeProject(path, options.js === true);
        output.print(`${paint(output, 'bold', relative(process.cwd(), path) || '.')}/`);
        for (const file of files) output.print(`  ${file}`);
        output.print('\nNext:');
        const [install, run] = managers[manager()] ?? managers['npm']!;
        for (const command of [`cd ${quoted(relative(process.cwd(), path) || '.')}`, install, `${run} serve`])
          output.print(`  ${paint(output, 'cyan', command)}`);
      } catch (error) {
        process.exitCode = complainOf(error, output);
      }
    });
}
