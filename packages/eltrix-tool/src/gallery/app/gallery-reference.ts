import { contract, data, markup, stylesheet } from 'eltrix';
import { type ElementDescription, isCalled } from '../../describe/description.ts';
import { baseStyle } from './base-style.ts';

type Row = readonly (string | undefined)[];

export class GalleryReference extends contract('gallery-reference', {
  about: 'Everything that an element declares, as tables.',
  properties: {
    element: data<ElementDescription | undefined>(() => undefined, { about: 'The description of the element.' }),
  },
}) {
  static styleSheets = [
    baseStyle,
    stylesheet`
      :host { display: block; container-type: inline-size; }
      h3 { margin: 20px 0 6px; font-size: var(--small); font-weight: 650; }
      .scroll { overflow-x: auto; }
      table { width: 100%; min-width: 520px; border-collapse: collapse; font-size: var(--small); line-height: 1.45; }
      th { padding: 4px 12px 4px 0; font-size: 12px; font-weight: 600; text-align: start; color: var(--muted); }
      td { padding: 6px 12px 6px 0; border-top: 1px solid var(--line); vertical-align: top; }
      td:first-child { font-weight: 600; white-space: nowrap; }
    `,
  ];

  get tables(): { title: string; heads: readonly string[]; rows: readonly Row[] }[] {
    const { element } = this;
    if (!element) return [];
    const { properties, methods, events, slots, parts, cssProperties, states, semantics = [] } = element;
    return [
      {
        title: 'Attributes and properties',
        heads: ['attribute', 'property', 'type', 'default', 'about'],
        rows: [
          ...properties.map(
            ({ attribute, name, type, default: value, about }): Row => [
              attribute ?? '–',
              name,
              type,
              value ?? '',
              about,
            ],
          ),
          ...methods
            .filter(member => !isCalled(member))
            .map(({ name, returns, about }): Row => ['–', name, returns, '', about]),
        ],
      },
      {
        title: 'Methods',
        heads: ['method', 'returns', 'about'],
        rows: methods
          .filter(isCalled)
          .map(({ name, parameters, returns, about }) => [name + parameters, returns, about]),
      },
      {
        title: 'Events',
        heads: ['event', 'detail', 'about'],
        rows: events.map(({ type, detail, about, bubbles, composed, cancelable }) => [
          type,
          detail,
          [about, !bubbles && 'Does not bubble.', !composed && 'Stays in its tree.', cancelable && 'Can be cancelled.']
            .filter(Boolean)
            .join(' '),
        ]),
      },
      {
        title: 'Slots',
        heads: ['slot', 'takes', 'about'],
        rows: slots.map(({ name, accepts, required, about }) => [
          name || '(default)',
          accepts ?? 'anything',
          `${about}${required ? ' Required.' : ''}`,
        ]),
      },
      ...(
        [
          ['Parts', parts, (name: string) => `::part(${name})`],
          ['Custom properties', cssProperties, (name: string) => name],
          ['States', states, (name: string) => `:state(${name})`],
          ['Semantics', semantics, (name: string) => name],
        ] as const
      ).map(([title, list, print]) => ({
        title,
        heads: ['name', 'about'],
        rows: list.map(({ name, about }) => [print(name), about]),
      })),
    ].filter(({ rows }) => rows.length > 0);
  }

  view() {
    return markup`${() =>
      this.tables.map(
        ({ title, heads, rows }) => markup`
          <h3>${title}</h3>
          <div class="scroll"><table aria-label=${title}>
            <thead><tr>${heads.map(head => markup`<th scope="col">${head}</th>`)}</tr></thead>
            <tbody>${rows.map(
              row =>
                markup`<tr>${row.map(
                  (cell, at) =>
                    markup`<td>${at < row.length - 1 && cell ? markup`<code>${cell}</code>` : (cell ?? '')}</td>`,
                )}</tr>`,
            )}</tbody>
          </table></div>`,
      )}`;
  }
}

GalleryReference.define();

declare global {
  interface HTMLElementTagNameMap {
    'gallery-reference': GalleryReference;
  }
}
