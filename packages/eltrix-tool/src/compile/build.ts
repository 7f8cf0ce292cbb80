/** Builds elements as dependency-free files, and replaces the output folder as a whole. */
import { readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import type { ElementPlace } from '../project/discover.ts';
import { OutputFolder } from '../project/output-folder.ts';
import { fileOf } from '../project/sheet-modules.ts';
import { sourceError } from '../project/source-error.ts';
import { ToolError } from '../project/tool-error.ts';
import { type BundleOptions, bundleElements } from './bundle.ts';
import type { Bundle } from './bundled.ts';
import type { Uncompiled } from './compiled-module.ts';
import {
  type BuiltFile,
  type BundledPackage,
  bundledPackages,
  digestOf,
  forgetDigests,
  measure,
  packageOf,
  refuseOverBudget,
  rememberPacked,
} from './sizes.ts';

export interface BuildOptions extends BundleOptions {
  /** The output folder, relative to the project's. */
  readonly out: string;
  /** The maximum compressed size of an element with everything that it loads: for all elements, or by tag. */
  readonly budget?: string | number | Readonly<Record<string, string | number>> | undefined;
  readonly className: (element: ElementPlace) => string;
  /** A bundle that was started early, for the elements that were expected. */
  readonly begun?: { readonly places: readonly ElementPlace[]; readonly bundle: Promise<Bundle> } | undefined;
  /** Further files, by name; called with the names of the scripts. */
  readonly companions: (scripts: readonly string[]) => Promise<Readonly<Record<string, string>>>;
  /** Checks the new folder before it replaces the old one. If it throws, the old one stays. */
  readonly inspect?: (folder: string, files: readonly BuiltFile[]) => Promise<void>;
  /** Called with each step. */
  readonly progress?: (step: string) => void;
}

export interface BuildResult {
  readonly files: readonly BuiltFile[];
  /** The compressed sizes of the last build, by file; empty for the first build. */
  readonly before: Readonly<Record<string, number>>;
  readonly packages: readonly BundledPackage[];
  readonly uncompiled: readonly Uncompiled[];
  /** The rebuilt scripts; the others are unchanged since the last build. */
  readonly anew: readonly string[];
  /** The files of all bundled modules, absolute, without those of packages. */
  readonly sources: readonly string[];
}

/** The content of sizes.json. */
const sizesFile = 'sizes.json';

/**
 * Builds into a folder beside the output, and swaps the folders at the end; until then the old output stays.
 * @throws ToolError for a source error, an unresolved bare import, and an output folder with foreign files.
 */
export async function buildElements(
  root: string,
  elements: readonly ElementPlace[],
  options: BuildOptions,
): Promise<BuildResult> {
  refuseTarget(options.target);
  const output = new OutputFolder(root, options.out, 'build', '--out');
  forgetDigests();
  try {
    options.progress?.('Bundling');
    const { begun } = options;
    const bundle = await (begun && samePlaces(begun.places, elements)
      ? begun.bundle
      : bundleElements(root, elements, options.className, options));
    options.progress?.('Measuring');
    const before = sizesBefore(output.target);
    // Files are compressed in other threads while the rest is written.
    const measuring = measure(bundle.files, new Set(elements.map(({ tag }) => tag)));
    const writing: Promise<void>[] = [];
    const add = (file: string, content: string | Uint8Array) => {
      const written = output.write(file, content);
      // Errors are reported when all steps have ended.
      written.catch(() => {});
      writing.push(written);
    };
    for (const { file, code } of bundle.files) add(file, code);
    const names = bundle.files.map(({ file }) => file).filter(file => file.endsWith('.js'));
    for (const [file, text] of Object.entries(await options.companions(names))) add(file, text);
    const [files] = await Promise.all([measuring, ...writing]);
    const nameOf = (id: string) => relative(root, id.replace(/^\0/, '')).replaceAll('\\', '/');
    if (options.budget !== undefined) refuseOverBudget(options.budget, files, bundle.files, nameOf);
    await output.write('integrity.json', print(integrity(bundle.files.filter(({ file }) => file.endsWith('.js')))));
    await output.write(sizesFile, print(sizes(files)));
    options.progress?.('Looking at the files');
    await options.inspect?.(output.folder, files);
    output.commit();
    const { uncompiled, anew } = bundle;
    return { files, before, packages: bundledPackages(bundle.files), uncompiled, anew, sources: sourcesOf(bundle) };
  } catch (error) {
    throw sourceError(error, root);
  } finally {
    output.discard();
  }
}

function sourcesOf({ files }: Bundle): string[] {
  const paths = files.flatMap(({ modules }) => [...modules.keys()].map(fileOf));
  return [...new Set(paths)].filter(path => path !== undefined && packageOf(path) === undefined) as string[];
}

function samePlaces(a: readonly ElementPlace[], b: readonly ElementPlace[]): boolean {
  const key = ({ tag, file, exportName }: ElementPlace) => `${tag} ${file} ${exportName}`;
  return a.length === b.length && a.every((place, i) => key(place) === key(b[i]!));
}

/** Custom elements have to be real classes, which ES5 does not have (HTML §4.13.3 calls them with `new`). */
function refuseTarget(target: string): void {
  if (!/^(?:es[35]|es2014|ie\d*)$/i.test(target.trim())) return;
  throw new ToolError(
    'target-too-old',
    `"target": ${JSON.stringify(target)} has no classes, and a custom element has to be one: a function in its place throws when it is created. ` +
      'Use "es2015" or later, for example "es2022". Nothing was written.',
    undefined,
    undefined,
    2,
  );
}

const print = (value: unknown): string => `${JSON.stringify(value, null, 2)}\n`;

function sizes(files: readonly BuiltFile[]): object {
  return Object.fromEntries(files.map(({ file, raw, brotli, loads }) => [file, { raw, brotli, loads }]));
}

/** @returns the compressed sizes of the last build's files, so that unchanged files are not compressed again. */
export function sizesBefore(target: string): Record<string, number> {
  try {
    const read = <T>(file: string) => JSON.parse(readFileSync(join(target, file), 'utf8')) as Record<string, T>;
    const sizes = read<{ brotli: number }>(sizesFile);
    for (const [file, { integrity }] of Object.entries(read<{ integrity: string }>('integrity.json')))
      if (sizes[file]) rememberPacked(integrity, sizes[file].brotli);
    return Object.fromEntries(Object.entries(sizes).map(([file, { brotli }]) => [file, brotli]));
  } catch {
    return {};
  }
}

/** Subresource integrity (W3C SRI §3), with the HTML to load each file. */
function integrity(files: readonly { file: string; code: string | Uint8Array }[]): object {
  return Object.fromEntries(
    files.map(({ file, code }) => {
      const hash = digestOf(code);
      const type = file === 'classic.js' ? '' : ' type="module"';
      return [
        file,
        {
          integrity: hash,
          script: `<script${type} src="${file}" integrity="${hash}" crossorigin="anonymous"></script>`,
        },
      ];
    }),
  );
}
