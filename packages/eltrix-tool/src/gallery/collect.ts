/** Reads a project for the gallery. */
import { dirname, relative } from 'node:path';
import { checkSpecimens } from '../check/pages/check-specimens.ts';
import { vocabularyOf } from '../check/pages/vocabulary.ts';
import { checkSources } from '../check/sources.ts';
import { scriptAddress } from '../compile/element-modules.ts';
import type { ElementDescription } from '../describe/description.ts';
import { readPackage } from '../project/config.ts';
import type { FoundElement } from '../project/discover.ts';
import type { Finding } from '../project/finding.ts';
import { folderOf, orphanSpecimens, plainHtml, readSpecimens } from '../project/specimens.ts';
import type { ElementSize, GalleryData, GalleryElement, GalleryEntry } from './model.ts';

export function collectEntry(root: string, source: string, element: FoundElement): GalleryEntry {
  const { contract, tag, file } = element;
  let about: string | undefined;
  for (let c: typeof contract | undefined = contract; c && about === undefined; c = c.parent)
    about = c.declaration?.about;
  const folder = relative(source, dirname(file)).replaceAll('\\', '/');
  const specimens = readSpecimens(root, element)?.specimens ?? [];
  return { tag, folder, about, specimens: specimens.map(({ title, slug }) => ({ title, slug })) };
}

export async function collectData(
  root: string,
  source: string,
  elements: readonly FoundElement[],
  live: boolean,
): Promise<GalleryData> {
  const { name } = readPackage(root);
  return {
    project: typeof name === 'string' ? name : 'Elements',
    live,
    elements: elements.map(element => collectEntry(root, source, element)),
    problems: await orphanSpecimens(root, source, elements),
  };
}

/** The findings of `eltrix check` that need no browser: in the source of an element, and in its specimens. */
export function collectFindings(
  root: string,
  element: FoundElement,
  described: readonly ElementDescription[],
): readonly Finding[] {
  const vocabulary = vocabularyOf(described);
  const own = described.filter(({ file }) => file === element.file);
  const read = readSpecimens(root, element);
  return [
    ...checkSources(root, own, vocabulary),
    ...(read?.problems ?? []),
    ...(read ? checkSpecimens(root, read.file, vocabulary) : []),
  ];
}

/** The data of one element. `base` is the project's folder, relative to the gallery's base. */
export function collectElement(
  root: string,
  element: FoundElement,
  description: ElementDescription,
  base: string,
  size: ElementSize | undefined,
  findings: readonly Finding[] | undefined,
): GalleryElement {
  const read = readSpecimens(root, element);
  const folder = folderOf(read?.file ?? element.file);
  const specimens = (read?.specimens ?? []).map(({ title, slug, html, styles, scripts }) => ({
    title,
    slug,
    html,
    styles,
    scripts: scripts.map((_, index) => scriptAddress(element.tag, slug, index)),
    base: base + folder,
  }));
  return {
    description,
    file: read?.file,
    // An element without specimens is shown without attributes and content.
    specimens:
      specimens.length > 0
        ? specimens
        : [
            {
              title: 'Default',
              slug: 'default',
              html: plainHtml(element),
              styles: [],
              scripts: [],
              base: base + folder,
            },
          ],
    findings,
    size,
  };
}
