import { currentPlace, Hole, type Owner } from './hole.ts';
import { danger, isGuarded, refusal, vetted } from './safety.ts';
import { type Binder, keepHole } from './template.ts';
import { asText, join, Pieces } from './text-hole.ts';

/** How an attribute's value is shown. */
type Show = (element: Element, name: string, value: unknown) => void;

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
    this.display(this.element, this.name, value);
    this.last = value;
  }
}

/** String or number sets it, true sets it empty, false, null and undefined remove it. */
const showPlain: Show = (element, name, value) => {
  if (value === null || value === undefined || value === false) element.removeAttribute(name);
  else if (typeof value === 'object' && setProperty(element, name, value)) return;
  else element.setAttribute(name, value === true ? '' : (value as string));
};

const namespaces: Record<string, string> = {
  xlink: 'http://www.w3.org/1999/xlink',
  xml: 'http://www.w3.org/XML/1998/namespace',
};

/** In SVG and MathML: names with a prefix of HTML §13.2.6.1, adjust foreign attributes. */
const showPrefixed: Show = (element, name, value) => {
  const [prefix, local] = name.split(':') as [string, string];
  if (value === null || value === undefined || value === false) element.removeAttributeNS(namespaces[prefix]!, local);
  else element.setAttributeNS(namespaces[prefix]!, name, value === true ? '' : String(value));
};

/** Text, a list whose falsy items do not count, or a record of names and conditions. */
const showClass: Show = (element, name, value) => {
  showPlain(element, name, typeof value === 'object' && value !== null ? classText(value) : value);
};

export function classText(value: unknown): string {
  if (Array.isArray(value)) return value.map(classText).filter(Boolean).join(' ');
  if (typeof value === 'object' && value !== null) {
    const record = value as Record<string, unknown>;
    return Object.keys(record)
      .filter(key => record[key])
      .join(' ');
  }
  return asText(value);
}

const styled = new WeakMap<Element, readonly string[]>();

/** Through CSSOM, which a policy without 'unsafe-inline' allows. In a record, null and false take a property away. */
const showStyle: Show = (element, _name, value) => {
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

function cssName(key: string): string {
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

function showFor(name: string): Show {
  const lower = name.toLowerCase();
  if (lower === 'class') return showClass;
  if (lower === 'style') return showStyle;
  return showPlain;
}

/** An attribute with one hole or several, resolved once for its template. */
export function attributeBinder(name: string, element: Element, statics: readonly string[]): Binder {
  const foreign = element.namespaceURI !== 'http://www.w3.org/1999/xhtml';
  const plain = foreign && /^(?:xlink|xml):/.test(name) ? showPrefixed : showFor(name);
  const { localName } = element;
  const guarded = isGuarded(localName, name);
  if (statics.length === 2 && !statics[0] && !statics[1]) {
    if (!guarded) {
      return (node, values, at, owner, renewable) =>
        keepHole(new AttributeHole(owner, node as Element, name, plain), values[at], renewable);
    }
    return (node, values, at, owner, renewable) => {
      const place = currentPlace();
      const show: Show = (element, name, value) => {
        const reason = danger(localName, name, value);
        if (reason === undefined) return plain(element, name, vetted(localName, name, value));
        element.removeAttribute(name);
        throw refusal(reason, owner, place);
      };
      return keepHole(new AttributeHole(owner, node as Element, name, show), values[at], renewable);
    };
  }
  const print = name.toLowerCase() === 'class' ? classText : asText;
  return (node, values, at, owner) => {
    const place = currentPlace();
    const target = node as Element;
    return new Pieces(statics, texts => {
      const text = join(statics, texts, print);
      const reason = guarded ? danger(localName, name, text) : undefined;
      if (reason === undefined) return plain(target, name, guarded ? vetted(localName, name, text) : text);
      target.removeAttribute(name);
      throw refusal(reason, owner, place);
    }).begin(values, at, owner);
  };
}
