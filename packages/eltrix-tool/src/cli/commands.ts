/** All commands. Each is loaded when it is called: some need the bundler, which takes a third of a second to load. */
import { Command } from 'commander';
import type { CompletedCommand } from './completion.ts';
import { globalHelp } from './global-options.ts';
import { type Output, terminal } from './output.ts';

interface Entry {
  readonly usage: string;
  readonly about: string;
  readonly examples?: readonly string[];
  readonly load: () => Promise<(output: Output) => Command>;
}

const entries: Readonly<Record<string, Entry>> = {
  new: {
    usage: '<folder>',
    about: 'make a project: one element with its specimens and test, a page, and scripts',
    examples: ['eltrix new thistle-widgets', 'eltrix new thistle-widgets --js'],
    load: async () => (await import('./new.ts')).newCommand,
  },
  sketch: {
    usage: '[options] <usage.html>',
    about: 'write first sources, specimens and tests for the elements that a piece of HTML wishes for',
    examples: ['eltrix sketch usage.html', 'eltrix sketch usage.html --preview'],
    load: async () => (await import('./sketch.ts')).sketchCommand,
  },
  serve: {
    usage: '[options]',
    about: 'show every element with its specimens, controls made from its contract, and live reload',
    examples: ['eltrix serve', 'eltrix serve --open --port 0'],
    load: async () => (await import('./serve.ts')).serveCommand,
  },
  test: {
    usage: '[options] [files...]',
    about: 'run the tests, written with node:test, inside real engines',
    examples: [
      'eltrix test',
      'eltrix test src/hive-card.test.ts --in chromium --watch',
      'eltrix test --open',
      'eltrix test --report spec --report junit=junit.xml',
    ],
    load: async () => (await import('./test.ts')).testCommand,
  },
  check: {
    usage: '[options] [pages...]',
    about: 'check that each element keeps its contract; with pages: check every use in them',
    examples: [
      'eltrix check',
      'eltrix check --element hive-card --in chromium,firefox',
      'eltrix check "site/**/*.html" --fix',
    ],
    load: async () => (await import('./check.ts')).checkCommand,
  },
  build: {
    usage: '[options]',
    about: 'write a dependency-free ES module for each element, with types and metadata',
    examples: ['eltrix build', 'eltrix build --watch', 'eltrix build --classic --gallery'],
    load: async () => (await import('./build.ts')).buildCommand,
  },
  render: {
    usage: '[options] <pages...>',
    about: 'write pages in which the elements are rendered, for sites without a server',
    examples: ['eltrix render site --out public', 'eltrix render "pages/*.html" --out public --styles linked --watch'],
    load: async () => (await import('./render.ts')).renderCommand,
  },
  describe: {
    usage: '[options] [tag]',
    about: 'print what an element declares',
    examples: ['eltrix describe', 'eltrix describe hive-card --json', 'eltrix describe --page > REFERENCE.md'],
    load: async () => (await import('./describe.ts')).describeCommand,
  },
  add: {
    usage: '[options] <tag>',
    about: 'write one more element, with its sheet, specimens and test',
    load: async () => (await import('./add.ts')).addCommand,
  },
  doctor: {
    usage: '[options]',
    about: 'print what this machine and project have, and what they lack',
    load: async () => (await import('./doctor.ts')).doctorCommand,
  },
  'language-server': {
    usage: '[options]',
    about: 'complete, explain and check elements in an editor, by the Language Server Protocol',
    examples: ['eltrix language-server --stdio'],
    load: async () => (await import('./language-server.ts')).languageServerCommand,
  },
  completion: {
    usage: '<shell>',
    about: 'print what bash, zsh or fish needs to complete commands and options',
    load: async () => {
      const { completionCommand } = await import('./completion.ts');
      return output => completionCommand(output, completedCommands);
    },
  },
};

/** The commands in the order of the help; only the one named by the arguments can run. */
export async function commandsFor(args: readonly string[], output: Output): Promise<Command[]> {
  const called = args.filter(arg => !arg.startsWith('-')).find(arg => arg !== 'help');
  return await Promise.all(
    Object.entries(entries).map(async ([name, { usage, about, examples, load }]) => {
      const command = name === called ? (await load())(output) : new Command(name).usage(usage);
      if (examples && name === called)
        command.addHelpText('after', `\nExamples:\n${examples.map(line => `  ${line}`).join('\n')}`);
      return command.description(about).addHelpText('after', name === called ? globalHelp : '');
    }),
  );
}

/** All commands with all their options, for shell completion. */
async function completedCommands(): Promise<CompletedCommand[]> {
  return await Promise.all(
    Object.entries(entries).map(async ([name, { about, load }]) => ({
      name,
      about,
      options: (await load())(terminal).options.map(({ long, short, description }) => ({
        name: long ?? short!,
        about: description,
      })),
    })),
  );
}
