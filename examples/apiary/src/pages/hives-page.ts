import { contract, each, markup, signal, stylesheet } from 'eltrix';
import '../elements/hive-card.ts';
import '../elements/weather-strip.ts';
import { hives } from '../hives.ts';
import { texts } from '../texts.ts';
import { pageStyle } from './style.ts';

const services = [
  { mode: '', title: 'as usual' },
  { mode: 'slow', title: 'slow' },
  { mode: 'failing', title: 'failing' },
  { mode: 'offline', title: 'offline' },
];

export class HivesPage extends contract('hives-page', { about: 'All hives at a glance, and the weather.' }) {
  static styleSheets = [
    pageStyle,
    stylesheet`
      .weather { display: grid; gap: 8px; }
      .switch { display: flex; flex-wrap: wrap; gap: 6px 12px; align-items: center; font-size: 0.85rem; color: light-dark(#6b6454, #b3ab98); }
      .switch label { display: inline-flex; gap: 4px; align-items: center; }
      .badge { padding: 2px 10px; border-radius: 99px; background: #7a4a00; color: #fff6e0; font-size: 0.8rem; }
    `,
  ];

  readonly #text = texts(this);
  readonly #mode = signal('');

  view() {
    return markup`
      <h1>${() => this.#text('hives')}</h1>
      <p class="lead">${() => this.#text('hives-lead')}</p>
      <div class="weather">
        <weather-strip place="Thistlecombe" service=${() => `/weather${this.#mode.get() && `/${this.#mode.get()}`}`}></weather-strip>
        <div class="switch" role="radiogroup" aria-label="The weather service is">The weather service is ${services.map(
          ({ mode, title }) =>
            markup`<label><input type="radio" name="service" value=${mode} ${{
              checked: () => this.#mode.get() === mode,
              onchange: () => this.#mode.set(mode),
            }}>${title}</label>`,
        )}</div>
      </div>
      <section class="cards" aria-label="Hives">${each(
        () => hives,
        ({ name }) => name,
        (hive, index) => markup`
          <hive-card name=${() => hive().name} boxes=${() => hive().boxes} mood=${() => hive().mood} ${{ frames: () => hive().frames }}>
            ${() => index() === 0 && markup`<strong slot="badge" class="badge">prize hive</strong>`}
            <p>${() => hive().note}</p>
          </hive-card>`,
      )}</section>`;
  }
}

HivesPage.define();
