import { contract, markup } from 'eltrix';
import '../elements/season-calendar.ts';
import { texts } from '../texts.ts';
import { pageStyle } from './style.ts';

export class YearPage extends contract('year-page', { about: 'The keeper’s year.' }) {
  static styleSheets = [pageStyle];

  readonly #text = texts(this);

  view() {
    return markup`
      <h1>${() => this.#text('year-title')}</h1>
      <p class="lead">${() => this.#text('year-lead')}</p>
      <div class="panel"><season-calendar month="9"></season-calendar></div>`;
  }
}

YearPage.define();
