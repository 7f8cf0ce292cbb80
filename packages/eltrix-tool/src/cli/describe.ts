import { Command, Option } from 'commander';
import { type ElementDescription, isCalled } from '../describe/description.ts';
import { describeInferred } from '../describe/model.ts';
import { reference, referencePage } from '../describe/reference.ts';
import { readConfiguration } from '../project/config.ts';
import { discover } from '../project/discover.ts';
import { chosenElements } from './chosen-elements.ts';
import { complainOf, type Output, paint } from './output.ts';

/** `eltrix describe`: contracts as text, JSON or a reference page. */
export function describeCommand(output: Output): Command {
  return new Command('describe')
    .argument('[tag]', 'one element (default: all of them)')
    .option('--source <folder>', 'the folder of the sources (default: "src")')
    .option('--json', 'as JSON')
    .addOption(new Option('--page', 'as a reference page in Markdown').conflicts('json'))
    .action(async (tag: string | undefined, options: { source?: string; json?: boolean; page?: boolean }) => {
      try {
        const root = process.cwd();
        const { source } = await readConfiguration(root, options.source);
        const chosen = chosenElements(await discover(root, source), tag === undefined ? undefined : [tag], source);
        const described = await describeInferred(root, chosen);
        if (options.json) output.print(JSON.stringify(tag === undefined ? described : described[0], null, 2));
        else if (options.page)
          output.print((tag === undefined ? referencePage(described) : reference(described[0]!)).trimEnd());
        else output.print(described.map(element => text(element, output)).join('\n\n'));
      } catch (error) {
        process.exitCode = complainOf(error, output);
      }
    });
}

function text(element: ElementDescription, output: Output): string {
  const {
    tag,
    about,
    file,
    properties,
    methods,
    events,
    slots,
    parts,
    cssProperties,
    states,
    semantics = [],
  } = element;
  const lines = [`${paint(output, 'bold', `<${tag}>`)}  ${file}`, ...(about ? [about] : [])];
  const group = (title: string, rows: readonly (readonly [string, string, string | undefined])[]) => {
    if (rows.length === 0) return;
    const [first, second] = [0, 1].map(at => Math.max(...rows.map(row => row[at]!.length)));
    lines.push(
      '',
      title,
      ...rows.map(([a, b, c]) => `  ${a.padEnd(first!)}  ${b.padEnd(second!)}  ${c ?? ''}`.trimEnd()),
    );
  };
  group(
    'attributes',
    properties.flatMap(({ attribute, type, about }) => (attribute ? [[attribute, type, about] as const] : [])),
  );
  group('properties', [
    ...properties.flatMap(({ name, attribute, type, about }) => (attribute ? [] : [[name, type, about] as const])),
    ...methods.filter(member => !isCalled(member)).map(({ name, returns, about }) => [name, returns, about] as const),
  ]);
  group(
    'methods',
    methods.filter(isCalled).map(({ name, parameters, returns, about }) => [name + parameters, returns, about]),
  );
  group(
    'events',
    events.map(({ type, detail, about }) => [type, detail, about]),
  );
  group(
    'slots',
    slots.map(({ name, accepts, about }) => [name || '(default)', accepts ?? '', about]),
  );
  group(
    'parts',
    parts.map(({ name, about }) => [name, '', about]),
  );
  group(
    'custom properties',
    cssProperties.map(({ name, about }) => [name, '', about]),
  );
  group(
    'states',
    states.map(({ name, about }) => [name, '', about]),
  );
  group(
    'semantics',
    semantics.map(({ name, about }) => [name, '', about]),
  );
  return lines.join('\n');
}
