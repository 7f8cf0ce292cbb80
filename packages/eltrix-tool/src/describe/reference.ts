/** `REFERENCE.md`: a reference page about elements, from their contracts. */
import { type ElementDescription, isCalled } from './description.ts';
import { code, prose } from './markdown.ts';

const cell = (text: string) => text.replaceAll('|', '\\|').replace(/\s+/g, ' ');

function table(heads: readonly string[], rows: readonly (readonly string[])[]): string {
  if (rows.length === 0) return '';
  return [heads, heads.map(() => '---'), ...rows].map(row => `| ${row.map(cell).join(' | ')} |\n`).join('');
}

const section = (title: string, body: string) => (body ? `\n### ${title}\n\n${body}` : '');

/** A description, preceded by a deprecation. */
const said = (about: string | undefined, deprecated: string | undefined) =>
  [deprecated === undefined ? '' : `**Deprecated:** ${prose(deprecated)}.`, prose(about ?? '')]
    .filter(Boolean)
    .join(' ');

/** The part of the page about one element. */
export function reference(element: ElementDescription): string {
  const {
    tag,
    about,
    deprecated,
    properties,
    methods,
    events,
    slots,
    parts,
    cssProperties,
    states,
    semantics = [],
    form,
  } = element;
  const [attributes, others] = [
    properties.filter(({ attribute }) => attribute !== undefined),
    properties.filter(({ attribute }) => attribute === undefined),
  ];
  return [
    `## ${code(`<${tag}>`)}\n`,
    deprecated === undefined ? '' : `\n**Deprecated:** ${prose(deprecated)}.\n`,
    about ? `\n${prose(about)}\n` : '',
    form ? '\nTakes part in forms: `name`, `form`, validity and reset as the standard’s own controls have them.\n' : '',
    section(
      'Attributes',
      table(
        ['attribute', 'property', 'type', 'default', 'about'],
        attributes.map(({ attribute, name, type, default: value, about, deprecated, reflects }) => [
          code(attribute!),
          code(name),
          code(type),
          value === undefined ? '' : code(value),
          `${said(about, deprecated)}${reflects ? '' : ' Assigning the property leaves the attribute alone.'}`.trim(),
        ]),
      ),
    ),
    section(
      'Properties',
      table(
        ['property', 'type', 'about'],
        [
          ...others.map(({ name, type, about, deprecated }) => [code(name), code(type), said(about, deprecated)]),
          ...methods
            .filter(member => !isCalled(member))
            .map(({ name, returns, about }) => [code(name), code(returns), prose(about ?? '')]),
        ],
      ),
    ),
    section(
      'Methods',
      table(
        ['method', 'returns', 'about'],
        methods
          .filter(isCalled)
          .map(({ name, parameters, returns, about }) => [code(name + parameters), code(returns), prose(about ?? '')]),
      ),
    ),
    section(
      'Events',
      table(
        ['event', 'detail', 'about'],
        events.map(({ type, detail, about, deprecated, bubbles, composed, cancelable }) => [
          code(type),
          code(detail),
          [
            said(about, deprecated),
            bubbles ? '' : 'Does not bubble.',
            composed ? '' : 'Stays in its tree.',
            cancelable ? 'Can be cancelled.' : '',
          ]
            .filter(Boolean)
            .join(' '),
        ]),
      ),
    ),
    section(
      'Slots',
      table(
        ['slot', 'about', 'takes'],
        slots.map(({ name, about, deprecated, accepts, required }) => [
          name === '' ? '(default)' : code(name),
          `${said(about, deprecated)}${required ? ' Required.' : ''}`,
          accepts ? code(accepts) : 'anything',
        ]),
      ),
    ),
    ...(
      [
        ['Parts', parts, (name: string) => `::part(${name})`],
        ['Custom properties', cssProperties, (name: string) => name],
        ['States', states, (name: string) => `:state(${name})`],
        ['Semantics', semantics, (name: string) => name],
      ] as const
    ).map(([title, list, print]) =>
      section(
        title,
        table(
          ['name', 'about'],
          list.map(({ name, about }) => [code(print(name)), prose(about)]),
        ),
      ),
    ),
  ].join('');
}

/** The whole page. */
export function referencePage(elements: readonly ElementDescription[]): string {
  return `# Reference\n\n${elements.map(reference).join('\n')}`;
}
