/** Names of contracts: the name at a position, and all its occurrences. */
import { type DefaultTreeAdapterTypes, parseFragment } from 'parse5';
import { attributeOf } from '../project/attribute-of.ts';
import type { Sighting } from './contract-name.ts';
import { cssNames } from './names-in-css.ts';
import { htmlNames } from './names-in-html.ts';
import { sourceNames } from './names-in-source.ts';
import type { EditorProject } from './project.ts';
import { isPage, isSheet, isSource } from './regions.ts';

/** All names of contracts in a document. */
export function namesIn(project: EditorProject, file: string, text: string): Sighting[] {
  if (isPage(file)) {
    const inScripts = scriptsIn(text).flatMap(({ from, code }) =>
      sourceNames(project, `${file}.js`, code).map(sighting => moved(sighting, from)),
    );
    return [...htmlNames(project, file, text), ...inScripts];
  }
  if (isSheet(file)) return cssNames(project, text, 0, undefined);
  return isSource(file) ? sourceNames(project, file, text) : [];
}

function moved({ start, end, edit, ...rest }: Sighting, by: number): Sighting {
  const place = { ...rest, start: start + by, end: end + by };
  if (!edit) return place;
  return {
    ...place,
    edit: name => {
      const made = edit(name);
      return { ...made, start: made.start + by, end: made.end + by };
    },
  };
}

const ofScripts = /^(?:module|(?:text|application)\/javascript|)$/i;

/** The scripts of a page, also those in templates. */
function scriptsIn(text: string): { readonly from: number; readonly code: string }[] {
  const found: { from: number; code: string }[] = [];
  const visit = (node: DefaultTreeAdapterTypes.Node) => {
    if ('tagName' in node && node.tagName === 'script' && ofScripts.test(attributeOf(node, 'type') ?? '')) {
      const { startTag, endTag } = node.sourceCodeLocation ?? {};
      const from = startTag?.endOffset ?? text.length;
      found.push({ from, code: text.slice(from, endTag?.startOffset) });
    }
    if ('content' in node) visit(node.content);
    if ('childNodes' in node) for (const child of node.childNodes) visit(child);
  };
  if (/<script/i.test(text)) visit(parseFragment(text, { sourceCodeLocationInfo: true }));
  return found;
}

/** The name at an offset, or the one that ends there. */
export function nameAt(project: EditorProject, file: string, text: string, offset: number): Sighting | undefined {
  return namesIn(project, file, text).findLast(({ start, end }) => start <= offset && offset <= end);
}
