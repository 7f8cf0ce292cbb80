import { contract, markup } from 'eltrix';
import { texts } from '../texts.ts';
import { pageStyle } from './style.ts';

export class LostPage extends contract('lost-page', { about: 'For addresses that lead nowhere.' }) {
  static styleSheets = [pageStyle];

  readonly #text = texts(this);

  view() {
    return markup`<h1>${() => this.#text('lost-title')}</h1><p class="lead">${() => this.#text('lost-lead')} <a href="/">${() => this.#text('to-hives')}</a></p>`;
  }
}

LostPage.define();
