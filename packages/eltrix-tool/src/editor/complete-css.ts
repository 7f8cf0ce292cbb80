/** Completion in style sheets: tags, attributes and their values, parts, states, slots and custom properties. */
import { type CompletionItem, CompletionItemKind } from 'vscode-languageserver/node.js';
import type { ElementDescription } from '../describe/description.ts';
import { placeAfter } from './names-in-css.ts';
import type { EditorProject } from './project.ts';
import type { Sheet } from './sheet-at.ts';

/** What has been typed of a name. */
const typedName = /(?:--)?[\p{ID_Continue}-]*$/u;

/** @returns the items, and how many characters before the position they replace. */
export function completeCss(
  project: EditorProject,
  { head, host }: Sheet,
): { readonly items: readonly CompletionItem[]; readonly typed: number } {
  const [typed = ''] = typedName.exec(head) ?? [];
  const found = new Map<string, CompletionItem>();
  const add = (label: string, { tag }: ElementDescription, kind: CompletionItemKind, about?: string) => {
    if (!found.has(label))
      found.set(label, { label, kind, detail: `<${tag}>`, ...(about && { documentation: about }) });
  };
  if (typed.startsWith('--')) {
    for (const element of project.elements)
      for (const { name, about } of element.cssProperties) add(name, element, CompletionItemKind.Variable, about);
  } else {
    const place = placeAfter(project, head.slice(0, head.length - typed.length), host);
    const isOfElement = place?.kind === 'tag' || place?.kind === 'part' || place?.kind === 'state';
    const elements = place?.element ? [place.element] : isOfElement ? project.elements : [];
    for (const element of elements)
      switch (place!.kind) {
        case 'tag':
          if (typed && element.tag.startsWith(typed))
            add(element.tag, element, CompletionItemKind.Class, element.about);
          break;
        case 'part':
          for (const { name, about } of element.parts) add(name, element, CompletionItemKind.Value, about);
          break;
        case 'state':
          for (const { name, about } of element.states) add(name, element, CompletionItemKind.Value, about);
          break;
        case 'slot':
          for (const { name, about } of element.slots) if (name) add(name, element, CompletionItemKind.Value, about);
          break;
        case 'attribute':
          for (const { attribute, about } of element.properties)
            if (attribute !== undefined) add(attribute, element, CompletionItemKind.Property, about);
          break;
        case 'value':
          for (const { attribute, values } of element.properties)
            if (attribute === place!.attribute)
              for (const value of values) add(value, element, CompletionItemKind.Value);
          break;
      }
  }
  return { items: [...found.values()], typed: typed.length };
}
