import { contract, data, markup, stylesheet } from 'eltrix';
import type { SourceProblem } from '../model.ts';
import { baseStyle } from './base-style.ts';

export class GalleryFault extends contract('gallery-fault', {
  about: 'An error in a source, with an excerpt. It disappears when the source is fixed.',
  properties: { problem: data<SourceProblem | null>(() => null, { about: 'The error; null shows nothing.' }) },
}) {
  static styleSheets = [
    baseStyle,
    stylesheet`
      :host { display: block; padding: 18px 20px; border: 2px solid var(--bad); border-radius: 10px; background: var(--raised); box-shadow: 0 12px 40px #0003; }
      h2 { font-size: var(--body); font-weight: 650; color: var(--bad); overflow-wrap: anywhere; }
      .where { margin-top: 4px; font-size: var(--small); }
      pre { overflow: auto; margin: 12px 0 0; padding: 12px 14px; border-radius: 8px; background: var(--sunken); line-height: 1.6; font-size: 12.5px; }
      .line { display: block; }
      .hit { color: var(--bad); font-weight: 600; }
      .then { margin-top: 10px; font-size: 12px; }
    `,
  ];

  view() {
    return markup`${() => {
      const { problem } = this;
      if (!problem) return null;
      const { message, file, line, column, excerpt } = problem;
      return markup`
        <h2>${message}</h2>
        ${file && markup`<p class="where code">${file}:${line}:${column}</p>`}
        ${excerpt && markup`<pre tabindex="0" role="group" aria-label="Source excerpt">${excerpt.split('\n').map(text => markup`<span class=${['line', /^>|\|\s*\^/.test(text) && 'hit']}>${text}\n</span>`)}</pre>`}
        <p class="then quiet">The last working version is shown until this is fixed and saved.</p>`;
    }}`;
  }
}

GalleryFault.define();

declare global {
  interface HTMLElementTagNameMap {
    'gallery-fault': GalleryFault;
  }
}
