/** The expressions of a lean element. Each is a function that looks again and touches the page only if something differs. */
import { asText } from '../../view/as-text.ts';
import { isScript } from '../../view/script-address.ts';

export type Expression = () => void;

const isNone = (value: unknown) => (value ?? false) === false;

/**
 * A text, or an attribute: text or a number sets it, true sets it empty, false and null remove it.
 * @param name of the attribute; undefined for a text.
 * @param look for a value that could act: throws if it must not be set, after it has taken the attribute away.
 */
export function leanExpression(node: Node, read: () => unknown, name?: string, look?: typeof refuseScript): Expression {
  let last: unknown;
  return () => {
    const now = read();
    if (now === last) return;
    last = now;
    look?.(node as Element, name!, now);
    if (name === undefined) (node as Text).data = asText(now);
    else if (isNone(now)) (node as Element).removeAttribute(name);
    else (node as Element).setAttribute(name, now === true ? '' : (now as string));
  };
}

/** For attributes that lead somewhere. */
export function refuseScript(element: Element, name: string, value: unknown): void {
  if (!isScript(value)) return;
  element.removeAttribute(name);
  throw Object.assign(new TypeError('unsafe-value: url'), { code: 'unsafe-value', expression: 0 });
}

/** Properties of its style, always the same ones; null and false take one away. */
export function leanStyles(
  { style }: ElementCSSInlineStyle,
  read: () => Readonly<Record<string, unknown>>,
): Expression {
  return () => {
    const now = read();
    for (const name in now) style.setProperty(name, isNone(now[name]) ? '' : `${now[name] as string}`);
  };
}

/** A listener, called with the element as `this`. */
export function leanListen(
  target: EventTarget,
  type: string,
  handler: (event: Event) => unknown,
  host: object,
): undefined {
  target.addEventListener(type, handler.bind(host));
}
