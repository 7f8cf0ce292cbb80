/** TypeScript declarations of built elements: classes, tag map, typed events, and JSX types. */
import type { ElementDescription, MethodDescription, PropertyDescription } from './description.ts';
import { formAttributesOf } from './form-attributes.ts';
import { renameTypes } from './type-names.ts';

const doc = (about: string | undefined, indent = '', deprecated?: string): string => {
  const text = [about ?? '', deprecated === undefined ? '' : `@deprecated ${deprecated}`].filter(Boolean).join(' ');
  const lines = text.replaceAll('*/', '*\\/').split('\n');
  if (lines.length > 1)
    return `${indent}/**\n${lines.map(line => `${indent} * ${line}`.trimEnd()).join('\n')}\n${indent} */\n`;
  return text ? `${indent}/** ${lines[0]} */\n` : '';
};
const key = (name: string): string => (/^[A-Za-z_$][\w$]*$/.test(name) ? name : JSON.stringify(name));

function property({ name, type, about, deprecated, kind }: PropertyDescription): string {
  if (kind !== 'tokens') return `${doc(about, '  ', deprecated)}  ${key(name)}: ${type};\n`;
  return `${doc(about, '  ', deprecated)}  get ${key(name)}(): ${type};\n  set ${key(name)}(value: string | ${type});\n`;
}

function member({ name, about, comment, parameters, returns, accepts, kind, isStatic }: MethodDescription): string {
  const text = doc(comment ?? about, '  ');
  const word = isStatic ? 'static ' : '';
  if (accepts !== undefined)
    return `${text}  ${word}get ${key(name)}(): ${returns};\n  ${word}set ${key(name)}(value: ${accepts});\n`;
  return `${text}  ${word}${kind === 'reads' ? 'readonly ' : ''}${key(name)}${parameters}: ${returns};\n`;
}

/** The name of the class's interface for events. */
const eventMap = ({ className }: ElementDescription): string => `${className}EventMap`;

/** `hive-card.d.ts`. */
export function elementDeclarations(element: ElementDescription): string {
  const { className, tag, about, deprecated, properties, methods, events, types, form, extends: extended } = element;
  const Base = (extended && builtIns[extended]) ?? 'HTMLElement';
  const map = eventMap(element);
  const imports = types.filter(({ name }) => name === '').map(({ code }) => `${code}\n`);
  const own = types.filter(({ name }) => name !== '').map(({ code }) => `${code}\n\n`);
  const listeners = ['add', 'remove'].map(
    verb => `  ${verb}EventListener<K extends keyof ${map}>(
    type: K,
    listener: (this: ${className}, event: ${map}[K]) => unknown,
    options?: boolean | ${verb === 'add' ? 'AddEventListenerOptions' : 'EventListenerOptions'},
  ): void;
  ${verb}EventListener(
    type: string,
    listener: EventListenerOrEventListenerObject,
    options?: boolean | ${verb === 'add' ? 'AddEventListenerOptions' : 'EventListenerOptions'},
  ): void;
`,
  );
  return [
    ...imports,
    imports.length ? '\n' : '',
    ...own,
    `/** The events of \`<${tag}>\`, besides those of every element. */\n`,
    `export interface ${map} extends HTMLElementEventMap {\n`,
    ...events.map(
      ({ type, detail, about, deprecated }) =>
        `${doc(about, '  ', deprecated)}  ${JSON.stringify(type)}: CustomEvent<${detail}>;\n`,
    ),
    '}\n\n',
    doc(about, '', deprecated),
    `export declare class ${className} extends ${Base} {\n`,
    '  /** Registers the class. A second call does nothing. */\n',
    `  static define(tag?: string, registry?: CustomElementRegistry): typeof ${className};\n`,
    ...properties.map(property),
    ...methods.map(member),
    form ? formMembers : '',
    ...listeners,
    '}\n\n',
    extended === undefined
      ? `declare global {\n  interface HTMLElementTagNameMap {\n    ${JSON.stringify(tag)}: ${className};\n  }\n}\n`
      : // Its tag is that of the built-in element, and `is` distinguishes it.
        `declare global {\n  interface Document {\n    createElement(tagName: ${JSON.stringify(extended)}, options: { is: ${JSON.stringify(tag)} }): ${className};\n  }\n}\n`,
  ].join('');
}

const formMembers = `  readonly form: HTMLFormElement | null;
  readonly labels: NodeList;
  readonly validity: ValidityState;
  readonly validationMessage: string;
  readonly willValidate: boolean;
  checkValidity(): boolean;
  reportValidity(): boolean;
`;

