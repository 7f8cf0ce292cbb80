/** The HTML in a document: the whole page, or the markup in a source. */

import { type Imported, LibraryNames } from '../project/library-names.ts';
import { type Node, parseModule, walk } from '../project/syntax.ts';
import { blank, templateText } from '../project/template-text.ts';
import { placeholder } from '../project/unknown-text.ts';

/** HTML with the offsets of its document: other text is replaced by spaces. */
export interface Region {
  readonly start: number;
  readonly end: number;
  /** With the length of the document. */
  readonly text: string;
  readonly isSource: boolean;
}

export const isPage = (file: string): boolean => /\.html?$/i.test(file);
export const isSheet = (file: string): boolean => /\.css$/i.test(file);
export const isSource = (file: string): boolean => /\.[cm]?[jt]sx?$/i.test(file);

/** The markup of a source, outer templates first; none while the source does not parse. */
export function regionsOf(file: string, text: string, imported?: Imported): Region[] {
  if (isPage(file)) return [{ start: 0, end: text.length, text, isSource: false }];
  if (!isSource(file) || !text.includes('`')) return [];
  const parsed = parseModule(file, text);
  if (!parsed) return [];
  const names = new LibraryNames(parsed, imported);
  const found: Region[] = [];
  walk(parsed.program, node => {
    if (node.type !== 'TaggedTemplateExpression') return;
    if (names.templateOf(node) === 'markup') found.push(region(text, node['quasi']));
  });
  return found;
}

/** The region at an offset: the innermost template. */
export function regionAt(file: string, text: string, offset: number, imported?: Imported): Region | undefined {
  return regionsOf(file, text, imported).findLast(
    region => region.start <= offset && offset <= region.end && region.text[offset] !== placeholder,
  );
}

function region(text: string, quasi: Node): Region {
  const { start, end } = quasi;
  const html = blank(text.slice(0, start)) + templateText(text, quasi, placeholder) + blank(text.slice(end));
  return { start: start + 1, end: end - 1, text: html, isSource: true };
}
