/** Reads a project for the gallery. */
import { dirname, relative } from 'node:path';
import { scriptAddress } from '../compile/element-modules.ts';
import { describeElement } from '../describe/model.ts';
import { readPackage } from '../project/config.ts';
import type { FoundElement } from '../project/discover.ts';
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

/** The data of one element. `base` is the project's folder, relative to the gallery's base. */
export function collectElement(
  root: string,
  element: FoundElement,
  base: string,
  size: ElementSize | undefined,
): GalleryElement {
  const read = readSpecimens(root, element);
  const description = describeElement(root, element);
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
              title: 'As it is made',
              slug: 'as-it-is-made',
              html: plainHtml(element),
              styles: [],
              scripts: [],
              base: base + folder,
            },
          ],
    problems: read?.problems ?? [],
    size,
  };
}
