/** The gallery as a static site: it works from any folder of any server, and under a strict policy. */
import { existsSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join, normalize } from 'node:path';
import { type DefaultTreeAdapterTypes, parseFragment } from 'parse5';
import { bundleWritten } from '../compile/written.ts';
import { describeInferred } from '../describe/model.ts';
import type { FoundElement } from '../project/discover.ts';
import { OutputFolder } from '../project/output-folder.ts';
import { sourceError } from '../project/source-error.ts';
import { readSpecimens } from '../project/specimens.ts';
import { collectData, collectElement, collectFindings } from './collect.ts';
import type { ElementSize } from './model.ts';
import { pageFile } from './page-file.ts';

export interface SiteOptions {
  readonly source: string;
  /** The folder to write, from the project's. */
  readonly out: string;
  readonly target: string;
  /** What an element weighs, where that is known. */
  readonly size: (tag: string) => ElementSize | undefined;
}

const ownFiles = ['index.html', 'frame.html', 'app.js', 'app.css', 'frame.js', 'axe.js'];

/** @throws ToolError for a source that does not build; the folder that was there stays. */
export async function writeSite(root: string, elements: readonly FoundElement[], options: SiteOptions): Promise<void> {
  const output = new OutputFolder(root, options.out, 'gallery', '--gallery');
  try {
    for (const [file, code] of await bundleWritten(root, elements, options.target)) await output.write(file, code);
    for (const file of ownFiles) output.copy(pageFile(file), file);
    const write = (file: string, value: unknown) => writeFileSync(output.pathOf(file), `${JSON.stringify(value)}\n`);
    write('data.json', await collectData(root, options.source, elements, false));
    write(
      'tags.json',
      elements.map(({ tag }) => tag),
    );
    const described = await describeInferred(root, elements);
    for (const [index, element] of elements.entries()) {
      const findings = collectFindings(root, element, described);
      write(
        `element/${element.tag}.json`,
        collectElement(root, element, described[index]!, 'files/', options.size(element.tag), findings),
      );
      copyFiles(root, element, output);
    }
    output.commit();
  } catch (error) {
    throw sourceError(error, root);
  } finally {
    output.discard();
  }
}

/** Pictures and the like that specimens name by relative addresses. */
function copyFiles(root: string, element: FoundElement, output: OutputFolder): void {
  const read = readSpecimens(root, element);
  for (const { html } of read?.specimens ?? []) {
    for (const address of addressesIn(parseFragment(html))) {
      const path = normalize(join(dirname(read!.file), address.replace(/[?#].*$/, '')));
      const from = join(root, path);
      if (/^[a-z]+:|^\/|^#/i.test(address) || path.startsWith('..') || !existsSync(from)) continue;
      if (statSync(from).isFile()) output.copy(from, join('files', path));
    }
  }
}

function addressesIn(node: { childNodes: DefaultTreeAdapterTypes.ChildNode[] }): string[] {
  return node.childNodes.flatMap(child => [
    ...('attrs' in child
      ? child.attrs.filter(({ name }) => ['src', 'href', 'poster', 'data'].includes(name)).map(({ value }) => value)
      : []),
    ...('content' in child ? addressesIn(child.content as never) : 'childNodes' in child ? addressesIn(child) : []),
  ]);
}
