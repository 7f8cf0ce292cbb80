/** Checks the text of an element's style sheet: its syntax, and selectors for the element itself. */
import type { SyntaxParseError } from 'css-tree';
import parse from 'css-tree/parser';
import walk from 'css-tree/walker';
import { transform } from 'lightningcss';
import type { ElementDescription } from '../describe/description.ts';

/** @param element the element that it styles from inside, and that does not contain itself. */
export function checkSheetText(
  css: string,
  element: ElementDescription | undefined,
  report: (code: string, message: string, offset: number) => void,
): void {
  // Either parser may not know the newest CSS: what one of them accepts is accepted. The second one takes much longer.
  const isRight = isAccepted(css);
  const mayNameIt = element && element.shadow !== 'none' && css.includes(element.tag);
  if (isRight && !mayNameIt) return;
  const errors: SyntaxParseError[] = [];
  const sheet = parse(css, { positions: true, onParseError: error => errors.push(error) });
  const [error] = errors;
  if (error && !isRight)
    report(
      'css-syntax',
      `Browsers drop a part of this style sheet: ${error.message.replace(/\.$/, '')}.`,
      error.offset,
    );
  if (!mayNameIt) return;
  walk(sheet, node => {
    // Their arguments are about the element itself.
    if (node.type === 'PseudoClassSelector' && /^host(?:-context)?$/.test(node.name)) return walk.skip;
    if (node.type === 'TypeSelector' && node.name === element.tag)
      report(
        'selector-invalid',
        `<${element.tag}> itself is outside of its shadow tree, so this matches nothing. Write :host, or :host([name]) for an attribute.`,
        node.loc?.start.offset ?? 0,
      );
    return undefined;
  });
}

function isAccepted(css: string): boolean {
  try {
    const { warnings } = transform({ filename: 'a.css', code: new TextEncoder().encode(css), errorRecovery: true });
    return warnings.length === 0;
  } catch {
    return false;
  }
}
