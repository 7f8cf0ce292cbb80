/** Checks the text of an element's style sheet: its syntax, and selectors for the element itself. */
import type { SyntaxParseError } from 'css-tree';
import parse from 'css-tree/parser';
import walk from 'css-tree/walker';
import { transform } from 'lightningcss';
import type { ElementDescription } from '../describe/description.ts';
import { type CssBlock, parseCss, scopeSelectors, selectorsIn } from '../project/css-rules.ts';

type Report = (code: string, message: string, offset: number) => void;

/** @param element the element that it styles from inside, and that does not contain itself. */
export function checkSheetText(css: string, element: ElementDescription | undefined, report: Report): void {
  // Either parser may not know the newest CSS: what one of them accepts is accepted. The second one takes much longer.
  const isRight = isAccepted(css);
  const mayNameIt = element && element.shadow !== 'none' && css.includes(element.tag);
  if (!isRight) {
    const errors: SyntaxParseError[] = [];
    parse(css, { positions: true, onParseError: error => errors.push(error) });
    const [error] = errors;
    if (error)
      report(
        'css-syntax',
        `Browsers drop a part of this style sheet: ${error.message.replace(/\.$/, '')}.`,
        error.offset,
      );
  }
  if (mayNameIt) refuseItself(parseCss(css), element.tag, report);
}

/** Reports selectors that name the element whose shadow tree the sheet is for. */
function refuseItself({ rules }: CssBlock, tag: string, report: Report): void {
  for (const rule of rules) {
    const lists = rule.at === 'scope' ? scopeSelectors(rule) : rule.at ? [] : [selectorsIn(rule.prelude, rule.start)];
    for (const selector of lists.flat())
      walk(selector, node => {
        // Their arguments are about the element itself.
        if (node.type === 'PseudoClassSelector' && /^host(?:-context)?$/.test(node.name)) return walk.skip;
        if (node.type === 'TypeSelector' && node.name === tag)
          report(
            'selector-invalid',
            `<${tag}> itself is outside of its shadow tree, so this matches nothing. Write :host, or :host([name]) for an attribute.`,
            node.loc?.start.offset ?? 0,
          );
        return undefined;
      });
    refuseItself(rule, tag, report);
  }
}

function isAccepted(css: string): boolean {
  try {
    const { warnings } = transform({ filename: 'a.css', code: new TextEncoder().encode(css), errorRecovery: true });
    return warnings.length === 0;
  } catch {
    return false;
  }
}
