/** `custom-elements.json`, by the community's schema 2.1.0. */
import type { ElementDescription } from './description.ts';
import { formAttributesOf } from './form-attributes.ts';

const described = (about: string | undefined, deprecated?: string) => ({
  ...(about ? { description: about } : {}),
  ...(deprecated === undefined ? {} : { deprecated }),
});

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

/** The schema has no field for roles, so the description names them. */
function withSemantics(about: string | undefined, semantics: ElementDescription['semantics']): string | undefined {
  if (!semantics) return about;
  const text = semantics.map(({ name, about }) => `${name} (${about.replace(/\.$/, '').toLowerCase()})`).join(', ');
  return `${about ? `${about} ` : ''}Default semantics: ${text}.`;
}

function declaration(element: ElementDescription): object {
  const {
    tag,
    className,
    about,
    deprecated,
    properties,
    methods,
    events,
    slots,
    parts,
    cssProperties,
    states,
    semantics,
    form,
  } = element;
  return {
    kind: 'class',
    customElement: true,
    tagName: tag,
    name: className,
    ...described(withSemantics(about, semantics), deprecated),
    superclass: { name: 'HTMLElement', package: 'global:' },
    attributes: [
      ...properties
        .filter(({ attribute }) => attribute !== undefined)
        .map(({ name, attribute, type, about, deprecated, default: value }) => ({
          name: attribute,
          ...described(about, deprecated),
          type: { text: type },
          ...(value === undefined ? {} : { default: value }),
          fieldName: name,
        })),
      ...formAttributesOf(element).map(({ name, type, about }) => ({ name, description: about, type: { text: type } })),
    ],
    members: [
      ...properties.map(({ name, attribute, type, about, deprecated, default: value, reflects }) => ({
        kind: 'field',
        name,
        ...described(about, deprecated),
        type: { text: type },
        ...(value === undefined ? {} : { default: value }),
        ...(attribute === undefined ? {} : { attribute, reflects }),
      })),
      ...methods.map(({ name, about, list, returns, kind, isStatic }) => {
        const common = { name, ...described(about), ...(isStatic ? { static: true } : {}) };
        return kind === 'method'
          ? {
              kind: 'method',
              ...common,
              parameters: (list ?? []).map(({ name, type, optional, rest }) => ({
                name,
                type: { text: type },
                ...(optional ? { optional } : {}),
                ...(rest ? { rest } : {}),
              })),
              return: { type: { text: returns } },
            }
          : { kind: 'field', ...common, type: { text: returns }, ...(kind === 'reads' ? { readonly: true } : {}) };
      }),
      ...(form
        ? ['checkValidity', 'reportValidity'].map(name => ({
            kind: 'method',
            name,
            return: { type: { text: 'boolean' } },
          }))
        : []),
    ],
    events: events.map(({ type, detail, about, deprecated }) => ({
      name: type,
      ...described(about, deprecated),
      type: { text: `CustomEvent<${detail}>` },
    })),
    slots: slots.map(({ name, about, deprecated }) => ({ name, ...described(about, deprecated) })),
    cssParts: parts.map(({ name, about }) => ({ name, description: about })),
    cssProperties: cssProperties.map(({ name, about }) => ({ name, description: about })),
    cssStates: states.map(({ name, about }) => ({ name, description: about })),
  };
}
