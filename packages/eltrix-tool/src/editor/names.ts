/** Names of contracts: the name at a position, and all its occurrences. */
import type { Sighting } from './contract-name.ts';
import { cssNames } from './names-in-css.ts';
import { htmlNames } from './names-in-html.ts';
import { sourceNames } from './names-in-source.ts';
import type { EditorProject } from './project.ts';
import { isPage, isSheet, isSource } from './regions.ts';

/** All names of contracts in a document. */
export function namesIn(project: EditorProject, file: string, text: string): Sighting[] {
  if (isPage(file)) return htmlNames(project, file, text);
  if (isSheet(file)) return cssNames(project, text, 0, undefined);
  return isSource(file) ? sourceNames(project, file, text) : [];
}

/** The name at an offset, or the one that ends there. */
export function nameAt(project: EditorProject, file: string, text: string, offset: number): Sighting | undefined {
  return namesIn(project, file, text).findLast(({ start, end }) => start <= offset && offset <= end);
}
