/** `custom-elements.json`, by the community's schema 2.1.0. */
import type { ElementDescription } from './description.ts';

const described = (about: string | undefined) => (about ? { description: about } : {});

export function manifest(elements: readonly ElementDescription[]): object {
  return {
    schemaVersion: '2.1.0',
    readme: 'REFERENCE.md',
    modules: elements.map(element => {
      const path = `${element.tag}.js`;
      return {
        kind: 'javascript-module',
        path,
        declarations: [declaration(element)],
        exports: [
          { kind: 'js', name: element.className, declaration: { name: element.className, module: path } },
          {
            kind: 'custom-element-definition',
            name: element.tag,
            declaration: { name: element.className, module: path },
          },
        ],
      };
    }),
  };
}

function declaration(element: ElementDescription): object {
  const { tag, className, about, properties, methods, events, slots, parts, cssProperties, states, form } = element;
  return {
    kind: 'class',
    customElement: true,
    tagName: tag,
    name: className,
    ...described(about),
    superclass: { name: 'HTMLElement', package: 'global:' },
    attributes: properties
      .filter(({ attribute }) => attribute !== undefined)
      .map(({ name, attribute, type, about, default: value }) => ({
        name: attribute,
        ...described(about),
        type: { text: type },
        ...(value === undefined ? {} : { default: value }),
        fieldName: name,
      })),
    members: [
      ...properties.map(({ name, attribute, type, about, default: value, reflects }) => ({
        kind: 'field',
        name,
        ...described(about),
        type: { text: type },
        ...(value === undefined ? {} : { default: value }),
        ...(attribute === undefined ? {} : { attribute, reflects }),
      })),
      ...methods.map(method =>
        method.isGetter
          ? {
              kind: 'field',
              name: method.name,
              ...described(method.about),
              type: { text: method.returns },
              readonly: true,
            }
          : {
              kind: 'method',
              name: method.name,
              ...described(method.about),
              parameters: parametersOf(method.parameters),
              return: { type: { text: method.returns } },
            },
      ),
      ...(form
        ? ['checkValidity', 'reportValidity'].map(name => ({
            kind: 'method',
            name,
            return: { type: { text: 'boolean' } },
          }))
        : []),
    ],
    events: events.map(({ type, detail, about }) => ({
      name: type,
      ...described(about),
      type: { text: `CustomEvent<${detail}>` },
    })),
    slots: slots.map(({ name, about }) => ({ name, description: about })),
    cssParts: parts.map(({ name, about }) => ({ name, description: about })),
    cssProperties: cssProperties.map(({ name, about }) => ({ name, description: about })),
    cssStates: states.map(({ name, about }) => ({ name, description: about })),
  };
}

/** `(a: number, b?: string)` as the schema has it. */
function parametersOf(text: string): object[] {
  const inner = text.slice(1, -1).trim();
  if (!inner) return [];
  const parts: string[] = [];
  let depth = 0;
  let part = '';
  for (const character of inner) {
    if ('([{<'.includes(character)) depth++;
    else if (')]}>'.includes(character)) depth--;
    if (character === ',' && depth === 0) {
      parts.push(part);
      part = '';
    } else part += character;
  }
  return [...parts, part].map(parameter => {
    const [, rest, name, optional, type] = /^\s*(\.\.\.)?([\w$]+)(\?)?:\s*([^]*)$/.exec(parameter)!;
    return {
      name,
      type: { text: type!.trim() },
      ...(optional ? { optional: true } : {}),
      ...(rest ? { rest: true } : {}),
    };
  });
}
