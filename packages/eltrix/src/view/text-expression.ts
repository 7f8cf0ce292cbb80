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

/**
 * Sets a text between nodes, or all that is in an element, which has one text for it. Others may replace that, as
 * translators of pages do. What others add stays.
 */
function textSetter(node: Node): (text: string) => void {
  let own = node.firstChild as Text | null;
  let last = own?.textContent;
  return text => {
    if (!own) node.textContent = text;
    else if (!__RENDERED__ || node.textContent !== text) {
      if (__RENDERED__ && (own.nodeType === 8 || own.nextSibling?.nodeType === 8)) own = joinSent(node as Element);
      else if (!own.parentNode || own.data !== last) (node as Element).replaceChildren(own);
      own.data = text;
    }
    last = text;
  };
}

/** One text in place of those that a server sent, and their marks. Elements after the last mark are what others have added. */
function joinSent(element: Element): Text {
  const children = [...element.childNodes];
  const last = children.findLastIndex(({ nodeType }) => nodeType === 8);
  children.forEach((child, at) => {
    if (at <= last || child.nodeType !== 1) child.remove();
  });
  const text = element.ownerDocument.createTextNode('');
  element.prepend(text);
  return text;
}

const showSent: Show = (node: ChildNode, value, _name, { home }) => {
  const made = showSentText(node, asText(value));
  if (made) home.placed(made);
};

/** An expression of which the compiler knows that its value is always text: all that is in an element, or one between nodes. */
export const bindText: Binder = (node, owner) => {
  if (__RENDERED__ && node.nodeType === 8) return new Expression(owner, node, showSent);
  const set = textSetter(node);
  return new Expression(owner, node, (_node, value) => set(asText(value)));
};

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
  return (node, owner) => {
    const set = textSetter(node);
    return new Pieces(statics, node, owner, texts => set(join(statics, texts)));
  };
}

export function bindStaticStyle(text: string): Binder {
  return node => {
    (node as HTMLElement).style.cssText = text;
    return undefined;
  };
}
