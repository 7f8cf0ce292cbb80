import { state } from '../signals/state.ts';
import { asText } from './as-text.ts';
import { classText } from './class-text.ts';
import { currentPlace, Hole, keepHole } from './hole.ts';
import { danger, isGuarded, refusal, steady, vetted } from './safety.ts';
import type { Binder, Owner } from './template.ts';
import { join, Pieces } from './text-hole.ts';

/** How an attribute's value is shown. */
export type Show = (element: Element, name: string, value: unknown) => void;

class AttributeHole extends Hole {
  last: unknown = undefined;

  constructor(
    owner: Owner,
    readonly element: Element,
    readonly name: string,
    readonly display: Show,
  ) {
    super(owner);
  }

  apply(value: unknown): void {
    // A fresh copy has no such attribute: what takes it away has nothing to do.
    if (
      value === this.last ? typeof value !== 'object' : this.last === undefined && (value === false || value === null)
    )
      return;
    // Also of a value that is refused: the attribute is gone, and any other value is a new one.
    this.last = value;
    this.display(this.element, this.name, value);
  }
}

/** For a class or style that may be a list or record: changes inside a `live` one concern it. */
class DeepAttributeHole extends AttributeHole {
  override read(fn: () => unknown): unknown {
    const readLive = state.graph?.readLive;
    return super.read(readLive === undefined ? fn : () => readLive(fn()));
  }
}

/** String or number sets it, true sets it empty, false, null and undefined remove it. */
export const showValue: Show = (element, name, value) => {
  if (value === null || value === undefined || value === false) element.removeAttribute(name);
  else element.setAttribute(name, value === true ? '' : (value as string));
};

/** As a value; an object is meant for a property of a custom element. */
export const showPlain: Show = (element, name, value) => {
  if (typeof value !== 'object' || value === null || !setProperty(element, name, value))
    showValue(element, name, value);
};

const namespaces: Record<string, string> = {
  xlink: 'http://www.w3.org/1999/xlink',
  xml: 'http://www.w3.org/XML/1998/namespace',
};

/** In SVG and MathML: names with a prefix of HTML §13.2.6.1, adjust foreign attributes. */
export const showPrefixed: Show = (element, name, value) => {
  const [prefix, local] = name.split(':') as [string, string];
  if (value === null || value === undefined || value === false) element.removeAttributeNS(namespaces[prefix]!, local);
  else element.setAttributeNS(namespaces[prefix]!, name, value === true ? '' : String(value));
};

/** Text, a list whose falsy items do not count, or a record of names and conditions. */
export const showClass: Show = (element, name, value) => {
  showPlain(element, name, typeof value === 'object' && value !== null ? classText(value) : value);
};

const styled = new WeakMap<Element, readonly string[]>();

/** Through CSSOM, which a policy without 'unsafe-inline' allows. In a record, null and false take a property away. */
export const showStyle: Show = (element, _name, value) => {
  const { style } = element as HTMLElement;
  if (typeof value !== 'object' || value === null) {
    style.cssText = asText(value);
    if (style.length === 0) element.removeAttribute('style');
    return;
  }
  const record = value as Record<string, unknown>;
  const names = Object.keys(record).map(cssName);
  for (const name of styled.get(element) ?? []) if (!names.includes(name)) style.removeProperty(name);
  for (const [i, item] of Object.values(record).entries()) {
    if (item === null || item === undefined || item === false) style.removeProperty(names[i]!);
    else style.setProperty(names[i]!, String(item));
  }
  styled.set(element, names);
};

/** A property of CSS as a style sheet writes it. */
export function cssName(key: string): string {
  return key.startsWith('--') ? key : key.replace(/[A-Z]/g, letter => `-${letter.toLowerCase()}`);
}

/** An object on an attribute of a custom element that has a property of the name: the property is meant. */
function setProperty(element: Element, name: string, value: object): boolean {
  if (!element.localName.includes('-')) return warnObject(element, name, value);
  const property = name.replace(/-([a-z])/g, (_, letter: string) => letter.toUpperCase());
  if (!(property in element)) return warnObject(element, name, value);
  (element as unknown as Record<string, unknown>)[property] = value;
  return true;
}

function warnObject(element: Element, name: string, value: object): false {
  const trusted = Object.prototype.toString.call(value).startsWith('[object Trusted');
  if (__DEV__ && !trusted) {
    console.warn(
      `Warning (odd-value): <${element.localName}>: "${name}" takes text, a number or true or false, and an object came. ` +
        `Using ${JSON.stringify(String(value).slice(0, 60))}. To set a property write <${element.localName} \${{ ${name}: value }}>.`,
    );
  }
  return false;
}

/** Which of the ways an attribute is shown in. */
export function showFor(name: string, foreign: boolean): Show {
  if (foreign && /^(?:xlink|xml):/.test(name)) return showPrefixed;
  const lower = name.toLowerCase();
  if (lower === 'class') return showClass;
  if (lower === 'style') return showStyle;
  return showPlain;
}

/** An attribute with one hole and nothing beside it. */
export function bindAttribute(name: string, show: Show): Binder {
  return (node, values, at, owner, renewable) =>
    keepHole(new AttributeHole(owner, node as Element, name, show), values[at], renewable);
}

/** The same for a class or style that may be a list or record. */
export function bindDeepAttribute(name: string, show: Show): Binder {
  return (node, values, at, owner, renewable) =>
    keepHole(new DeepAttributeHole(owner, node as Element, name, show), values[at], renewable);
}

/** The same where a value could act: it is looked at first. */
export function bindGuardedAttribute(name: string, show: Show, tag: string): Binder {
  return (node, values, at, owner, renewable) => {
    const guarded = guard(name, show, tag, owner);
    return keepHole(new AttributeHole(owner, node as Element, name, guarded), values[at], renewable);
  };
}

/** An attribute whose value has several holes, or text around one. */
export function bindAttributeText(
  name: string,
  show: Show,
  statics: readonly string[],
  print: (value: unknown) => string = asText,
): Binder {
  return (node, values, at, owner) =>
    new Pieces(statics, texts => show(node as Element, name, join(statics, texts, print))).begin(values, at, owner);
}

/** The same where the whole value could act. */
export function bindGuardedAttributeText(name: string, show: Show, tag: string, statics: readonly string[]): Binder {
  return (node, values, at, owner) =>
    bindAttributeText(name, guard(name, show, tag, owner), statics)(node, values, at, owner, false);
}

function guard(name: string, show: Show, tag: string, owner: Owner): Show {
  const place = currentPlace();
  return (element, _, given) => {
    const value = steady(tag, name, given);
    const reason = danger(tag, name, value);
    if (reason === undefined) return show(element, name, vetted(tag, name, value));
    element.removeAttribute(name);
    throw refusal(reason, owner, place);
  };
}

/** An attribute with one hole or several, resolved once for its template. */
export function attributeBinder(name: string, element: Element, statics: readonly string[]): Binder {
  const show = showFor(name, element.namespaceURI !== 'http://www.w3.org/1999/xhtml');
  const tag = element.localName;
  const alone = statics.length === 2 && !statics[0] && !statics[1];
  if (isGuarded(tag, name))
    return alone ? bindGuardedAttribute(name, show, tag) : bindGuardedAttributeText(name, show, tag, statics);
  if (alone) return (show === showClass || show === showStyle ? bindDeepAttribute : bindAttribute)(name, show);
  return bindAttributeText(name, show, statics, show === showClass ? classText : asText);
}
