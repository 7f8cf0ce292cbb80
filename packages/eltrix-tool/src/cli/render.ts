import { relative, resolve, sep } from 'node:path';
import { Command, Option } from 'commander';
import { begun, onChanges } from '../project/changes.ts';
import { readConfiguration } from '../project/config.ts';
import { fromProject } from '../project/place.ts';
import { complainOf, type Output, Progress, paint } from './output.ts';
import type { RenderDone } from './render-steps.ts';
import { whole } from './whole.ts';

interface Options {
  readonly out: string;
  readonly source?: string;
  readonly styles: 'inline' | 'linked' | 'none';
  readonly base?: string;
  readonly wait?: number;
  readonly watch?: boolean;
  readonly json?: boolean;
}

/** `eltrix render`: renders all elements in pages. */
export function renderCommand(output: Output): Command {
  return new Command('render')
    .argument('<pages...>', 'HTML files, folders of them (other files are copied), or globs in quotes')
    .requiredOption('--out <folder>', 'the folder to write; pages are never changed where they are')
    .option('--source <folder>', 'the folder of the elements (default: "src")')
    .addOption(
      new Option('--styles <way>', 'how styles are sent: in each root, as links to CSS files, or not at all')
        .choices(['inline', 'linked', 'none'])
        .default('inline'),
    )
    .option('--base <address>', 'the URL path of the built elements, for images and linked styles (default: "/")')
    .option('--wait <milliseconds>', 'await answers to requests, and send them along', whole('--wait'))
    .option('--watch', 'render again whenever a page or a source changes')
    .option('--json', 'print the pages and findings as JSON')
    .action(async (given: string[], options: Options) => {
      const root = process.cwd();
      const pages = given.map(page => fromProject(page));
      const once = async () => {
        const progress = new Progress(output);
        try {
          const { source, render } = await readConfiguration(root, options.source);
          progress.show('Rendering');
          const start = performance.now();
          const { renderPages } = await import('./render-steps.ts');
          const base = options.base ?? (typeof render === 'string' ? render : '/');
          const { out, styles, wait } = options;
          const done = await renderPages(pages, { root, source, out, styles, wait, base: base.replace(/\/*$/, '/') });
          progress.end();
          print(done, options, performance.now() - start, output);
          if (done.findings.length > 0) process.exitCode = 1;
        } catch (error) {
          progress.end();
          process.exitCode = complainOf(error, output);
        }
      };
      if (options.watch) await renderAgain(root, pages, options, output, once);
      else await once();
    });
}

function print({ pages, copied, findings }: RenderDone, options: Options, took: number, output: Output): void {
  const { out } = options;
  if (options.json) {
    output.print(JSON.stringify({ out, pages, copied, findings, milliseconds: Math.round(took) }, null, 2));
    return;
  }
  for (const { file, line, column, code, message } of findings)
    output.print(`${file}:${line}:${column} ${paint(output, 'red', 'finding')} (${code}): ${message}`);
  const counted = `${pages.length} page${pages.length === 1 ? '' : 's'} rendered`;
  const files = copied > 0 ? `, ${copied} other file${copied === 1 ? '' : 's'} copied` : '';
  const left = findings.length > 0 ? ` ${findings.length} finding${findings.length === 1 ? '' : 's'}.` : '';
  output.print(`${counted}${files} to ${out}/ in ${(took / 1000).toFixed(2)} s.${left}`);
}

/** Renders, and again after each change; never resolves. */
async function renderAgain(
  root: string,
  pages: readonly string[],
  options: Options,
  output: Output,
  once: () => Promise<void>,
): Promise<never> {
  const { source } = await readConfiguration(root, options.source);
  const { watch } = await import('chokidar');
  const out = resolve(root, options.out);
  const folders = [source, ...pages].map(path => resolve(root, path.replace(/[*?[{(!].*$/, '') || '.'));
  const watcher = watch(folders, {
    ignoreInitial: true,
    ignored: path => path === out || path.startsWith(out + sep) || path.includes(`${sep}node_modules${sep}`),
  });
  let running = Promise.resolve();
  let timer: ReturnType<typeof setTimeout> | undefined;
  onChanges(watcher, root, event => {
    if (event.endsWith('Dir')) return;
    clearTimeout(timer);
    timer = setTimeout(() => {
      running = running.then(once);
    }, 10);
  });
  await begun(watcher);
  await once();
  const text = `\nWatching ${folders.map(folder => relative(root, folder) || '.').join(', ')}. Press Ctrl+C to stop.`;
  if (options.json) output.complain(text);
  else output.print(text);
  return new Promise(() => {});
}
