import { contract, data, each, markup, stylesheet } from 'eltrix';
import type { GalleryEntry } from '../model.ts';
import { baseStyle } from './base-style.ts';
import './gallery-plate.ts';

export class GalleryWall extends contract('gallery-wall', {
  about: 'An overview of all elements, each with its first specimen.',
  properties: { elements: data<readonly GalleryEntry[]>(() => [], { about: 'All elements.' }) },
}) {
  static styleSheets = [
    baseStyle,
    stylesheet`
      :host { display: block; }
      ul { display: grid; grid-template-columns: repeat(auto-fill, minmax(min(100%, 290px), 1fr)); gap: 20px; }
      li { position: relative; display: flex; flex-direction: column; overflow: hidden; border: 1px solid var(--line); border-radius: 10px; background: var(--raised); }
      li:hover, li:focus-within { border-color: var(--accent); }
      .text { flex: 1; padding: 12px 14px 14px; border-top: 1px solid var(--line); }
      a { font-family: var(--mono); font-size: var(--body); font-weight: 650; text-decoration: none; overflow-wrap: anywhere; }
      a::after { content: ''; position: absolute; inset: 0; }
      a:focus-visible { outline: none; }
      a:focus-visible::after { outline: 2px solid var(--accent); outline-offset: -3px; border-radius: 10px; }
      p { margin-top: 4px; font-size: var(--small); line-height: 1.45; color: var(--muted); }
    `,
  ];

  view() {
    return markup`<ul>${each(
      () => this.elements,
      ({ tag }) => tag,
      entry => markup`
        <li>
          <gallery-plate bare aria-hidden="true" tag=${() => entry().tag} specimen=${() => entry().specimens[0]?.slug ?? ''} heading=${() => entry().tag}></gallery-plate>
          <div class="text">
            <a href=${() => `#/${entry().tag}`}>${() => entry().tag}</a>
            <p>${() => entry().about ?? 'No description.'}</p>
          </div>
        </li>`,
    )}</ul>`;
  }
}

GalleryWall.define();

declare global {
  interface HTMLElementTagNameMap {
    'gallery-wall': GalleryWall;
  }
}
