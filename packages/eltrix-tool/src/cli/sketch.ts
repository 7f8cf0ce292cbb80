import { existsSync, readFileSync, statSync } from 'node:fs';
import { basename, join, relative, resolve } from 'node:path';
import { Command } from 'commander';
import { checkPage } from '../check/pages/check-page.ts';
import { vocabularyOf } from '../check/pages/vocabulary.ts';
import { describeElement } from '../describe/model.ts';
import { classNameFor } from '../project/class-name.ts';
import { readConfiguration } from '../project/config.ts';
import { discover, type FoundElement } from '../project/discover.ts';
import { fromProject } from '../project/place.ts';
import { writeNew } from '../project/scaffold.ts';
import { type InferredElement, inferElement } from '../project/sketch/infer.ts';
import { readUsage } from '../project/sketch/usage.ts';
import { elementFiles } from '../project/sketch/write.ts';
import { ToolError } from '../project/tool-error.ts';
import { complainOf, type Output, paint } from './output.ts';

interface Options {
  readonly into?: string;
  readonly source?: string;
  readonly preview?: boolean;
}

/** `eltrix sketch`: creates elements from HTML that uses them. */
export function sketchCommand(output: Output): Command {
  return new Command('sketch')
    .argument('<usage.html>', 'HTML as you wish to write it: a page or a fragment')
    .option('--into <folder>', 'where to write (default: the folder of the sources)')
    .option('--source <folder>', 'the folder of the sources (default: "src")')
    .option('--preview', 'print the files instead of writing them')
    .action(async (file: string, options: Options) => {
      try {
        process.exitCode = await sketch(process.cwd(), fromProject(file), options, output);
      } catch (error) {
        process.exitCode = complainOf(error, output);
      }
    });
}

async function sketch(root: string, file: string, options: Options, output: Output): Promise<number> {
  const path = resolve(root, file);
  if (!statSync(path, { throwIfNoEntry: false })?.isFile())
    throw new ToolError(
      'no-usage',
      `There is no file ${file}. Write the HTML that you wish to use into it, for example <hive-card name="Rosemary"></hive-card>.`,
      undefined,
      undefined,
      2,
    );
  const text = readFileSync(path, 'utf8');
  const usage = readUsage(text);
  if (usage.size === 0)
    throw new ToolError(
      'no-usage',
      `There is no tag with a hyphen in ${file}, so there is nothing to sketch. Write one as you wish to use it, for example <hive-card name="Rosemary"></hive-card>.`,
      { file },
      undefined,
      1,
    );
  const { source } = await readConfiguration(root, options.source);
  const known = existsSync(join(root, source)) ? await discover(root, source) : [];
  const tags = new Set(known.map(({ tag }) => tag));
  const fresh = [...usage].filter(([tag]) => !tags.has(tag)).map(([tag, uses]) => inferElement(tag, uses));
  const into = options.into ?? source;
  const usageFile = basename(file);
  const beside = new Set([
    ...fresh.map(({ tag }) => tag),
    // Other modules are only imported if they are in the same folder.
    ...known.filter(({ tag, file }) => file === join(into, `${tag}.ts`).replaceAll('\\', '/')).map(({ tag }) => tag),
  ]);
  const files = new Map(fresh.map(element => [element, elementFiles(element, usageFile, beside)]));
  if (options.preview) {
    for (const [name, content] of [...files.values()].flatMap(Object.entries<string>))
      output.print(`${paint(output, 'bold', `── ${join(into, name)}`)}\n${content}`);
  } else {
    // All files or none.
    writeNew(resolve(root, into), Object.assign({}, ...files.values()) as Record<string, string>);
    for (const [element, written] of files) {
      output.print(`${paint(output, 'bold', `<${element.tag}>`)}  ${summary(element)}`);
      for (const note of [...falseFlags(element, usageFile), ...unusableNames(element, usageFile)]) output.print(note);
      for (const name of Object.keys(written)) output.print(`  ${relative(root, resolve(root, into, name))}`);
    }
    const types = join(root, 'tsconfig.json');
    if (files.size > 0 && existsSync(types) && !readFileSync(types, 'utf8').includes('eltrix/css'))
      output.print('For the types of sheets add "eltrix/css" to "types" in tsconfig.json.');
  }
  const differing = compare(
    root,
    file,
    text,
    known.filter(({ tag }) => usage.has(tag)),
    output,
  );
  if (fresh.length > 0 && !options.preview) {
    const classes = fresh.map(({ tag }) => classNameFor(tag));
    output.print(
      `\nWrite what ${classes.length === 1 ? `${classes[0]} is` : `${classes.join(' and ')} are`} for, and look: npx eltrix serve`,
    );
  }
  return differing > 0 ? 1 : 0;
}

/** Boolean attributes written with the value "false". */
function falseFlags({ attributes, uses }: InferredElement, file: string): string[] {
  return attributes
    .filter(({ kind }) => kind === 'flag')
    .flatMap(({ attribute }) =>
      uses
        .filter(use => use.attributes.get(attribute)?.toLowerCase() === 'false')
        .map(
          ({ line }) =>
            `  ${file}:${line} note: ${attribute}="false" is true, as every flag that is there (HTML §2.3.2). Leave the attribute out.`,
        ),
    );
}

/** Attributes that were left out. */
function unusableNames({ unusable, uses }: InferredElement, file: string): string[] {
  return unusable.map(name => {
    const { line } = uses.find(({ attributes }) => attributes.has(name))!;
    return `  ${file}:${line} note: no script can set an attribute ${name} in every engine. It was left out: begin with a letter, and use letters, digits and hyphens.`;
  });
}

function summary({ uses, attributes, slots, events }: InferredElement): string {
  const count = (list: readonly unknown[], one: string) =>
    list.length > 0 ? [`${list.length} ${one}${list.length > 1 ? 's' : ''}`] : [];
  const made = [...count(attributes, 'attribute'), ...count(slots, 'slot'), ...count(events, 'event')];
  return `${made.join(', ') || 'nothing but its tag'}, from ${uses.length} use${uses.length > 1 ? 's' : ''}`;
}

/** Differences between the HTML and existing elements, which are not changed. */
function compare(root: string, file: string, text: string, known: readonly FoundElement[], output: Output): number {
  let differing = 0;
  for (const element of known) {
    // A fragment needs no scripts: only differences from the contract are reported.
    const findings = checkPage(file, text, vocabularyOf([describeElement(root, element)])).filter(
      ({ code }) => code !== 'script-missing' && code !== 'tag-unknown',
    );
    differing += findings.length;
    output.print(
      `${paint(output, 'bold', `<${element.tag}>`)}  is there already, in ${element.file}${findings.length === 0 ? ', and agrees.' : '. Nothing was changed; it differs in:'}`,
    );
    for (const { line, column, code, message } of findings)
      output.print(`  ${file}:${line}:${column} (${code}): ${message}`);
  }
  return differing;
}
