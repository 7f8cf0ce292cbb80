/** What a build leaves of markup: templates whose analysis is done, and pieces that name theirs. */
import type { Namespace } from './analyse.ts';
import { walk } from './build.ts';
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
 * @param path as in `Template`.
 * @param sites three for each: the step that leads to its node, the index of its first value, its binder.
 * @param imported whether a copy has to be imported, since custom elements are in it.
 * @param places in development: the strings, and for each site its hole among them and its line.
 */
export function template(
  html: string,
  path: readonly number[],
  sites: readonly (number | Binder)[],
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
    const steps = walk(root, path);
    const list: Template['sites'][number][] = [];
    for (let i = 0; i < sites.length; i += 3) {
      const [at, hole, bind] = sites.slice(i) as [number, number, Binder];
      const node = steps[at] as ChildNode;
      if (node.nodeType === 8) node.replaceWith('');
      const site = { at, hole, bind };
      if (__DEV__ && places) {
        const [mark, line] = places.marks[i / 3]!;
        Object.assign(site, { place: { strings: places.strings, hole: mark, line } });
      }
      list.push(site);
    }
    return (made = { root, inDocument: !imported, path, sites: list });
  };
}

/** The same for a fragment inside `<svg>` or `<math>`. */
export function foreignTemplate(
  namespace: Namespace,
  html: string,
  path: readonly number[],
  sites: readonly (number | Binder)[],
  imported?: 0 | 1,
  places?: Parameters<typeof template>[4],
): () => Template {
  return template(html, path, sites, imported, places, html => parseForeign(html, namespace));
}
