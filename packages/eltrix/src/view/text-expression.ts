import type { Member } from '../signals/state.ts';
import { asText } from './as-text.ts';
import { DeepExpression, Expression, type Show } from './expression.ts';
import { showSentText } from './taking-over.ts';
import { type Binder, type Binding, markAll, type Owner } from './template.ts';

/** Text with several expressions, set as a whole: an attribute, or the content of `<textarea>`. */
export class Pieces implements Binding {
  readonly expressions: DeepExpression[] = [];
  readonly texts: unknown[];
  #whole = false;

  constructor(
    statics: readonly string[],
    readonly node: Node,
    owner: Owner,
    readonly commit: (texts: readonly unknown[]) => void,
  ) {
    const show: Show = (_node, value, index) => {
      this.texts[+index] = value;
      if (this.#whole) this.commit(this.texts);
    };
    this.texts = new Array(statics.length - 1).fill(undefined);
    for (let i = 0; i < statics.length - 1; i++) {
      const expression = new DeepExpression(owner, node, show, `${i}`);
      if (__DEV__ && expression.place)
        expression.place = { ...expression.place, expression: expression.place.expression + i };
      this.expressions.push(expression);
    }
  }

  /** Evaluates all expressions, then sets the text once. */
  update(values: readonly unknown[], at: number): void {
    this.#whole = false;
    this.expressions.forEach((expression, i) => {
      expression.update(values, at + i);
    });
    this.#whole = true;
    try {
      this.commit(this.texts);
    } catch (error) {
      // Reported with the position of the first expression.
      this.expressions[0]!.failed(error);
    }
  }

  mark(stale: number, due: Member[]): void {
    markAll(this.expressions, stale, due);
  }

  dispose(): void {
    for (const expression of this.expressions) expression.dispose();
  }
}

/** All that is in an element, or one text. To set the text that is there is faster than to make another one. */
function setText(node: Node, text: string): void {
  if (__RENDERED__ && node.textContent === text) return;
  const only = node.firstChild;
  (only?.nodeType === 3 && !only.nextSibling ? only : node).textContent = text;
}

const showText: Show = (node: ChildNode, value, _name, { home }) => {
  const text = asText(value);
  if (__RENDERED__ && node.nodeType === 8) {
    const made = showSentText(node, text);
    if (made) home.placed(made);
  } else setText(node, text);
};

/**
 * An expression of which the compiler knows that its value is always text: all that is in an element, or one between
 * nodes. Others may replace the texts of a page, as translators do, so what holds on to an element is safe.
 */
export const bindText: Binder = (node, owner) => new Expression(owner, node, showText);

export function join(
  statics: readonly string[],
  texts: readonly unknown[],
  print: (value: unknown) => string = asText,
): string {
  let text = statics[0]!;
  for (let i = 0; i < texts.length; i++) text += print(texts[i]) + statics[i + 1]!;
  return text;
}

/** An element with nothing but text: several expressions, or text around one. */
export function textBinder(statics: readonly string[]): Binder {
  return (node, owner) =>
    new Pieces(statics, node, owner, texts => {
      setText(node, join(statics, texts));
    });
}

export function bindStaticStyle(text: string): Binder {
  return node => {
    (node as HTMLElement).style.cssText = text;
    return undefined;
  };
}
