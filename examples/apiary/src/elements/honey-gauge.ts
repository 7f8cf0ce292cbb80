import { contract, decimal, markup, stylesheet } from 'eltrix';

/** How full something is, drawn. */
export class HoneyGauge extends contract('honey-gauge', {
  about: 'How much honey there is, drawn as a filling cell.',
  attributes: {
    value: decimal({ about: 'Kilograms of honey.' }),
    max: decimal({ default: 30, about: 'Kilograms when it is full.' }),
  },
  cssProperties: { '--honey-colour': 'Colour of the honey.' },
  parts: { cell: 'The drawing.' },
}) {
  static styleSheets = [
    stylesheet`
      :host { display: inline-block; width: 64px; }
      svg { display: block; width: 100%; }
      .wall { fill: none; stroke: light-dark(#8a7a55, #b7a984); stroke-width: 3; stroke-linejoin: round; }
      .honey { fill: var(--honey-colour, #e2a21b); }
    `,
  ];

  view() {
    return markup`
      <svg viewBox="0 0 64 72" part="cell" role="img" aria-label=${() => `${this.value.toFixed(1)} of ${this.max} kg`}>
        <clipPath id="cell"><path d="M32 3 61 19v34L32 69 3 53V19z"></path></clipPath>
        <rect class="honey" clip-path="url(#cell)" x="0" width="64" y=${() => 72 - this.filled} height=${() => this.filled}></rect>
        <path class="wall" d="M32 3 61 19v34L32 69 3 53V19z"></path>
      </svg>`;
  }

  /** The height of the honey in the drawing. */
  get filled(): number {
    return Math.round(72 * Math.min(1, Math.max(0, this.value / (this.max || 1))));
  }
}

HoneyGauge.define();

declare global {
  interface HTMLElementTagNameMap {
    'honey-gauge': HoneyGauge;
  }
}
