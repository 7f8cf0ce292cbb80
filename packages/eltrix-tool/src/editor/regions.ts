/** Where HTML stands in a document: the whole page, or the markup in a source. */
import { placeholder } from '../check/pages/check-page.ts';
import { type Node, parseModule, walk } from '../project/syntax.ts';

/** HTML with the places of the document that it stands in: what is not HTML is blank. */
export interface Region {
  readonly start: number;
  readonly end: number;
  /** As long as the document. */
  readonly text: string;
  readonly isSource: boolean;
}

const blank = (text: string, by = ' ') => text.replace(/[^\r\n]/g, by);

export const isPage = (file: string): boolean => /\.html?$/i.test(file);
export const isSheet = (file: string): boolean => /\.css$/i.test(file);
export const isSource = (file: string): boolean => /\.[cm]?[jt]sx?$/i.test(file);

/** The markup of a source, outer templates first; none while it does not parse. */
export function regionsOf(file: string, text: string): Region[] {
  if (isPage(file)) return [{ start: 0, end: text.length, text, isSource: false }];
  if (!isSource(file) || !text.includes('markup')) return [];
  const program = parseModule(file, text)?.program;
  if (!program) return [];
  const names = markupNames(program);
  const found: Region[] = [];
  walk(program, node => {
    if (node.type !== 'TaggedTemplateExpression') return;
    const { tag } = node;
    const name = tag.type === 'MemberExpression' ? tag.object?.name : tag.name;
    if (names.has(name)) found.push(region(text, node['quasi']));
  });
  return found;
}

/** The region of an offset: the innermost template around it. */
export function regionAt(file: string, text: string, offset: number): Region | undefined {
  return regionsOf(file, text).findLast(
    region => region.start <= offset && offset <= region.end && region.text[offset] !== placeholder,
  );
}

/** What a module calls the library's `markup`. */
function markupNames(program: Node): Set<string> {
  const names = new Set<string>();
  for (const node of program['body'] as Node[]) {
    if (node.type !== 'ImportDeclaration' || node['source'].value !== 'eltrix') continue;
    for (const { type, imported, local } of node['specifiers'] as Node[])
      if (type === 'ImportSpecifier' && (imported.name ?? imported.value) === 'markup') names.add(local.name);
  }
  return names;
}

function region(text: string, { start, end, quasis }: Node): Region {
  let html = blank(text.slice(0, start + 1));
  let done = start + 1;
  for (const quasi of quasis as Node[]) {
    // A quasi's own range may or may not hold its delimiters.
    const raw = quasi['value'].raw as string;
    const from = text.indexOf(raw, done);
    html += blank(text.slice(done, from), placeholder) + raw;
    done = from + raw.length;
  }
  return { start: start + 1, end: end - 1, text: html + blank(text.slice(done)), isSource: true };
}
