/** Options of all commands. They are read before the command, since they determine its project. */
import { existsSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import { place, projectFolder } from '../project/place.ts';
import { ToolError } from '../project/tool-error.ts';
import { settings } from './output.ts';

const withValue = new Set(['--cwd', '--config']);

export const globalHelp = `
Options of every command:
  --cwd <folder>      the folder to work in, instead of this one
  --config <file>     the configuration, instead of eltrix.config.* or package.json
  --quiet             print only errors; the exit code is the result
  --verbose           also print the project, its configuration, and stacks of errors
  --color, --no-color colours always, or never

Exit codes: 0 fine, 1 findings or failures, 2 misuse, 70 a fault of the tool, 130 and 143 interrupted.`;

const misuse = (message: string) => new ToolError('option-value', message, undefined, undefined, 2);

/**
 * Removes the options of all commands from the arguments, and changes to the project's folder.
 *
 * @param isNew whether the command creates a project.
 * @throws ToolError for a missing folder or file.
 */
export function takeGlobalOptions(args: readonly string[]): string[] {
  const rest: string[] = [];
  let cwd = process.cwd();
  let config: string | undefined;
  for (let at = 0; at < args.length; at++) {
    const arg = args[at]!;
    // The following argument is never an option.
    if (arg === '--') {
      rest.push(...args.slice(at));
      break;
    }
    const [name, inline] = arg.split(/=(.*)/s) as [string, string | undefined];
    if (withValue.has(name)) {
      const value = inline ?? args[++at];
      if (!value || value.startsWith('--'))
        throw misuse(
          `${name} needs a value, for example ${name} ${name === '--cwd' ? '../widgets' : 'eltrix.config.ts'}.`,
        );
      if (name === '--cwd') cwd = resolve(cwd, value);
      else config = value;
    } else if (arg === '--quiet') settings.quiet = true;
    else if (arg === '--verbose') settings.verbose = true;
    else if (arg === '--color') settings.colours = true;
    else if (arg === '--no-color') settings.colours = false;
    else rest.push(arg);
  }
  settings.json = rest.includes('--json');
  if (!existsSync(cwd) || !statSync(cwd).isDirectory())
    throw misuse(`There is no folder ${cwd}. Name the project's folder with --cwd.`);
  place.startedIn = cwd;
  if (config !== undefined) place.configuration = resolve(cwd, config);
  const command = rest.find(arg => !arg.startsWith('-'));
  // A new project has no configuration, and one in a folder above belongs to another project.
  process.chdir(command === 'new' ? cwd : projectFolder(cwd));
  return rest;
}
