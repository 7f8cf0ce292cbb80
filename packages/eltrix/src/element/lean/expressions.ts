/**
 * The expressions of a static element ("lean" in code): functions that evaluate and change the DOM only if the value
 * differs.
 */
import { state } from '../../signals/state.ts';
import { asText } from '../../view/as-text.ts';
import { isScript } from '../../view/script-address.ts';

export interface Expression {
  (mode?: number): void;
  /** Removes the nodes that it has inserted. */
  end?(): void;
}

const isNone = (value: unknown) => (value ?? false) === false;

/** Evaluates all; errors are reported. */
export function evaluate(expressions: readonly (Expression | undefined)[], host: Element): void {
  for (const expression of expressions)
    try {
      expression?.();
    } catch (error) {
      failed(
        // The error of a rejected value names its element already.
        (error as { code?: unknown } | null)?.code === 'unsafe-value'
          ? error
          : Object.assign(new Error(`hole-failed: <${host.localName}>: ${error}`, { cause: error }), {
              code: 'hole-failed',
            }),
        host,
        host,
      );
    }
}

/** Reports an error, as `report` does; that has more to do where there is no page. */
export function failed(error: unknown, host: Element, at?: Element): void {
  if (!state.handle?.(error, host, at)) reportError(error);
}

/**
 * A text, or an attribute: a string or number sets it, true sets the empty string, false and null remove it.
 * @param name the attribute; undefined for a text.
 * @param look a check for values that can run code: it removes the attribute and throws.
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

/** For attributes with a URL. */
export function refuseScript(element: Element, name: string, value: unknown): void {
  if (!isScript(value)) return;
  element.removeAttribute(name);
  throw Object.assign(new TypeError('unsafe-value: url'), { code: 'unsafe-value' });
}

/** Properties of the element's style; null and false remove a property. */
export function leanStyles(
  { style }: ElementCSSInlineStyle,
  read: () => Readonly<Record<string, unknown>>,
): Expression {
  return () => {
    const now = read();
    for (const name in now) style.setProperty(name, isNone(now[name]) ? null : (now[name] as string));
  };
}

/** A property of an element in the view. */
export function leanProperty<N>(node: N, assign: (node: N, value: unknown) => void, read: () => unknown): Expression {
  let last: unknown = assign;
  return () => {
    const now = read();
    if (!Object.is(now, last)) assign(node, (last = now));
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
