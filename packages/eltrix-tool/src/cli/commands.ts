/** What commands there are. Each is loaded when it is called: some need the bundler, which takes a third of a second to load. */
import { Command } from 'commander';
import type { Output } from './output.ts';

interface Entry {
  readonly usage: string;
  readonly about: string;
  readonly load: () => Promise<(output: Output) => Command>;
}

const entries: Readonly<Record<string, Entry>> = {
  new: {
    usage: '<folder>',
    about: 'make a project: one element with its specimens and test, a page, and scripts',
    load: async () => (await import('./new.ts')).newCommand,
  },
  sketch: {
    usage: '[options] <usage.html>',
    about: 'write first sources, specimens and tests for the elements that a piece of HTML wishes for',
    load: async () => (await import('./sketch.ts')).sketchCommand,
  },
  serve: {
    usage: '[options]',
    about: 'show every element with its specimens, controls made from its contract, and live reload',
    load: async () => (await import('./serve.ts')).serveCommand,
  },
  test: {
    usage: '[options] [files...]',
    about: 'run the tests, written with node:test, inside real engines',
    load: async () => (await import('./test.ts')).testCommand,
  },
  check: {
    usage: '[options] [pages...]',
    about: 'prove that each element keeps what it declares; with pages: check every use in them',
    load: async () => (await import('./check.ts')).checkCommand,
  },
  build: {
    usage: '[options]',
    about: 'write one dependency-free ES module an element, and what a publisher needs beside them',
    load: async () => (await import('./build.ts')).buildCommand,
  },
  render: {
    usage: '[options] <pages...>',
    about: 'write pages in which the elements are rendered, for sites without a server',
    load: async () => (await import('./render.ts')).renderCommand,
  },
  describe: {
    usage: '[options] [tag]',
    about: 'print what an element declares',
    load: async () => (await import('./describe.ts')).describeCommand,
  },
};

/** The commands in the order of the help, of which only the one that the arguments name can run. */
export async function commandsFor(args: readonly string[], output: Output): Promise<Command[]> {
  const called = args.filter(arg => !arg.startsWith('-')).find(arg => arg !== 'help');
  return await Promise.all(
    Object.entries(entries).map(async ([name, { usage, about, load }]) => {
      const command = name === called ? (await load())(output) : new Command(name).usage(usage);
      return command.description(about);
    }),
  );
}