const builtIns: Readonly<Record<string, string>> = {
  a: 'HTMLAnchorElement',
  button: 'HTMLButtonElement',
  dialog: 'HTMLDialogElement',
  div: 'HTMLDivElement',
  form: 'HTMLFormElement',
  img: 'HTMLImageElement',
  input: 'HTMLInputElement',
  label: 'HTMLLabelElement',
  li: 'HTMLLIElement',
  ol: 'HTMLOListElement',
  option: 'HTMLOptionElement',
  p: 'HTMLParagraphElement',
  select: 'HTMLSelectElement',
  span: 'HTMLSpanElement',
  table: 'HTMLTableElement',
  tbody: 'HTMLTableSectionElement',
  td: 'HTMLTableCellElement',
  textarea: 'HTMLTextAreaElement',
  tr: 'HTMLTableRowElement',
  ul: 'HTMLUListElement',
};

/** `all.d.ts`. */
export function allDeclarations(elements: readonly ElementDescription[]): string {
  return elements
    .map(({ className, tag }) => `export { ${className}, type ${className}EventMap } from './${tag}.js';\n`)
    .join('');
}

/** The JSX properties of an element: attributes and properties, and `on…` for its events. */
function jsxProperties(element: ElementDescription): string {
  const { properties, events } = element;
  const own = properties.map(({ name, type, kind, about, deprecated }) => {
    const taken = kind === 'tokens' ? 'string' : type;
    return `${doc(about, '  ', deprecated)}  ${key(name)}?: ${taken} | undefined;\n`;
  });
  const dashed = properties
    .filter(({ name, attribute }) => attribute !== undefined && attribute !== name)
    .map(
      ({ attribute, kind, type }) =>
        `  ${key(attribute!)}?: ${kind === 'flag' ? 'boolean' : /^(?:data|live|json|custom|tokens)$/.test(kind) ? 'string' : type} | undefined;\n`,
    );
  const field = formAttributesOf(element).map(
    ({ name, type, about }) => `${doc(about, '  ')}  ${name}?: ${type} | undefined;\n`,
  );
  const listeners = events.map(
    ({ type, detail, about, deprecated }) =>
      `${doc(about, '  ', deprecated)}  ${JSON.stringify(`on${type}`)}?: ((event: CustomEvent<${detail}>) => void) | undefined;\n`,
  );
  return [...own, ...dashed, ...field, ...listeners].join('');
}

/**
 * Types with the same name in several elements: equal ones are imported once, different ones under separate names.
 * `named` prints an element's properties with the resulting names.
 */
function namedOnce(elements: readonly ElementDescription[]): {
  readonly types: readonly string[];
  named(element: ElementDescription, text: string): string;
} {
  const codes = new Map<string, string>();
  const renamed = new Map<ElementDescription, Map<string, string>>();
  const types = elements.flatMap(element => {
    const imported = element.types.flatMap(({ name, code }) => {
      if (name === '' || codes.get(name) === code) return [];
      if (!codes.has(name)) {
        codes.set(name, code);
        return [name];
      }
      const own = `${element.className}${name}`;
      renamed.set(element, (renamed.get(element) ?? new Map()).set(name, own));
      return [`${name} as ${own}`];
    });
    return imported.length > 0 ? [`import type { ${imported.join(', ')} } from './${element.tag}.js';\n`] : [];
  });
  return {
    types,
    named: (element, text) => {
      const names = renamed.get(element);
      return names ? renameTypes(text, names) : text;
    },
  };
}

/** `react.d.ts` and `preact.d.ts`: the elements as JSX tags. */
export function jsxDeclarations(elements: readonly ElementDescription[], host: 'react' | 'preact'): string {
  const classes = elements.map(({ className, tag }) => `import type { ${className} } from './${tag}.js';\n`);
  const { types, named } = namedOnce(elements);
  const packages = new Set(
    elements.flatMap(({ types }) => types.filter(({ name }) => name === '').map(({ code }) => `${code}\n`)),
  );
  const base = (className: string) =>
    host === 'react'
      ? `import('react').DetailedHTMLProps<import('react').HTMLAttributes<${className}>, ${className}>`
      : `import('preact').ComponentProps<'div'>`;
  const ref = (className: string) =>
    host === 'react' ? '' : ` & { ref?: import('preact').Ref<${className}> | undefined }`;
  const without = host === 'react' ? '' : " | 'ref'";
  const properties = elements.map(
    element =>
      `/** The properties of \`<${element.tag}>\` in JSX. */\nexport interface ${element.className}Properties {\n${named(element, jsxProperties(element))}}\n\n`,
  );
  // JSX uses the tag of the built-in element for a customized one, with its types.
  const own = elements.filter(element => element.extends === undefined);
  const tags = own.map(
    ({ className, tag }) =>
      `      ${JSON.stringify(tag)}: Omit<${base(className)}, keyof ${className}Properties${without}> & ${className}Properties${ref(className)};\n`,
  );
  const used = new Set<string>();
  const uniqueTypes = types.filter(line => {
    const fresh = !used.has(line);
    used.add(line);
    return fresh;
  });
  return [
    ...classes,
    ...uniqueTypes,
    ...packages,
    '\n',
    ...properties,
    `declare module '${host}' {\n  namespace JSX {\n    interface IntrinsicElements {\n`,
    ...tags,
    '    }\n  }\n}\n',
  ].join('');
}
