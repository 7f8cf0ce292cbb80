import { scaleBand, scaleLinear } from 'd3-scale';
import { area, curveMonotoneX, line } from 'd3-shape';
import { contract, data, markup, stylesheet, text } from 'eltrix';
import { watchSize } from 'eltrix/behaviours';

export interface Yield {
  readonly label: string;
  /** Kilograms. */
  readonly kilograms: number;
}

const height = 180;
const edge = { top: 14, right: 12, bottom: 26, left: 40 } as const;

/** Honey over time, drawn as wide as there is room. */
export class YieldChart extends contract('yield-chart', {
  about: 'Honey over time, drawn as wide as there is room.',
  attributes: { caption: text({ about: 'What it shows.' }) },
  properties: { yields: data<readonly Yield[]>(() => [], { about: 'From the first to the last.' }) },
  parts: { chart: 'The drawing.' },
}) {
  static styleSheets = [
    stylesheet`
      :host { display: block; }
      :host([hidden]) { display: none; }
      figure { margin: 0; }
      figcaption { margin-bottom: 4px; font-size: 0.9rem; color: light-dark(#6b6454, #b3ab98); }
      svg { display: block; width: 100%; height: 180px; overflow: visible; font-size: 11px; }
      text { fill: light-dark(#6b6454, #b3ab98); }
      .grid { stroke: light-dark(#e4ddcd, #3b372e); }
      .line { fill: none; stroke: light-dark(#a86a00, #f3c14b); stroke-width: 2; }
      .area { fill: light-dark(#e2a21b33, #f3c14b26); }
      .point { fill: light-dark(#a86a00, #f3c14b); }
    `,
  ];

  readonly #size = watchSize(this);

  view() {
    return markup`
      <figure>
        <figcaption>${() => this.caption}</figcaption>
        <svg part="chart" role="img" height=${height} aria-label=${() => this.words}>${() => this.drawing()}</svg>
      </figure>`;
  }

  get words(): string {
    if (this.yields.length === 0) return `${this.caption || 'Honey'}: nothing yet`;
    return `${this.caption || 'Honey'}: ${this.yields.map(({ label, kilograms }) => `${label} ${kilograms.toFixed(0)} kg`).join(', ')}`;
  }

  drawing() {
    const { yields } = this;
    const width = Math.max(160, this.#size.get().width);
    if (yields.length === 0) return markup.svg`<text x="12" y="40">Nothing yet.</text>`;
    const x = scaleBand(
      yields.map(({ label }) => label),
      [edge.left, width - edge.right],
    ).padding(0.1);
    const most = Math.max(1, ...yields.map(({ kilograms }) => kilograms));
    const y = scaleLinear([0, most], [height - edge.bottom, edge.top]).nice();
    const at = ({ label }: Yield) => x(label)! + x.bandwidth() / 2;
    const shape = (draw: (yields: Yield[]) => string | null) => draw([...yields]) ?? '';
    const every = Math.ceil(yields.length / Math.max(1, Math.floor(width / 60)));
    return markup.svg`
      ${y.ticks(4).map(tick => markup.svg`<line class="grid" x1=${edge.left} x2=${width - edge.right} y1=${y(tick)} y2=${y(tick)}></line><text x=${edge.left - 6} y=${y(tick) + 4} text-anchor="end">${tick}</text>`)}
      <path class="area" d=${shape(area<Yield>(at, y(0), d => y(d.kilograms)).curve(curveMonotoneX))}></path>
      <path class="line" d=${shape(line<Yield>(at, d => y(d.kilograms)).curve(curveMonotoneX))}></path>
      ${yields.map((one, index) => markup.svg`<circle class="point" cx=${at(one)} cy=${y(one.kilograms)} r="2.5"></circle>${index % every === 0 && markup.svg`<text x=${at(one)} y=${height - 8} text-anchor="middle">${one.label}</text>`}`)}`;
  }
}

YieldChart.define();

declare global {
  interface HTMLElementTagNameMap {
    'yield-chart': YieldChart;
  }
}
