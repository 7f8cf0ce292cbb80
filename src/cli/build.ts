import { readFileSync } from 'node:fs';
import { join, relative, resolve } from 'node:path';
import { watch } from 'chokidar';
import { Command } from 'commander';
import { checkSources } from '../check/elements/check.ts';
import { type BuildResult, buildElements, recoverOutput } from '../compile/build.ts';
import { bundleElements } from '../compile/bundle.ts';
import type { BuiltFile } from '../compile/sizes.ts';
import { companionFiles } from '../describe/companions.ts';
import { classNameOf, describeElement } from '../describe/model.ts';
import { foundEngines, loadAlone } from '../engines/index.ts';
import { writeSite } from '../gallery/index.ts';
import { type ReadConfiguration, readConfiguration, readPackage } from '../project/config.ts';
import { discover, likelyElements } from '../project/discover.ts';
import type { Finding } from '../project/finding.ts';
import { ToolError } from '../project/tool-error.ts';
import { bytes, complainOf, type Output, Progress, paint, table } from './output.ts';

interface Options {
  readonly out?: string;
  readonly source?: string;
  readonly json?: boolean;
  readonly classic?: boolean;
  readonly watch?: boolean;
  readonly gallery?: string | true;
  readonly look: boolean;
}

interface Done extends BuildResult {
  readonly out: string;
  readonly elements: number;
  /** What can be seen to be wrong in the sources. */
  readonly findings: readonly Finding[];
  /** The folder of the gallery, if it was asked for. */
  readonly gallery: string | undefined;
  /** The engine that loaded each file alone, if any. */
  readonly engine: string | undefined;
  /** Milliseconds, and the most memory that was in use, in bytes. */
  readonly took: number;
  readonly memory: number;
}

/** `eltrix build`: dependency-free files. */
export function buildCommand(output: Output): Command {
  return new Command('build')
    .description('write one dependency-free ES module an element, and what a publisher needs beside them')
    .option('--out <folder>', 'the folder to write, from the project folder (default: "dist")')
    .option('--source <folder>', 'the folder of the sources (default: "src")')
    .option('--classic', 'write classic.js as well, for pages that cannot load modules')
    .option('--gallery [folder]', 'write the gallery as a static site as well (default: "gallery")')
    .option('--watch', 'build again whenever a source changes')
    .option('--no-look', 'do not load the files in a browser afterwards')
    .option('--json', 'print the files and sizes as JSON')
    .action(async (options: Options) => {
      const root = process.cwd();
      const once = async (look: boolean) => {
        try {
          print(await build(root, options, look, output), options, output);
        } catch (error) {
          process.exitCode = complainOf(error, output);
        }
      };
      await once(options.look);
      if (options.watch) await rebuild(root, options, output, () => once(false));
    });
}

async function build(root: string, options: Options, look: boolean, output: Output): Promise<Done> {
  const start = performance.now();
  const progress = new Progress(output);
  try {
    progress.show('Reading the elements');
    const configuration = await readConfiguration(root);
    const source = options.source ?? configuration.source;
    const out = options.out ?? configuration.out;
    recoverOutput(root, out);
    const places = await likelyElements(root, source);
    const bundling = { ...settings(configuration, options) };
    const bundle = bundleElements(root, places, classNameOf, bundling);
    // What is wrong is told by what reads the elements, or by the build itself.
    bundle.catch(() => {});
    const elements = await discover(root, source);
    if (elements.length === 0) {
      throw new ToolError(
        'no-elements',
        `There is no exported element class under "${source}". Export one: export class MyCard extends contract('my-card', {}) {}`,
      );
    }
    // The bundler works in threads of its own meanwhile.
    const described = elements.map(element => describeElement(root, element));
    const findings = checkSources(root, described);
    const [engine] = look ? foundEngines() : [];
    const inspect = async (folder: string) => {
      const tags = elements
        .filter(({ contract }) => !contract.extends || engine!.name !== 'webkit')
        .map(({ tag }) => tag);
      refuseBroken(await loadAlone(folder, tags, engine!), engine!.name);
    };
    const result = await buildElements(root, elements, {
      ...bundling,
      begun: { places, bundle },
      out,
      className: classNameOf,
      companions: scripts => companionFiles(described, readPackage(root), scripts),
      ...(engine ? { inspect } : {}),
      progress: step => progress.show(step),
    });
    const gallery = options.gallery === true ? 'gallery' : options.gallery;
    if (gallery) {
      progress.show('Writing the gallery');
      const sizes = new Map(result.files.map(file => [file.file, file]));
      const size = (tag: string) => {
        const own = sizes.get(`${tag}.js`);
        const all = own && [own, ...own.loads.map(name => sizes.get(name)!)];
        return all?.reduce((sum, { raw, brotli }) => ({ raw: sum.raw + raw, brotli: sum.brotli + brotli }), {
          raw: 0,
          brotli: 0,
        });
      };
      await writeSite(root, elements, { source, out: gallery, target: configuration.target, size });
    }
    return {
      ...result,
      out,
      gallery,
      findings,
      elements: elements.length,
      engine: engine?.name,
      took: performance.now() - start,
      memory: process.resourceUsage().maxRSS * 1024,
    };
  } finally {
    progress.end();
  }
}

