/** The style sheet at a position: a file, a `stylesheet` template, or `<style>` and `style` in HTML. */
import { join } from 'node:path';
import { type DefaultTreeAdapterTypes, parseFragment } from 'parse5';
import type { ElementDescription } from '../describe/description.ts';
import { elementsOfClasses } from '../describe/element-class.ts';
import { LibraryNames } from '../project/library-names.ts';
import { importedBy } from '../project/passed-names.ts';
import { parseModule, walk } from '../project/syntax.ts';
import { blank, templateText } from '../project/template-text.ts';
import type { EditorProject } from './project.ts';
import { isSheet, isSource, regionAt } from './regions.ts';

export interface Sheet {
  /** What is before the position. */
  readonly head: string;
  /** The element of `:host`. */
  readonly host: ElementDescription | undefined;
}

export function sheetAt(project: EditorProject, path: string, text: string, offset: number): Sheet | undefined {
  if (isSheet(path)) return { head: text.slice(0, offset), host: undefined };
  if (isSource(path)) {
    const sheet = templateAt(project, path, text, offset);
    if (sheet) return sheet;
  }
  const region = regionAt(path, text, offset, importedBy(path));
  const head = region && styleBefore(region.text, offset);
  return head === undefined ? undefined : { head, host: undefined };
}

function templateAt(project: EditorProject, path: string, text: string, offset: number): Sheet | undefined {
  const parsed = text.includes('`') ? parseModule(path, text) : null;
  if (!parsed) return undefined;
  const names = new LibraryNames(parsed, importedBy(path));
  const elementOf = elementsOfClasses(
    parsed.program,
    project.elements.filter(({ file }) => join(project.root, file) === path),
  );
  let found: Sheet | undefined;
  walk(parsed.program, (node, parents) => {
    if (node.start > offset || node.end < offset) return false;
    if (node.type === 'TaggedTemplateExpression' && names.templateOf(node) === 'stylesheet') {
      const { quasi } = node;
      if (quasi.start < offset && offset < quasi.end) {
        const Class = parents.findLast(parent => elementOf.has(parent));
        const masked = blank(text.slice(0, quasi.start)) + templateText(text, quasi, 'x');
        found = { head: masked.slice(0, offset), host: Class && elementOf.get(Class)!.element };
      }
    }
    return true;
  });
  return found;
}

/** The CSS before an offset of HTML, in the `<style>` or `style` attribute there. */
function styleBefore(html: string, offset: number): string | undefined {
  if (!/style/i.test(html)) return undefined;
  let start: number | undefined;
  const visit = (node: DefaultTreeAdapterTypes.Node) => {
    if ('tagName' in node) {
      const { startTag, endTag, attrs } = node.sourceCodeLocation ?? {};
      const from = startTag?.endOffset ?? Number.POSITIVE_INFINITY;
      if (node.tagName === 'style' && from <= offset && offset <= (endTag?.startOffset ?? html.length)) start = from;
      const { startOffset, endOffset } = attrs?.['style'] ?? { startOffset: 0, endOffset: -1 };
      const [name = ''] = /^style\s*=\s*["']?/i.exec(html.slice(startOffset, endOffset)) ?? [];
      if (name && startOffset + name.length <= offset && offset <= endOffset) start = startOffset + name.length;
    }
    if ('content' in node) visit(node.content);
    if ('childNodes' in node) for (const child of node.childNodes) visit(child);
  };
  visit(parseFragment(html, { sourceCodeLocationInfo: true }));
  return start === undefined ? undefined : html.slice(start, offset);
}
