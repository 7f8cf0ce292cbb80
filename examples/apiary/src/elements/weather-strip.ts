import { contract, markup, stylesheet, text } from 'eltrix';
import { request, retry, shared, within } from 'eltrix/behaviours';

/** What the weather service says of a day. */
export interface Day {
  readonly day: string;
  readonly sky: 'sun' | 'cloud' | 'rain';
  /** Degrees Celsius. */
  readonly high: number;
}

const signs = { sun: '☀', cloud: '☁', rain: '☂' } as const;

/** The next days, asked from a service. */
export class WeatherStrip extends contract('weather-strip', {
  about: 'The weather of the next days, asked from a service.',
  attributes: {
    place: text({ about: 'Where.' }),
    service: text({ about: 'The address of the service; nothing is asked without one.' }),
  },
}) {
  static styleSheets = [
    stylesheet`
      :host { display: block; }
      :host([hidden]) { display: none; }
      .strip { display: flex; flex-wrap: wrap; gap: 8px 12px; align-items: center; min-height: 46px; padding: 10px 16px; border-radius: 12px; background: light-dark(#e8f0f2, #1e2a2e); }
      h2 { margin: 0; font-size: 0.95rem; font-weight: 650; }
      ul { display: flex; flex-wrap: wrap; gap: 4px 16px; margin: 0; padding: 0; list-style: none; font-size: 0.9rem; }
      li b { font-weight: 600; }
      .stale { opacity: 0.7; }
      .error { color: light-dark(#8c2a14, #f5b3a3); font-size: 0.9rem; }
      button { padding: 3px 12px; border: 1px solid currentColor; border-radius: 8px; background: transparent; color: inherit; font: inherit; cursor: pointer; }
      button:focus-visible { outline: 2px solid light-dark(#0a5a66, #7ccfdc); outline-offset: 2px; }
    `,
  ];

  readonly weather = request<readonly Day[]>(
    () => this.service && this.place && `${this.service}?${new URLSearchParams({ place: this.place })}`,
    { send: within(4000, shared), again: retry(1, { pause: 400 }) },
  );

  view() {
    const { weather } = this;
    return markup`
      <div class="strip">
        <h2>${() => this.place || 'Nowhere yet'}</h2>
        ${() => weather.value && markup`<ul aria-label="Forecast" class=${() => weather.error && 'stale'}>${weather.value.map(({ day, sky, high }) => markup`<li><b>${day}</b> <span role="img" aria-label=${sky}>${signs[sky]}</span> ${high}°</li>`)}</ul>`}
        <span role="status">${() => (weather.isPending && !weather.value ? 'Asking for the weather …' : '')}</span>
        ${() => weather.error && !weather.isPending && markup`<span class="error">The weather did not come.</span><button type="button" onclick=${() => weather.again()}>Ask again</button>`}
      </div>`;
  }
}

WeatherStrip.define();

declare global {
  interface HTMLElementTagNameMap {
    'weather-strip': WeatherStrip;
  }
}
