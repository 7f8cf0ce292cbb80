/** What a build leaves of markup: templates whose analysis is done, and pieces that name theirs. */
import type { Namespace } from './analyse.ts';
import { brand, type Markup } from './piece.ts';
import type { Binder, Template } from './template.ts';
import { parse, parseForeign } from './trusted.ts';

class CompiledPiece implements Markup {
  get [brand](): true {
    return true;
  }

  constructor(
    readonly template: () => Template,
    readonly values: readonly unknown[],
  ) {}
}

/** Makes a piece of markup of a compiled template. */
export function piece(template: () => Template, values: readonly unknown[]): Markup {
  return new CompiledPiece(template, values);
}

/**
 * A compiled template, parsed when it is first placed.
 *
 * @param html with an empty comment, `<!>`, where content goes.
 * @param sites two for each: the index of its first value, its binder.
 * @param walk as in `Template`.
 * @param imported whether a copy has to be imported, since custom elements are in it.
 * @param places in development: the strings, and for each site its hole among them and its line.
 */
export function template(
  html: string,
  sites: readonly (number | Binder)[],
  walk: Template['walk'],
  imported?: 0 | 1,
  places?: { readonly strings: readonly string[]; readonly marks: readonly (readonly [hole: number, line: number])[] },
  read = parse,
): () => Template {
  let made: Template | undefined;
  return () => {
    if (made) return made;
    const content = read(html);
    const single = content.firstChild === content.lastChild && content.firstChild!.nodeType === 1;
    const original = single ? content.firstChild! : content;
    const root = imported ? original : document.adoptNode(original);
    const list: Template['sites'][number][] = [];
    walk(root).forEach((node, i) => {
      if (node.nodeType === 8) (node as Comment).replaceWith('');
      const site = { hole: sites[2 * i] as number, bind: sites[2 * i + 1] as Binder };
      if (__DEV__ && places) {
        const [mark, line] = places.marks[i]!;
        Object.assign(site, { place: { strings: places.strings, hole: mark, line } });
      }
      list.push(site);
    });
    return (made = { root, inDocument: !imported, walk, sites: list });
  };
}

/** The same for a fragment inside `<svg>` or `<math>`. */
export function foreignTemplate(
  namespace: Namespace,
  html: string,
  sites: readonly (number | Binder)[],
  walk: Template['walk'],
  imported?: 0 | 1,
  places?: Parameters<typeof template>[4],
): () => Template {
  return template(html, sites, walk, imported, places, html => parseForeign(html, namespace));
}
