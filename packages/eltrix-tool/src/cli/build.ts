import { realpathSync } from 'node:fs';
import { join, relative, resolve, sep } from 'node:path';
import { Command } from 'commander';
import { Reading } from '../check/reading/reading.ts';
import type { BuiltFile } from '../compile/sizes.ts';
import { begun, onChanges } from '../project/changes.ts';
import { readConfiguration } from '../project/config.ts';
import { configurationFiles } from '../project/place.ts';
import type { BuildDone, BuildSettings } from './build-steps.ts';
import { bytes, complainOf, type Output, paint, table } from './output.ts';

interface Options extends BuildSettings {
  readonly json?: boolean;
  readonly watch?: boolean;
  readonly look: boolean;
}

/** `eltrix build`: dependency-free files. */
export function buildCommand(output: Output): Command {
  return new Command('build')
    .option('--out <folder>', 'the folder to write, from the project folder (default: "dist")')
    .option('--source <folder>', 'the folder of the sources (default: "src")')
    .option('--classic', 'write classic.js as well, for pages that cannot load modules')
    .option(
      '--render [address]',
      'let elements adopt views rendered by a server, and write server.js, which renders them; the address is the URL path of the files (default: "/")',
    )
    .option('--gallery [folder]', 'write the gallery as a static site as well (default: "gallery")')
    .option('--watch', 'build again whenever a source changes')
    .option('--no-look', 'do not load the files in a browser afterwards')
    .option('--json', 'print the files and sizes as JSON')
    .action(async (options: Options) => {
      const root = process.cwd();
      const reading = new Reading();
      const watch = options.watch === true;
      let sources: readonly string[] = [];
      /** @returns whether it succeeded. */
      const once = async (again: boolean, changed?: ReadonlySet<string>): Promise<boolean> => {
        const look = options.look && !again;
        try {
          const configuration = await readConfiguration(root, options.source);
          const { source } = configuration;
          const render = options.render ?? configuration.render;
          // The sources are read while the bundler loads.
          const read = reading.read(root, source, !!render, changed);
          read.catch(() => {});
          const { build } = await import('./build-steps.ts');
          const task = { root, source, configuration, options, look, reading, read, watch, changed };
          const done = await build(task, output);
          sources = done.sources;
          print(done, options, output, again);
          if (!watch) reading.save();
          return true;
        } catch (error) {
          process.exitCode = complainOf(error, output);
          return false;
        }
      };
      if (watch) await rebuild(root, options, output, once, () => sources);
      else await once(false);
    });
}

/** @param again whether this is not the first build, so that only changes are printed. */
function print(done: BuildDone, options: Options, output: Output, again: boolean): void {
  const { out, files, before, packages, uncompiled, elements, took, memory, anew } = done;
  if (options.json) {
    output.print(
      JSON.stringify(
        {
          out,
          files,
          anew,
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
  const isPart = again && files.some(({ file }) => file.endsWith('.js') && !anew.includes(file));
  const shown = again ? files.filter(file => (isPart && anew.includes(file.file)) || change(file) !== '=') : files;
  const [head, ...rows] = table(
    [`${out}/`, 'raw', 'brotli', 'change'],
    shown.map(file => [
      (names[file.role as 'element'] ?? names.element)(file),
      bytes(file.raw),
      bytes(file.brotli),
      change(file),
    ]),
  );
  if (shown.length > 0) for (const row of [paint(output, 'bold', head!), ...rows]) output.print(row);
  const loaded = done.engine ? ` Each was loaded alone in ${done.engine}.` : '';
  output.print(`\n${elements} element${elements === 1 ? '' : 's'}, no imports beyond ${out}/.${loaded}`);
  if (done.gallery) output.print(`The gallery is in ${done.gallery}/. Copy it to any folder of a web server.`);
  const which = anew.length > 0 ? `Only ${anew.join(' and ')} was` : 'Nothing was';
  const made = isPart ? `${which} rebuilt. ` : '';
  output.print(`${made}${(took / 1000).toFixed(2)} s, at most ${Math.round(memory / 1e6)} MB of memory.`);
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

/**
 * Builds, and again after each change; never resolves.
 * @param build receives the files that changed since a successful build; undefined if files were added or removed.
 * @param sources all modules of the last build.
 */
async function rebuild(
  root: string,
  options: Options,
  output: Output,
  build: (again: boolean, changed?: ReadonlySet<string>) => Promise<boolean>,
  sources: () => Iterable<string>,
): Promise<never> {
  const configuration = await readConfiguration(root, options.source);
  const source = resolve(root, configuration.source);
  const configurations = [...configurationFiles, 'package.json'].map(file => join(root, file));
  const out = resolve(root, options.out ?? configuration.out);
  const { watch } = await import('chokidar');
  const ignored = (path: string) =>
    path === out || path.startsWith(out + sep) || path.includes(`${sep}node_modules${sep}`);
  // Started before anything is read, so that no change is missed.
  const watcher = watch([source, ...configurations], { ignoreInitial: true, ignored });
  let running = Promise.resolve();
  let timer: ReturnType<typeof setTimeout> | undefined;
  let changed = new Set<string>();
  let isStill = true;
  const once = async (again: boolean, paths?: ReadonlySet<string>) => {
    const went = await build(again, paths);
    // Elements may use modules outside the source folder, and targets of links.
    watcher.add([...sources()].filter(path => !ignored(path)));
    return went;
  };
  const go = async () => {
    if (changed.size === 0 && isStill) return;
    const [paths, still] = [changed, isStill];
    changed = new Set();
    isStill = true;
    if (await once(true, still ? paths : undefined)) return;
    for (const path of paths) changed.add(path);
    isStill &&= still;
  };
  onChanges(watcher, root, (event, path) => {
    // Folders are added and removed with their files.
    if (event.endsWith('Dir')) return;
    // Modules have the paths of link targets.
    if (event === 'change' && !configurations.includes(path)) changed.add(realpathSync(path));
    else isStill = false;
    clearTimeout(timer);
    timer = setTimeout(() => {
      running = running.then(go);
    }, 10);
  });
  running = begun(watcher).then(async () => void (await once(false)));
  await running;
  const watching = `\nWatching ${relative(root, source)}/. Press Ctrl+C to stop.`;
  // With --json, stdout contains JSON only.
  if (options.json) output.complain(watching);
  else output.print(watching);
  return new Promise(() => {});
}
