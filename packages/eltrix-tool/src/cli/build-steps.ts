/** The steps of `eltrix build`, in order. Loading this module loads the bundler. */
import { readdirSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import type { ReadElements } from '../check/reading/messages.ts';
import type { Reading } from '../check/reading/reading.ts';
import { type BuildResult, buildElements, sizesBefore } from '../compile/build.ts';
import { bundleElements } from '../compile/bundle.ts';
import { packAll } from '../compile/sizes.ts';
import { classNameOf } from '../describe/model.ts';
import type { Loaded } from '../engines/load-alone.ts';
import { type ReadConfiguration, readPackage } from '../project/config.ts';
import { type ElementPlace, likelyElements } from '../project/discover.ts';
import type { Finding } from '../project/finding.ts';
import { recoverOutput } from '../project/output-folder.ts';
import { noElements, ToolError } from '../project/tool-error.ts';
import { type Output, Progress } from './output.ts';

/** Options of a build on the command line, which override the configuration. */
export interface BuildSettings {
  readonly out?: string;
  readonly source?: string;
  readonly classic?: boolean;
  readonly render?: boolean | string;
  readonly gallery?: string | true;
}

export interface BuildTask {
  readonly root: string;
  /** The folder of the sources. */
  readonly source: string;
  readonly configuration: ReadConfiguration;
  readonly options: BuildSettings;
  /** Whether the files are loaded in an engine afterwards. */
  readonly look: boolean;
  readonly reading: Reading;
  /** The reading of the elements, which has started. */
  readonly read: Promise<ReadElements>;
  /** Whether further builds will follow. */
  readonly watch: boolean;
  /** The files that changed since the last build; undefined if files were added or removed. */
  readonly changed: ReadonlySet<string> | undefined;
}

export interface BuildDone extends BuildResult {
  readonly out: string;
  readonly elements: number;
  /** The findings in the sources. */
  readonly findings: readonly Finding[];
  /** The folder of the gallery, if it was requested. */
  readonly gallery: string | undefined;
  /** The engine that loaded each file alone, if any. */
  readonly engine: string | undefined;
  /** Milliseconds, and the peak memory in bytes. */
  readonly took: number;
  readonly memory: number;
}

/** The elements that the last build found. */
let found: readonly ElementPlace[] | undefined;

/** The bundler's work; it may continue after an error elsewhere. */
let underWay: Promise<unknown> | undefined;

export async function build(task: BuildTask, output: Output): Promise<BuildDone> {
  const { root, source, configuration, options, look, reading, read, watch, changed } = task;
  const start = performance.now();
  const progress = new Progress(output);
  try {
    progress.show('Reading the elements');
    const out = options.out ?? configuration.out;
    recoverOutput(root, out);
    // Successive bundles share caches.
    await underWay;
    const places = (changed && found) ?? likelyElements(root, source);
    const bundling = {
      ...settings(configuration, options),
      compile: (file: string, code: string) => reading.compile(file, code),
      context: reading.context,
      watch,
    };
    // A quick build does without engines, so it does not load them.
    const looking = look ? import('../engines/index.ts') : undefined;
    const bundle = bundleElements(root, places, classNameOf, { ...bundling, changed });
    // The reader of elements, or the build, reports mistakes.
    underWay = bundle.catch(() => {});
    // Compressing is slow, and runs in other threads.
    sizesBefore(resolve(root, out));
    bundle.then(({ files }) => packAll(files)).catch(() => {});
    const { elements } = await read;
    found = elements;
    if (elements.length === 0) throw noElements(source);
    const engines = await looking;
    const [engine] = engines?.foundEngines() ?? [];
    const inspect = async (folder: string) => {
      const tags = elements.filter(element => !element.extends || engine!.name !== 'webkit').map(({ tag }) => tag);
      refuseBroken(await engines!.loadAlone(folder, tags, engine!), engine!.name);
    };
    const result = await buildElements(root, elements, {
      ...bundling,
      begun: { places, bundle },
      out,
      className: classNameOf,
      companions: async scripts => ({
        ...(await reading.companions(readPackage(root), scripts)),
        ...documentsOf(root),
      }),
      ...(engine ? { inspect } : {}),
      progress: step => progress.show(step),
    });
    const findings = await reading.findings();
    const gallery = options.gallery === true ? 'gallery' : options.gallery;
    if (gallery) {
      progress.show('Writing the gallery');
      await writeGallery(task, gallery, result);
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

async function writeGallery(
  { root, source, configuration }: BuildTask,
  out: string,
  result: BuildResult,
): Promise<void> {
  const [{ writeSite }, { discover }] = await Promise.all([
    import('../gallery/index.ts'),
    import('../project/discover.ts'),
  ]);
  const sizes = new Map(result.files.map(file => [file.file, file]));
  const size = (tag: string) => {
    const own = sizes.get(`${tag}.js`);
    const all = own && [own, ...own.loads.map(name => sizes.get(name)!)];
    return all?.reduce((sum, { raw, brotli }) => ({ raw: sum.raw + raw, brotli: sum.brotli + brotli }), {
      raw: 0,
      brotli: 0,
    });
  };
  const elements = await discover(root, source);
  await writeSite(root, elements, { source, out, target: configuration.target, size });
}

function settings({ target, budget, classic, render, sourcemap }: ReadConfiguration, options: BuildSettings) {
  return { target, sourcemap, render: options.render ?? render, classic: options.classic ?? classic, budget };
}

function refuseBroken(loaded: readonly Loaded[], engine: string): void {
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
      'The old output stays. Fix the elements, or build with --no-look to write the output without this check.',
  );
}

/** The licence and the README of a project, which are published with the output. */
function documentsOf(root: string): Record<string, string> {
  const names = readdirSync(root).filter(name => /^(?:licen[cs]e|copying|notice|readme)(?:\.(?:md|txt))?$/i.test(name));
  return Object.fromEntries(names.map(name => [name, readFileSync(join(root, name), 'utf8')]));
}
