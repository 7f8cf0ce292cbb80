/** The runtime of compiled markup: templates that the build has analysed, and the pieces made from them. */
import type { Namespace } from './analyse.ts';
import { brand, type Markup } from './piece.ts';
import { type Binder, bindersAt, type Template } from './template.ts';
import { parse, parseForeign } from './trusted.ts';

/** Creates a piece of markup from a compiled template. */
export function piece(template: () => Template, values: readonly unknown[]): Markup {
  return { [brand]: true, template, values };
}

/**
 * A compiled template, parsed when it is first placed.
 *
 * @param html with an empty comment, `<!>`, where content goes.
 * @param binders one for each node that `walk` finds.
 * @param walk as in `Template`.
 * @param values as in `Template`; each has one value, in their order, unless given.
 * @param imported whether a copy has to be imported, since custom elements are in it.
 * @param places in development: the strings, and for each its expression among them and its line.
 */
export function template(
  html: string,
  binders: readonly Binder[],
  walk: Template['walk'],
  values: readonly number[] = binders.map((_, i) => i),
  imported?: 0 | 1,
  places?: {
    readonly strings: readonly string[];
    readonly marks: readonly (readonly [expression: number, line: number])[];
  },
  read = parse,
): () => Template {
  let made: Template | undefined;
  return () => {
    if (made) return made;
    const content = read(html);
    const first = content.firstChild!;
    const original = first === content.lastChild && first.nodeType === 1 ? first : content;
    const root = imported ? original : document.adoptNode(original);
    for (const node of walk(root).flatMap(node => [node, node.firstChild]))
      if (node?.nodeType === 8) (node as Comment).replaceWith('');
    made = { root, inDocument: !imported, walk, binders: bindersAt(walk(root), binders), values };
    if (__DEV__ && places) {
      const { strings, marks } = places;
      made = { ...made, places: marks.map(([expression, line]) => ({ strings, expression, line })) };
    }
    return made;
  };
}

/** The same for a fragment inside `<svg>` or `<math>`. */
export function foreignTemplate(
  namespace: Namespace,
  html: string,
  binders: readonly Binder[],
  walk: Template['walk'],
  values?: readonly number[],
  imported?: 0 | 1,
  places?: Parameters<typeof template>[5],
): () => Template {
  return template(html, binders, walk, values, imported, places, html => parseForeign(html, namespace));
}
