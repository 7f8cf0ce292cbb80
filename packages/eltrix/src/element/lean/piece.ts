/** Markup that a static element ("lean" in code) shows on a condition. */
import { asText } from '../../view/as-text.ts';
import { type Expression, evaluate } from './expressions.ts';
import { nodesOf, prepare } from './prepare.ts';

/** The template of a piece; its content is made at the first use. */
interface Template {
  readonly html: string;
  content?: DocumentFragment;
}

/** A template, and the function that binds the nodes of a copy. */
type Piece = readonly [template: Template, bind: (nodes: readonly Node[]) => readonly (Expression | undefined)[]];

/**
 * Shows a piece, or a text. As long as the same piece is shown, its nodes stay.
 * @param anchor a text node: it contains the text, and nodes are inserted before it.
 */
export function leanContent(anchor: Text, read: () => unknown, host: Element): Expression {
  let shown: unknown;
  let nodes: readonly ChildNode[] = [];
  let inside: readonly (Expression | undefined)[] = [];
  const end = () => {
    for (const expression of inside) expression?.end?.();
    for (const node of nodes) node.remove();
  };
  const show: Expression = () => {
    let now: unknown;
    try {
      now = read();
    } catch (error) {
      // What is shown stays, and follows its own changes.
      evaluate(inside, host);
      throw error;
    }
    const [template, bind] = (Array.isArray(now) ? now : []) as unknown as Partial<Piece>;
    if ((template ?? now) === shown) return evaluate(inside, host);
    shown = template ?? now;
    const copy = template && document.importNode((template.content ??= prepare(template.html)), true);
    const bound = copy ? bind!(nodesOf(copy)) : [];
    evaluate(bound, host);
    end();
    inside = bound;
    nodes = copy ? [...copy.childNodes] : [];
    anchor.data = copy ? '' : asText(now);
    if (copy) anchor.before(copy);
  };
  show.end = end;
  return show;
}
