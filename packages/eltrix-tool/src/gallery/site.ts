/** The gallery as a static site: it works from any folder of any server, and under a strict policy. */
import {
  copyFileSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { basename, dirname, join, normalize, relative, resolve, sep } from 'node:path';
import { type DefaultTreeAdapterTypes, parseFragment } from 'parse5';
import { bundleWritten } from '../compile/written.ts';
import type { FoundElement } from '../project/discover.ts';
import { sourceError } from '../project/source-error.ts';
import { readSpecimens } from '../project/specimens.ts';
import { ToolError } from '../project/tool-error.ts';
import { collectData, collectElement } from './collect.ts';
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
  const target = resolve(root, options.out);
  refuseFolder(target, options.out);
  mkdirSync(dirname(target), { recursive: true });
  const beside = mkdtempSync(join(dirname(target), `.${basename(target)}-`));
  try {
    for (const [file, code] of await bundleWritten(root, elements, options.target)) {
      mkdirSync(dirname(join(beside, file)), { recursive: true });
      writeFileSync(join(beside, file), code);
    }
    for (const file of ownFiles) copyFileSync(pageFile(file), join(beside, file));
    const write = (file: string, value: unknown) => {
      mkdirSync(dirname(join(beside, file)), { recursive: true });
      writeFileSync(join(beside, file), `${JSON.stringify(value)}\n`);
    };
    write('data.json', await collectData(root, options.source, elements, false));
    write(
      'tags.json',
      elements.map(({ tag }) => tag),
    );
    for (const element of elements) {
      write(`element/${element.tag}.json`, collectElement(root, element, 'files/', options.size(element.tag)));
      copyFiles(root, element, beside);
    }
    rmSync(target, { recursive: true, force: true });
    renameSync(beside, target);
  } catch (error) {
    rmSync(beside, { recursive: true, force: true });
    throw sourceError(error, root);
  }
}

/** The folder is exchanged whole, so it must not hold anything else. */
function refuseFolder(target: string, out: string): void {
  if (!existsSync(target) || readdirSync(target).length === 0 || existsSync(join(target, 'tags.json'))) return;
  throw new ToolError(
    'out-in-use',
    `The folder "${out}" holds files that are no gallery, and it is exchanged whole. Name another one: eltrix build --gallery site. Nothing was written.`,
    undefined,
    undefined,
    2,
  );
}

/** Pictures and the like that specimens name by relative addresses. */
function copyFiles(root: string, element: FoundElement, beside: string): void {
  const read = readSpecimens(root, element);
  for (const { html } of read?.specimens ?? []) {
    for (const address of addressesIn(parseFragment(html))) {
      const path = normalize(join(dirname(read!.file), address.replace(/[?#].*$/, '')));
      const from = join(root, path);
      if (/^[a-z]+:|^\/|^#/i.test(address) || path.startsWith('..') || !existsSync(from)) continue;
      const to = join(beside, 'files', relative(root, from));
      if (!to.startsWith(beside + sep)) continue;
      mkdirSync(dirname(to), { recursive: true });
      copyFileSync(from, to);
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
