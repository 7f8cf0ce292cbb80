/** The steps of `eltrix render`. Loading this module loads the bundler. */
import { readFileSync, statSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { glob } from 'tinyglobby';
import { serverBundle, serverFile } from '../compile/server-bundle.ts';
import { loadServerModule, type RenderFailure } from '../compile/server-module.ts';
import { classNameOf } from '../describe/model.ts';
import { discover } from '../project/discover.ts';
import type { Finding } from '../project/finding.ts';
import { OutputFolder } from '../project/output-folder.ts';
import { positionIn, type TextPosition } from '../project/text-position.ts';
import { noElements, ToolError } from '../project/tool-error.ts';
import { withoutCode } from '../project/without-code.ts';

export interface RenderTask {
  readonly root: string;
  readonly source: string;
  readonly out: string;
  readonly styles: 'inline' | 'linked' | 'none';
  readonly base: string;
  /** Milliseconds. */
  readonly wait: number | undefined;
}

export interface RenderedPage {
  /** Relative to the project's folder. */
  readonly file: string;
  /** Bytes before and after. */
  readonly before: number;
  readonly after: number;
}

export interface RenderDone {
  readonly pages: readonly RenderedPage[];
  /** The number of other files that were copied from the given folders. */
  readonly copied: number;
  readonly findings: readonly Finding[];
}

/** Renders pages into the output folder, which is replaced as a whole; the pages themselves are never changed. */
export async function renderPages(patterns: readonly string[], task: RenderTask): Promise<RenderDone> {
  const { root, source, out, styles, base, wait } = task;
  const elements = await discover(root, source);
  if (elements.length === 0) throw noElements(source, ', so there is nothing to render.');
  const output = new OutputFolder(root, out, 'render', '--out');
  try {
    const files = await findFiles(root, patterns, out);
    const bundle = await serverBundle(root, elements, classNameOf, base);
    const { renderPage } = await loadServerModule(bundle.find(({ file }) => file === serverFile)!);
    const pages: RenderedPage[] = [];
    const findings: Finding[] = [];
    let copied = 0;
    for (const [file, target] of files) {
      if (!/\.html?$/i.test(file)) {
        output.copy(join(root, file), target);
        copied++;
        continue;
      }
      const text = readText(root, file);
      const onError = (error: RenderFailure) => {
        const message = withoutCode(error.message);
        findings.push({ code: error.code ?? 'render-failed', message, ...placeOf(text, error.tag), file });
      };
      const options = { styles, base, onError };
      let html = text;
      try {
        html = wait === undefined ? renderPage(text, options) : await renderPage(text, { ...options, wait });
      } catch (error) {
        // The page cannot be rendered, and is written as it is.
        if (!(error instanceof Error && error.name === 'RenderError')) throw error;
        onError(error);
      }
      pages.push({ file, before: Buffer.byteLength(text), after: Buffer.byteLength(html) });
      await output.write(target, html);
    }
    if (styles === 'linked')
      for (const { file, code } of bundle)
        if (file.endsWith('.css')) await output.write(join(base.replace(/^[a-z]+:\/\/[^/]*|^\/+/i, ''), file), code);
    output.commit();
    return { pages, copied, findings };
  } finally {
    output.discard();
  }
}

/** The position of the first element with a tag. */
function placeOf(text: string, tag: string | undefined): TextPosition {
  return positionIn(text, tag === undefined ? 0 : Math.max(0, text.indexOf(`<${tag}`)));
}

function readText(root: string, file: string): string {
  try {
    return new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(readFileSync(join(root, file)));
  } catch (error) {
    throw new ToolError(
      'page-encoding',
      error instanceof TypeError
        ? 'The page is not UTF-8, and rendered text may need letters of every kind. Save it as UTF-8.'
        : (error as Error).message,
      { file },
    );
  }
}

/** The files to write: relative to the project's folder, with their paths in the output. */
async function findFiles(root: string, patterns: readonly string[], out: string): Promise<Map<string, string>> {
  const found = new Map<string, string>();
  const ignore = ['**/node_modules/**', `${relative(root, resolve(root, out)).replaceAll('\\', '/')}/**`];
  for (const pattern of patterns) {
    const path = relative(root, resolve(root, pattern)).replaceAll('\\', '/');
    const isFolder = statSync(join(root, path), { throwIfNoEntry: false })?.isDirectory();
    const wanted = isFolder ? `${path ? `${path}/` : ''}**/*` : path;
    // Files below a given folder keep their relative paths.
    const folder = isFolder ? path : folderOf(wanted);
    const files = await glob([wanted], { cwd: root, ignore, expandDirectories: false });
    for (const file of files.sort()) {
      if (!isFolder && !/\.html?$/i.test(file)) continue;
      const target = relative(folder, file).replaceAll('\\', '/');
      const other = [...found].find(([name, place]) => place === target && name !== file);
      if (other)
        throw misuse(`${other[0]} and ${file} would both be written as ${out}/${target}. Name the folder above them.`);
      found.set(file, target);
    }
  }
  if ([...found.keys()].some(file => /\.html?$/i.test(file))) return found;
  throw misuse(
    `No page matches ${patterns.map(pattern => `"${pattern}"`).join(', ')}. Name HTML files, a folder of them, or a glob in quotes: "site/**/*.html".`,
  );
}

/** The folder of a file, or the part of a glob before its first special character. */
function folderOf(pattern: string): string {
  const magic = pattern.search(/[*?[{(!]/);
  return dirname(magic < 0 ? pattern : `${pattern.slice(0, magic)}x`);
}

function misuse(message: string): ToolError {
  return new ToolError('no-pages', message, undefined, undefined, 2);
}
