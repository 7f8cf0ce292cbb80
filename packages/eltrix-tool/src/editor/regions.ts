/** The HTML in a document: the whole page, or the markup in a source. */

import { libraryNames } from '../project/library-names.ts';
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
export function regionsOf(file: string, text: string): Region[] {
  if (isPage(file)) return [{ start: 0, end: text.length, text, isSource: false }];
  if (!isSource(file) || !text.includes('markup')) return [];
  const program = parseModule(file, text)?.program;
  if (!program) return [];
  const names = libraryNames(program);
  const found: Region[] = [];
  walk(program, node => {
    if (node.type !== 'TaggedTemplateExpression') return;
    const { tag } = node;
    const name = tag.type === 'MemberExpression' ? tag.object?.name : tag.name;
    if (names.get(name) === 'markup') found.push(region(text, node['quasi']));
  });
  return found;
}

/** The region at an offset: the innermost template. */
export function regionAt(file: string, text: string, offset: number): Region | undefined {
  return regionsOf(file, text).findLast(
    region => region.start <= offset && offset <= region.end && region.text[offset] !== placeholder,
  );
}

function region(text: string, quasi: Node): Region {
  const { start, end } = quasi;
  const html = blank(text.slice(0, start)) + templateText(text, quasi, placeholder) + blank(text.slice(end));
  return { start: start + 1, end: end - 1, text: html, isSource: true };
}
