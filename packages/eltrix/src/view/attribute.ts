import { isSignal } from '../signals/readable.ts';
import { asText } from './as-text.ts';
import { classText } from './class-text.ts';
import { DeepExpression, Expression, type Show } from './expression.ts';
import { insteadOfAttribute } from './odd-attribute.ts';
import { danger, isGuarded, refusal, steady, vetted } from './safety.ts';
import type { Binder } from './template.ts';
import { join, Pieces } from './text-expression.ts';
import { warnOnce } from './warn-once.ts';

/** A string or number is set, true sets the empty string, false, null and undefined remove the attribute. */
export const showValue: Show = (element: Element, value, name) => {
  if (value === null || value === undefined || value === false) element.removeAttribute(name);
  else element.setAttribute(name, value === true ? '' : (value as string));
};

/** A plain attribute value; an object is meant for a property of a custom element. */
export const showPlain: Show = (element: Element, value, name, expression) => {
  if (typeof value !== 'object' || value === null || !setProperty(element, name, value))
    showValue(element as never, value, name, expression);
};

const namespaces: Record<string, string> = {
  xlink: 'http://www.w3.org/1999/xlink',
  xml: 'http://www.w3.org/XML/1998/namespace',
};

/** In SVG and MathML: names with a prefix of HTML §13.2.6.1, adjust foreign attributes. */
export const showPrefixed: Show = (element: Element, value, name) => {
  const [prefix, local] = name.split(':') as [string, string];
  if (value === null || value === undefined || value === false) element.removeAttributeNS(namespaces[prefix]!, local);
  else element.setAttributeNS(namespaces[prefix]!, name, value === true ? '' : String(value));
};

/** A string, a list without its falsy items, or a record of names and conditions. */
export const showClass: Show = (element, value, name, expression) => {
  showPlain(element, typeof value === 'object' && value !== null ? classText(value) : value, name, expression);
};

const styled = new WeakMap<Element, readonly string[]>();

/** Set through CSSOM, which a policy without 'unsafe-inline' allows. In a record, null and false remove a property. */
export const showStyle: Show = (element: Element, value) => {
  const { style } = element as HTMLElement;
  if (typeof value !== 'object' || value === null) {
    style.cssText = asText(value);
    if (style.length === 0) element.removeAttribute('style');
    return;
  }
  const record = value as Record<string, unknown>;
  const names = Object.keys(record).map(cssName);
  for (const name of styled.get(element) ?? []) if (!names.includes(name)) style.removeProperty(name);
  for (const [key, item] of Object.entries(record)) {
    if (item === null || item === undefined || item === false) style.removeProperty(cssName(key));
    else style.setProperty(cssName(key), String(item));
  }
  styled.set(element, names);
};

/** The name of a CSS property as a style sheet writes it. */
export function cssName(key: string): string {
  return key.startsWith('--') ? key : key.replace(/[A-Z]/g, letter => `-${letter.toLowerCase()}`);
}

/** An object as the value of an attribute: sets the property of that name, if the custom element has one. */
function setProperty(element: Element, name: string, value: object): boolean {
  if (!element.localName.includes('-')) return warnObject(element, name, value);
  const property = name.replace(/-([a-z])/g, (_, letter: string) => letter.toUpperCase());
  if (!(property in element)) return warnObject(element, name, value);
  (element as unknown as Record<string, unknown>)[property] = value;
  return true;
}

function warnObject(element: Element, name: string, value: object): false {
  const trusted = Object.prototype.toString.call(value).startsWith('[object Trusted');
  if (__DEV__ && !trusted && !isSignal(value)) {
    console.warn(
      `Warning (odd-value): <${element.localName}>: "${name}" takes text, a number or true or false, and an object came. ` +
        `Using ${JSON.stringify(String(value).slice(0, 60))}. To set a property write <${element.localName} \${{ ${name}: value }}>.`,
    );
  }
  return false;
}

/** Chooses how the values of an attribute are shown. */
export function showFor(name: string, foreign: boolean): Show {
  if (foreign && /^(?:xlink|xml):/.test(name)) return showPrefixed;
  const lower = name.toLowerCase();
  if (lower === 'class') return showClass;
  if (lower === 'style') return showStyle;
  return showPlain;
}

/** An attribute with one expression and no text around it. */
export function bindAttribute(name: string, show: Show): Binder {
  return (node, owner) => new Expression(owner, node, show, name);
}

/** The same for a class or style, whose value may be a list or record. */
export function bindDeepAttribute(name: string, show: Show): Binder {
  return (node, owner) => new DeepExpression(owner, node, show, name);
}

/** The same for an attribute that can run code: each value is checked first. */
export function bindGuardedAttribute(name: string, show: Show, tag: string): Binder {
  return bindAttribute(name, guard(show, tag));
}

/** An attribute whose value has several expressions, or text around one. */
export function bindAttributeText(
  name: string,
  show: Show,
  statics: readonly string[],
  print: (value: unknown) => string = asText,
): Binder {
  return (node, owner) => {
    const pieces: Pieces = new Pieces(statics, node, owner, texts =>
      show(node as never, join(statics, texts, print), name, pieces.expressions[0]!),
    );
    return pieces;
  };
}

/** The same for an attribute that can run code. */
export function bindGuardedAttributeText(name: string, show: Show, tag: string, statics: readonly string[]): Binder {
  return bindAttributeText(name, guard(show, tag), statics);
}

function guard(show: Show, tag: string): Show {
  return (element: Element, given, name, expression) => {
    const value = steady(tag, name, given);
    const reason = danger(tag, name, value);
    if (reason === undefined) return show(element as never, vetted(tag, name, value), name, expression);
    element.removeAttribute(name);
    throw refusal(reason, expression.home, expression.place);
  };
}

/** Development: warns of a name that means nothing. */
export function warnOddName(name: string, tag: string): void {
  const instead = insteadOfAttribute(name, tag);
  if (instead !== undefined)
    warnOnce(
      `Warning (attribute-odd): <${tag}>: "${name}" is set as an attribute of that name, which HTML does not have. ${instead}`,
    );
}

/** The binder of an attribute, resolved once for a template. */
export function attributeBinder(name: string, element: Element, statics: readonly string[]): Binder {
  const show = showFor(name, element.namespaceURI !== 'http://www.w3.org/1999/xhtml');
  const tag = element.localName;
  if (__DEV__) warnOddName(name, tag);
  const alone = statics.length === 2 && !statics[0] && !statics[1];
  if (isGuarded(tag, name))
    return alone ? bindGuardedAttribute(name, show, tag) : bindGuardedAttributeText(name, show, tag, statics);
  if (alone) return (show === showClass || show === showStyle ? bindDeepAttribute : bindAttribute)(name, show);
  return bindAttributeText(name, show, statics, show === showClass ? classText : asText);
}