function settings({ target, budget, classic, sourcemap }: ReadConfiguration, options: Options) {
  return { target, sourcemap, classic: options.classic ?? classic, budget };
}

function refuseBroken(loaded: Awaited<ReturnType<typeof loadAlone>>, engine: string): void {
  const broken = loaded.filter(({ defined, problems }) => !defined || problems.length > 0);
  if (broken.length === 0) return;
  const list = broken
    .slice(0, 5)
    .map(
      ({ tag, defined, problems }) =>
        `<${tag}>: ${[...(defined ? [] : ['it was not defined']), ...problems].join('; ')}`,
    );
  throw new ToolError(
    'load-failed',
    `Loaded alone in an empty page of ${engine}, ${broken.length === 1 ? 'a file does' : `${broken.length} files do`} not work: ${list.join('. ')}. ` +
      'The old output stays. Mend it, or build with --no-look to write it all the same.',
  );
}

function print(done: Done, options: Options, output: Output): void {
  const { out, files, before, packages, uncompiled, elements, took, memory } = done;
  if (options.json) {
    output.print(
      JSON.stringify(
        {
          out,
          files,
          packages,
          uncompiled,
          findings: done.findings,
          engine: done.engine ?? null,
          milliseconds: Math.round(took),
          memory,
        },
        null,
        2,
      ),
    );
    return;
  }
  const change = ({ file, brotli }: BuiltFile) => {
    const was = before[file];
    if (was === undefined) return Object.keys(before).length > 0 ? 'new' : '';
    return was === brotli ? '=' : `${brotli > was ? '+' : '−'}${bytes(Math.abs(brotli - was))}`;
  };
  const names = { element: (f: BuiltFile) => f.file, shared: (f: BuiltFile) => `${f.file} (shared)` } as const;
  const [head, ...rows] = table(
    [`${out}/`, 'raw', 'brotli', 'change'],
    files.map(file => [
      (names[file.role as 'element'] ?? names.element)(file),
      bytes(file.raw),
      bytes(file.brotli),
      change(file),
    ]),
  );
  output.print(paint(output, 'bold', head!));
  for (const row of rows) output.print(row);
  const loaded = done.engine ? ` Each was loaded alone in ${done.engine}.` : '';
  output.print(`\n${elements} element${elements === 1 ? '' : 's'}, no imports beyond ${out}/.${loaded}`);
  if (done.gallery) output.print(`The gallery stands in ${done.gallery}/: put it on any server, in any folder.`);
  output.print(`${(took / 1000).toFixed(2)} s, at most ${Math.round(memory / 1e6)} MB of memory.`);
  if (packages.length > 0)
    output.print(
      `Bundled packages: ${packages.map(({ name, bytes: count }) => `${name} (${bytes(count)})`).join(', ')}.`,
    );
  for (const { file, line, column, code, message } of done.findings)
    output.print(`${file}:${line}:${column} ${paint(output, 'yellow', 'finding')} (${code}): ${message}`);
  for (const { file, line, column, what, reason } of uncompiled)
    output.print(
      `${file}:${line}:${column} ${paint(output, 'yellow', 'note')} (not-compiled): this ${what} works as written and is not compiled: ${reason}.`,
    );
}

/** Undefined for a file that has gone meanwhile. */
function textOf(path: string): string | undefined {
  try {
    return readFileSync(path, 'utf8');
  } catch {
    return undefined;
  }
}

/** Builds again after each change; never resolves. */
async function rebuild(root: string, options: Options, output: Output, again: () => Promise<void>): Promise<never> {
  const configuration = await readConfiguration(root);
  const source = resolve(root, options.source ?? configuration.source);
  output.print(`\nWatching ${relative(root, source)}/. Press Ctrl+C to stop.`);
  let running = Promise.resolve();
  let timer: ReturnType<typeof setTimeout> | undefined;
  const seen = new Map<string, string>();
  watch([source, join(root, 'eltrix.config.js')], { ignoreInitial: true }).on('all', (event, path) => {
    // One saving may be told of twice.
    if (event === 'change') {
      const text = textOf(path);
      if (text !== undefined && text === seen.get(path)) return;
      if (text !== undefined) seen.set(path, text);
    } else seen.delete(path);
    clearTimeout(timer);
    timer = setTimeout(() => {
      running = running.then(again);
    }, 10);
  });
  return new Promise(() => {});
}
