/** `html-data.json`: HTML custom data, version 1.1, for completion and hover in editors. */
import type { ElementDescription, PropertyDescription } from './description.ts';
import { formAttributesOf } from './form-attributes.ts';
import { code, prose } from './markdown.ts';

export function editorData(elements: readonly ElementDescription[]): object {
  return {
    version: 1.1,
    tags: elements.map(element => ({
      name: element.tag,
      description: { kind: 'markdown', value: tagText(element) },
      attributes: [
        ...element.properties
          .filter(({ attribute }) => attribute !== undefined)
          .map(property => ({
            name: property.attribute,
            description: { kind: 'markdown', value: attributeText(property) },
            ...(property.kind === 'flag' ? { valueSet: 'v' } : {}),
            ...(property.values.length > 0 ? { values: property.values.map(name => ({ name })) } : {}),
          })),
        ...formAttributesOf(element).map(({ name, type, about }) => ({
          name,
          description: { kind: 'markdown', value: about },
          ...(type === 'boolean' ? { valueSet: 'v' } : {}),
        })),
      ],
    })),
  };
}

const old = (deprecated: string | undefined) =>
  deprecated === undefined ? '' : `**Deprecated:** ${prose(deprecated)}`;

/** The hover text of a tag: description, slots and events, as Markdown. */
export function tagText({ about, deprecated, slots, events }: ElementDescription): string {
  const list = (head: string, items: string[]) => (items.length > 0 ? `\n\n${head}\n${items.join('\n')}` : '');
  return [
    [old(deprecated), prose(about ?? '')].filter(Boolean).join('\n\n'),
    list(
      '**Slots**',
      slots.map(({ name, about }) => `- ${name === '' ? '(default)' : code(name)}: ${prose(about)}`),
    ),
    list(
      '**Events**',
      events.map(({ type, about }) => `- ${code(type)}${about ? `: ${prose(about)}` : ''}`),
    ),
  ]
    .join('')
    .trim();
}

function attributeText({ about, deprecated, type, default: value }: PropertyDescription): string {
  return [old(deprecated), prose(about ?? ''), `${code(type)}${value === undefined ? '' : `, default ${code(value)}`}`]
    .filter(Boolean)
    .join('\n\n');
}
