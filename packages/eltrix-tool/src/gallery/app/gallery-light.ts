import { contract, data, event, markup, stylesheet } from 'eltrix';
import type { Circumstances } from '../model.ts';
import { freshCircumstances } from './address.ts';
import { baseStyle } from './base-style.ts';

const widths = [
  { width: 0, title: 'Full' },
  { width: 800, title: '800' },
  { width: 400, title: '400' },
  { width: 280, title: '280' },
];
const schemes = ['system', 'light', 'dark'] as const;
const switches = [
  { key: 'rtl', title: 'Right to left' },
  { key: 'calm', title: 'Reduced motion' },
  { key: 'forced', title: 'Forced colours' },
] as const;

export class GalleryLight extends contract('gallery-light', {
  about: 'Settings for all specimens: width, colours, direction, user settings.',
  properties: { circumstances: data<Circumstances>(freshCircumstances, { about: 'The settings.' }) },
  events: { 'light-change': event<Partial<Circumstances>>({ about: 'The user changed a setting.' }) },
}) {
  static styleSheets = [
    baseStyle,
    stylesheet`
      :host { display: flex; flex-wrap: wrap; gap: 8px 18px; align-items: center; }
      .group { display: flex; flex-wrap: wrap; gap: 4px; align-items: center; }
      .title { margin-inline-end: 4px; font-size: 12px; color: var(--muted); }
    `,
  ];

  view() {
    const button = (title: string, on: () => boolean, part: () => Partial<Circumstances>) =>
      markup`<button type="button" class="button" aria-pressed=${() => String(on())} onclick=${() => this.emit('light-change', part())}>${title}</button>`;
    return markup`
      <div class="group" role="group" aria-label="Width"><span class="title">Width</span>${widths.map(
        ({ width, title }) =>
          button(
            title,
            () => this.circumstances.width === width,
            () => ({ width }),
          ),
      )}</div>
      <div class="group" role="group" aria-label="Colours"><span class="title">Colours</span>${schemes.map(scheme =>
        button(
          scheme,
          () => this.circumstances.scheme === scheme,
          () => ({ scheme }),
        ),
      )}</div>
      <div class="group" role="group" aria-label="User settings"><span class="title">User settings</span>${switches.map(
        ({ key, title }) =>
          button(
            title,
            () => this.circumstances[key],
            () => ({ [key]: !this.circumstances[key] }),
          ),
      )}${button(
        'Text 200 %',
        () => this.circumstances.text === 200,
        () => ({ text: this.circumstances.text === 200 ? 100 : 200 }),
      )}</div>`;
  }
}

GalleryLight.define();

declare global {
  interface HTMLElementTagNameMap {
    'gallery-light': GalleryLight;
  }
}
