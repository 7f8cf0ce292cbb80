import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { Command } from 'commander';
import { tagProblem } from '../../../eltrix/src/contract/names.ts';
import { readConfiguration } from '../project/config.ts';
import { newElementFiles } from '../project/new-element.ts';
import { writeNew } from '../project/scaffold.ts';
import { ToolError } from '../project/tool-error.ts';
import { withoutCode } from '../project/without-code.ts';
import { complainOf, type Output, paint } from './output.ts';

interface Options {
  readonly into?: string;
  readonly source?: string;
  readonly js?: boolean;
}

/** `eltrix add`: one more element. */
export function addCommand(output: Output): Command {
  return new Command('add')
    .argument('<tag>', 'the tag of the element, with a hyphen')
    .option('--into <folder>', 'where to write (default: the folder of the sources)')
    .option('--source <folder>', 'the folder of the sources (default: "src")')
    .option('--js', 'in JavaScript (default: the language of the other sources)')
    .addHelpText('after', '\nExamples:\n  eltrix add hive-card\n  eltrix add hive-card --into src/cards --js')
    .action(async (tag: string, options: Options) => {
      try {
        const root = process.cwd();
        const problem = tagProblem(tag);
        if (problem) throw new ToolError(problem.code, withoutCode(problem.message), undefined, undefined, 2);
        const { source } = await readConfiguration(root, options.source);
        const into = options.into ?? source;
        const files = newElementFiles(tag, options.js ?? isJavaScript(join(root, source)));
        writeNew(join(root, into), files);
        for (const file of Object.keys(files)) output.print(paint(output, 'bold', join(into, file)));
        output.print(`\nSee it with eltrix serve. Its first sentence, in "about", is yours to write.`);
      } catch (error) {
        process.exitCode = complainOf(error, output);
      }
    });
}

/** Whether a project's sources are JavaScript. */
function isJavaScript(folder: string): boolean {
  if (!existsSync(folder)) return false;
  const files = readdirSync(folder, { recursive: true }) as string[];
  return files.some(file => /\.m?js$/.test(file)) && !files.some(file => /\.m?ts$/.test(file));
}
